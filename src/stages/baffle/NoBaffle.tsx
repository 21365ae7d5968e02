'use client';
import Link from 'next/link';
import { frameRadiusMm } from '@/core/layout/faults';
import { firstFront } from '@/core/layout/reshape';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { PrimaryButton } from '@/ui/Button';
import { EmptyStage } from '@/ui/stageLook';
import { newId } from '@/ui/newId';

/** Without a front: one press draws one as large as the brief allows. */
export function NoBaffle() {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const draw = () => {
    const { panel, places } = firstFront(design, newId('panel'), frameRadiusMm);
    const drawn = {
      ...design,
      panels: [panel],
      drivers: design.drivers.map((driver) => ({
        ...driver,
        position: { ...driver.position, ...places.get(driver.id) },
        mounting: { ...driver.mounting, panelId: panel.id },
      })),
    };
    desk.change({ type: 'replaceDesign', design: drawn }, 'draw a front');
  };
  return (
    <EmptyStage>
      <p>
        The front is not drawn yet. Once it is, edges, baffle step and spacing are worked out while
        you move drivers over it, and directions that were not measured are modelled.
      </p>
      <PrimaryButton onPress={draw}>Draw a front</PrimaryButton>
      {design.drivers.length === 0 && (
        <p>
          Drivers come from the <Link href={`/p/${desk.projectId}/bench`}>Bench</Link>: measured, or
          traced from a data sheet.
        </p>
      )}
    </EmptyStage>
  );
}
