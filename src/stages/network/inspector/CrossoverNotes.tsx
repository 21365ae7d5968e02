'use client';
import type { WayId } from '@/core/fields';
import { useMemo } from 'react';
import {
  crossoverReports,
  ifReversed,
  type CrossoverReport,
} from '@/core/insight/crossoverReports';
import { meantDeg, quadratureOf, type Quadrature } from '@/core/document/meantPhase';
import type { Way } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { Quiet } from '@/ui/sheets';

/** How the chosen way hands over to its neighbours. */
export function CrossoverNotes({ way }: { readonly way: Way }) {
  const prediction = useDeskState((state) => state.prediction);
  const ways = useDeskState((state) => state.design.ways);
  const found = useMemo(() => (prediction ? crossoverReports(prediction) : []), [prediction]);
  const quadrature = useMemo(() => quadratureOf({ ways }), [ways]);
  const own = found.filter(({ lowerId, upperId }) => lowerId === way.id || upperId === way.id);
  const nameOf = (id: string) => ways.find((one) => one.id === id)?.name ?? '';
  return own.map((report) => (
    <Quiet key={report.atHz}>{told(report, way.id, nameOf, quadrature)}</Quiet>
  ));
}

function told(
  report: CrossoverReport,
  wayId: WayId,
  nameOf: (id: string) => string,
  quadrature: Quadrature,
): string {
  const { lowerId, upperId, atHz, phaseDeg, lowerSlopeDb, upperSlopeDb } = report;
  const isLower = lowerId === wayId;
  const slope = isLower ? lowerSlopeDb : upperSlopeDb;
  const isMeant = meantDeg(quadrature, lowerId, upperId) === 90;
  return [
    `${isLower ? 'Crosses over to' : 'Crosses over from'} ${nameOf(isLower ? upperId : lowerId)} at ${formatQuantity(Number(atHz.toPrecision(3)), 'hertz')}, ${formatFixed(Math.abs(phaseDeg), 0)}° apart${isMeant ? ' (its slopes mean 90°, flat either way round)' : ''};`,
    ifReversed(report),
    slope === null
      ? ''
      : `From an octave beyond it on, it ${isLower ? 'falls' : 'fades'} by ${formatFixed(Math.abs(slope), 0)} dB in an octave.`,
  ].join(' ');
}
