'use client';
import type { WayId } from '@/core/fields';
import { useMemo } from 'react';
import { handovers, turnedRound, type Handover } from '@/core/insight/handovers';
import { meantDeg, quadratureOf, type Quadrature } from '@/core/document/meantPhase';
import type { Way } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { Quiet } from '@/ui/sheets';

/** How the chosen way hands over to its neighbours. */
export function HandoverNotes({ way }: { readonly way: Way }) {
  const prediction = useDeskState((state) => state.prediction);
  const ways = useDeskState((state) => state.design.ways);
  const found = useMemo(() => (prediction ? handovers(prediction) : []), [prediction]);
  const quadrature = useMemo(() => quadratureOf({ ways }), [ways]);
  const own = found.filter(({ lowerId, upperId }) => lowerId === way.id || upperId === way.id);
  const nameOf = (id: string) => ways.find((one) => one.id === id)?.name ?? '';
  return own.map((handover) => (
    <Quiet key={handover.atHz}>{told(handover, way.id, nameOf, quadrature)}</Quiet>
  ));
}

function told(
  handover: Handover,
  wayId: WayId,
  nameOf: (id: string) => string,
  quadrature: Quadrature,
): string {
  const { lowerId, upperId, atHz, phaseDeg, lowerSlopeDb, upperSlopeDb } = handover;
  const isLower = lowerId === wayId;
  const slope = isLower ? lowerSlopeDb : upperSlopeDb;
  const isMeant = meantDeg(quadrature, lowerId, upperId) === 90;
  return [
    `${isLower ? 'Hands over to' : 'Takes over from'} ${nameOf(isLower ? upperId : lowerId)} at ${formatQuantity(Number(atHz.toPrecision(3)), 'hertz')}, ${formatFixed(Math.abs(phaseDeg), 0)}° apart${isMeant ? ' (its slopes mean 90°, flat either way round)' : ''};`,
    turnedRound(handover),
    slope === null
      ? ''
      : `From an octave beyond it on, it ${isLower ? 'falls' : 'fades'} by ${formatFixed(Math.abs(slope), 0)} dB in an octave.`,
  ].join(' ');
}
