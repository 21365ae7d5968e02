'use client';
import Link from 'next/link';
import { firstBox } from '@/core/lows/candidates';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { PrimaryButton } from '@/ui/Button';
import { EmptyStage } from '@/ui/stageLook';
import { newId } from '@/ui/newId';

/** Without a box: one press draws the first, as large as Baffle or brief have it. */
export function NoBox() {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  return (
    <EmptyStage>
      <p>
        No box is drawn yet. Once one is, the low end of its drivers is worked out in it: level,
        excursion, air speed in the port and impedance follow every number, with the network as the
        drivers see it.
      </p>
      <PrimaryButton
        isDisabled={design.drivers.length === 0}
        onPress={() =>
          desk.change({ type: 'setBox', box: firstBox(design, newId('box')) }, 'draw a box')
        }
      >
        Draw a box
      </PrimaryButton>
      {design.drivers.length === 0 && (
        <p>
          Drivers come from the <Link href={`/p/${desk.projectId}/bench`}>Bench</Link>: measured, or
          from a data sheet.
        </p>
      )}
    </EmptyStage>
  );
}
