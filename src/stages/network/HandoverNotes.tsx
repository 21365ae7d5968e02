'use client';
import { useMemo } from 'react';
import { handovers, type Handover } from '@/core/design/handovers';
import type { Way } from '@/core/design/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { Quiet } from '@/ui/sheets';

/** How the chosen way hands over to its neighbours. */
export function HandoverNotes({ way }: { readonly way: Way }) {
  const prediction = useDeskState((state) => state.prediction);
  const ways = useDeskState((state) => state.design.ways);
  const found = useMemo(() => (prediction ? handovers(prediction) : []), [prediction]);
  const own = found.filter(({ lowerId, upperId }) => lowerId === way.id || upperId === way.id);
  const nameOf = (id: string) => ways.find((one) => one.id === id)?.name ?? '';
  return own.map((handover) => <Quiet key={handover.atHz}>{told(handover, way.id, nameOf)}</Quiet>);
}

function told(
  { lowerId, upperId, atHz, phaseDeg, nullDb, lowerSlopeDb, upperSlopeDb }: Handover,
  wayId: string,
  nameOf: (id: string) => string,
): string {
  const isLower = lowerId === wayId;
  const slope = isLower ? lowerSlopeDb : upperSlopeDb;
  return [
    `${isLower ? 'Hands over to' : 'Takes over from'} ${nameOf(isLower ? upperId : lowerId)} at ${formatQuantity(Number(atHz.toPrecision(3)), 'hertz')}, ${formatFixed(Math.abs(phaseDeg), 0)}° apart;`,
    nullDb > 0
      ? `turned round the sum would dip by ${formatFixed(Math.min(60, nullDb), 0)} dB.`
      : 'turned round the sum would be louder there.',
    slope === null
      ? ''
      : `Beyond it, it ${isLower ? 'falls' : 'fades'} by ${formatFixed(Math.abs(slope), 0)} dB in an octave.`,
  ].join(' ');
}
