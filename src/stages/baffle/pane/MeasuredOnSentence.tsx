'use client';
import { measuredHere, toldSources } from '@/core/layout/measuredHere';
import { boundsOf, type MeasuredOn, type Panel } from '@/core/document/baffleSchema';
import type { Driver } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import { ChoiceBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence } from '@/ui/sheets';

const kinds: readonly { readonly id: MeasuredOn['kind']; readonly text: string }[] = [
  { id: 'unknown', text: 'on a baffle that is not known' },
  { id: 'wall', text: 'in a large wall' },
  { id: 'near-field', text: 'in the near field' },
  { id: 'baffle', text: 'on a baffle' },
];

/** Which baffle a driver’s response holds already, and what is measured and what is modelled of it. */
export function MeasuredOnSentence({
  driver,
  panel,
}: {
  readonly driver: Driver;
  readonly panel: Panel;
}) {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const statement = design.measurements.find(({ id }) => id === driver.responseId);
  const set = (measuredOn: MeasuredOn) =>
    desk.change(
      {
        type: 'editMeasurements',
        // The orbit was measured where the response was.
        ids: [driver.responseId!, ...driver.offAxisIds],
        set: { measuredOn },
      },
      `baffle that ${driver.name} was measured on`,
    );
  const on = statement?.measuredOn;
  return (
    <>
      {on && (
        <Sentence>
          Its response was measured{' '}
          <ChoiceBlank
            label={`Baffle that ${driver.name} was measured on`}
            isAlwaysSaid
            options={kinds}
            value={on.kind}
            onChange={(kind) => {
              if (kind === null) return;
              set(kind === 'baffle' ? measuredHere(driver, panel) : { kind });
            }}
          />
          {on.kind === 'baffle' && (
            <>
              , {formatNumber(boundsOf(on.body.corners).widthMm)} mm wide, at {formatNumber(on.xMm)}
              , {formatNumber(on.yMm)} mm.{' '}
              <TextButton onPress={() => set(measuredHere(driver, panel))}>
                It was measured as it is now
              </TextButton>
            </>
          )}
        </Sentence>
      )}
      <div role="status" aria-label={`What is measured of ${driver.name}`}>
        {toldSources(design, driver).map((line) => (
          <Quiet key={line} as="p">
            {line}
          </Quiet>
        ))}
      </div>
    </>
  );
}
