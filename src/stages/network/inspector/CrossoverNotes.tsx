'use client';
import type { WayId } from '@/core/fields';
import { useMemo } from 'react';
import {
  crossoverReports,
  ifReversed,
  type CrossoverReport,
} from '@/core/insight/crossoverReports';
import { meantDeg, quadratureOf, type Quadrature } from '@/core/document/meantPhase';
import { waySpacing } from '@/core/layout/waySpacing';
import type { Design, Way } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { Quiet } from '@/ui/sheets';

/** How the chosen way hands over to its neighbours. */
export function CrossoverNotes({ way }: { readonly way: Way }) {
  const prediction = useDeskState((state) => state.prediction);
  const design = useDeskState((state) => state.design);
  const { ways } = design;
  const found = useMemo(() => (prediction ? crossoverReports(prediction) : []), [prediction]);
  const quadrature = useMemo(() => quadratureOf({ ways }), [ways]);
  const own = found.filter(({ lowerId, upperId }) => lowerId === way.id || upperId === way.id);
  const nameOf = (id: string) => ways.find((one) => one.id === id)?.name ?? '';
  return own.map((report) => (
    <Quiet key={report.atHz}>
      {told(report, way.id, nameOf, quadrature)} {spacingTold(design, report)}
    </Quiet>
  ));
}

/** What the distance of the two drivers does above and below the axis. */
function spacingTold(design: Design, report: CrossoverReport): string {
  const spacing = waySpacing(design, report);
  if (!spacing) return '';
  const { apartM, waves, nullsDeg, window } = spacing.vertical;
  const [below, above] = nullsDeg.map((deg) => deg !== null && formatFixed(Math.abs(deg), 0));
  const nulls = [below && `${below}° below`, above && `${above}° above`].filter(Boolean);
  const mm = (metres: number) => formatQuantity(Math.round(1000 * Math.abs(metres)), 'millimetre');
  return [
    `Centre to centre ${mm(apartM)}, ${formatFixed(waves, 2)} wavelengths${nulls.length > 0 ? `: they cancel first ${nulls.join(' and ')} the axis` : ': they cancel nowhere in front'}.`,
    window &&
      `At ${formatQuantity(design.listeningDistanceMm, 'distance')} they lose at most 1 dB from ${mm(window.fromM)} below to ${mm(window.toM)} above it.`,
  ]
    .filter((sentence) => typeof sentence === 'string')
    .join(' ');
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
