'use client';
import { useCallback, useState } from 'react';
import type { Failure, PartInsight } from '@/core/insight/insight';
import { driveOf, usualRating } from '@/core/document/programme';
import type { Part } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useWorkbenchAnswer, type Question } from '@/desk/useWorkbenchAnswer';
import { useDeskState } from '@/desk/DeskContext';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { Note, Quiet } from '@/ui/sheets';

/** How long the hand must rest before a part is looked into. */
/**
 * Heat from which on a part is hot to the touch, W: 2 W in one of 5 W already pass 100 °C (makers'
 * derating curves).
 */
const warmWatts = 1;

/** What the chosen part does, its stress, and what happens when it fails. */
export function InsightSheet({ part }: { readonly part: Part }) {
  const design = useDeskState((state) => state.design);
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const question = useCallback<Question<PartInsight | null>>(
    (workbench) => workbench.insight(design, part.id),
    [design, part.id],
  );
  const { value: insight, trouble } = useWorkbenchAnswer(question);
  if (trouble !== null) return <Note $kind="doubt">{trouble}</Note>;
  if (!insight) return null;
  const { frequencyHz, influenceDb, strongest, stress, open, shorted } = insight;
  const reach = [0.25, 0.5, 1, 2.5, 5, 10].find((db) => db >= Math.abs(strongest.db)) ?? 25;
  return (
    <>
      <FrequencyChart
        title="Influence of +10 %"
        frequencyHz={frequencyHz}
        curves={[
          { id: 'influence', label: '', values: influenceDb, colour: 'var(--accent)', width: 1.6 },
        ]}
        bottom={-reach}
        top={reach}
        unit="dB"
        cursorHz={cursorHz}
        onCursor={setCursorHz}
      />
      <Quiet>
        A tenth more moves the sum by {signed(strongest.db, 2)} dB at {at(strongest.atHz)}, where it
        acts most.
      </Quiet>
      {stress ? (
        <Note $kind={stress.watts > warmWatts ? 'doubt' : 'plain'}>
          With {driveOf(design.brief).words} ({formatFixed(stress.driveVolts, 1)} V rms):{' '}
          {formatFixed(stress.volts, 1)} V across it, {formatFixed(stress.amperes, 2)} A through it,{' '}
          {formatFixed(stress.watts, 1)} W of heat
          {part.kind === 'resistor' ? '' : ' in its resistance'}.
          {stress.watts > warmWatts && part.kind === 'resistor' && hotResistor(stress.watts)}
          {stress.watts > warmWatts &&
            part.kind !== 'resistor' &&
            ' It gets warm: leave it air, and keep damping away from it.'}
        </Note>
      ) : (
        <Quiet>Its heat is known once the Brief says the amplifier’s power.</Quiet>
      )}
      <Quiet>
        {open && `If it breaks: ${told(open)} `}
        {shorted && `If it shorts: ${told(shorted)}`}
      </Quiet>
    </>
  );
}

/** What to do about a resistor's heat: half of its rating is for its life, not for touching. */
const hotResistor = (watts: number): string =>
  ` Rated for ${usualRating(watts)} W or more it lives long; at half its rating its surface is still 100 to 150 °C over the air around it. Mount it clear of board, cable, damping and fingers, and let it cool before touching it: it burns skin.`;

const at = (hz: number) => formatQuantity(Number(hz.toPrecision(3)), 'hertz');
const signed = (db: number, decimals: number) => `${db > 0 ? '+' : ''}${formatFixed(db, decimals)}`;

const told = ({ meanDb, worst, lowestOhms }: Failure): string =>
  `${signed(meanDb, 1)} dB on average, ${signed(Math.max(-60, worst.db), 0)} dB at ${at(worst.atHz)}, load down to ${formatFixed(lowestOhms, 1)} Ω.`;
