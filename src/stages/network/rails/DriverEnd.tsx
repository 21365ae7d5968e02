'use client';
import type { Way } from '@/core/document/schema';
import { useDeskState } from '@/desk/DeskContext';
import { driverStepPx } from './layout';
import { LoudspeakerSymbol } from './symbols';
import { Target } from './Target';

interface DriverEndProps {
  readonly way: Way;
  readonly isOpen: boolean;
  readonly x: number;
  readonly y: number;
  readonly colour: string;
}

const shortened = (text: string) => (text.length > 14 ? `${text.slice(0, 13)}…` : text);

/** What a rail ends in: its drivers, or an open end from which other rails go on. */
export function DriverEnd({ way, isOpen, x, y, colour }: DriverEndProps) {
  const drivers = useDeskState((state) => state.design.drivers);
  const original = useDeskState(
    (state) => state.design.ways.find(({ id }) => id === way.mirrorOf)?.name,
  );
  const isFaulty = useDeskState(
    (state) =>
      state.prediction?.findings.some(
        ({ severity, about, where }) =>
          severity === 'stops' && (about === way.id || where.split(', ').includes(way.name)),
      ) ?? false,
  );
  const ends = way.ends.map(({ driverId, polarity }) => ({
    name: drivers.find(({ id }) => id === driverId)?.name ?? '?',
    isReversed: polarity !== way.polarity,
  }));
  const told = ends.map(
    ({ name, isReversed }) => `${name}, ${isReversed ? 'reversed' : 'in phase'}`,
  );
  const label = isOpen
    ? `${way.name}: goes on`
    : `${way.name}: ${told.join(way.endsJoin === 'series' ? ', in series with ' : ', beside ') || 'no driver, in phase'}`;
  const lastY = y + Math.max(0, ends.length - 1) * driverStepPx;
  return (
    <Target
      selection={{ kind: 'way', id: way.id }}
      label={`${label}${original === undefined ? '' : `, mirrors ${original}`}${isFaulty ? ', at fault' : ''}`}
      box={{
        x: x - 14,
        y: y - 26,
        width: isOpen ? 100 : 146,
        height: lastY - y + (original === undefined ? 52 : 58),
      }}
    >
      <g style={{ color: ends.length > 0 ? colour : 'var(--quiet)' }}>
        {isOpen ? (
          <circle cx={x} cy={y} r="4" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.5" />
        ) : (
          (ends.length > 0 ? ends : [{ name: '', isReversed: false }]).map(
            ({ name, isReversed }, e) => (
              <g key={e}>
                <g transform={`translate(${x} ${y + e * driverStepPx})`}>
                  <LoudspeakerSymbol hasLead={e === 0 || way.endsJoin === 'parallel'} />
                </g>
                <text x={x - 12} y={y + e * driverStepPx - 6} fill="var(--ink)" fontSize="13">
                  {isReversed ? '−' : '+'}
                </text>
                <text x={x + 32} y={y + e * driverStepPx + 13} className="value">
                  {name === ''
                    ? 'no driver'
                    : ends.length > 1
                      ? shortened(name)
                      : isReversed
                        ? 'reversed'
                        : 'in phase'}
                </text>
              </g>
            ),
          )
        )}
        {ends.length > 1 && (
          <path
            d={
              way.endsJoin === 'parallel'
                ? `M${x - 12} ${y}V${lastY}`
                : ends
                    .slice(1)
                    .map((_, e) => `M${x + 4} ${y + e * driverStepPx + 9}v${driverStepPx - 18}`)
                    .join('')
            }
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
        )}
        <text
          x={isOpen ? x + 10 : x + 32}
          y={isOpen ? y + 4 : y - 2}
          fontWeight="650"
          fill="currentColor"
        >
          {shortened(way.name)}
        </text>
        {original !== undefined && !isFaulty && (
          <text x={x + 32} y={lastY + 28} className="value">
            mirrors {shortened(original)}
          </text>
        )}
        {isFaulty && (
          <text x={x + 32} y={lastY + 25} style={{ fill: 'var(--alarm)', fontSize: 10 }}>
            at fault
          </text>
        )}
      </g>
    </Target>
  );
}
