'use client';
import styled from 'styled-components';
import { planes, type AroundView, type OrbitMap } from '@/core/around/orbits';
import { formatQuantity } from '@/core/units/quantity';
import { curveStyle } from '@/ui/theme';
import type { AroundCursor } from './OrbitMapView';

interface PolarPlotProps {
  readonly view: AroundView;
  /** Place on the grid. */
  readonly at: number;
  readonly cursor: AroundCursor | null;
}

const size = 214;
const middle = size / 2;
const radius = 84;
/** Rings every 6 dB from the outermost inward, against the axis. */
const outermostDb = 6;
const ringDb = 6;
const rings = 6;

const lengthOf = (db: number) =>
  Math.max(0, (radius * (db - outermostDb + ringDb * rings)) / (ringDb * rings));
const point = (degrees: number, length: number): [number, number] => {
  const turn = ((degrees - 90) * Math.PI) / 180;
  return [middle + length * Math.cos(turn), middle + length * Math.sin(turn)];
};

/** Levels in both planes at one frequency, against the axis: horizontal full, vertical dashed. */
export function PolarPlot({ view, at, cursor }: PolarPlotProps) {
  const points = view.frequencyHz.length;
  const axisOf = ({ degrees, levelDb }: OrbitMap) => levelDb[degrees.indexOf(0) * points + at];
  const level = (orbit: OrbitMap, a: number) => orbit.levelDb[a * points + at] - axisOf(orbit);
  const path = (orbit: OrbitMap) =>
    orbit.degrees
      .map((degrees, a) => point(degrees, lengthOf(level(orbit, a))).map((px) => px.toFixed(1)))
      .map((xy, a) => `${a === 0 ? 'M' : 'L'}${xy.join(' ')}`)
      .join('') + 'Z';
  const orbit = cursor && view.orbits[cursor.plane];
  const place = orbit ? orbit.degrees.indexOf(cursor.degrees) : -1;
  const hz = formatQuantity(view.frequencyHz[at], 'hertz');
  return (
    <Figure aria-label={`Polar plot at ${hz}`}>
      <figcaption>
        <h3>{hz}</h3>
        <span>rings every {ringDb} dB</span>
      </figcaption>
      <svg viewBox={`0 0 ${size} ${size}`} role="img" aria-label={`Levels all around at ${hz}`}>
        {Array.from({ length: rings }, (_, k) => (
          <circle
            key={k}
            cx={middle}
            cy={middle}
            r={radius - (k * radius) / rings}
            fill="none"
            stroke={k === 1 ? 'var(--quiet)' : 'var(--grid)'}
          />
        ))}
        {[0, 30, 60, 90, 120, 150].map((degrees) => {
          const [a, b] = [point(degrees, radius), point(degrees + 180, radius)];
          return (
            <line key={degrees} x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} stroke="var(--grid)" />
          );
        })}
        {[0, 60, 120, 180, -120, -60].map((degrees) => {
          const [x, y] = point(degrees, radius + 11);
          return (
            <text key={degrees} x={x} y={y + 3} textAnchor="middle">
              {degrees}°
            </text>
          );
        })}
        {planes.map((plane, p) => (
          <path
            key={plane}
            d={path(view.orbits[plane])}
            fill={p === 0 ? 'var(--accent)' : 'none'}
            fillOpacity={0.12}
            stroke={p === 0 ? 'var(--accent)' : curveStyle(1).colour}
            strokeWidth={1.8}
            {...(p === 1 && { strokeDasharray: '5 3' })}
          />
        ))}
        {orbit && place >= 0 && (
          <circle
            cx={point(cursor.degrees, lengthOf(level(orbit, place)))[0]}
            cy={point(cursor.degrees, lengthOf(level(orbit, place)))[1]}
            r={4}
            fill="var(--curve-3)"
          />
        )}
      </svg>
      <Legend>
        <i data-plane="horizontal" /> horizontal <i data-plane="vertical" /> vertical
      </Legend>
    </Figure>
  );
}

const Figure = styled.figure`
  display: grid;
  justify-items: center;
  figcaption {
    display: flex;
    gap: 0.7rem;
    align-items: baseline;
    > span {
      font-size: 0.6875rem;
      color: ${({ theme }) => theme.colour.quiet};
    }
  }
  h3 {
    font-size: 0.875rem;
  }
  svg {
    width: 100%;
    max-width: 214px;
    text {
      font-size: 9px;
      fill: ${({ theme }) => theme.colour.quiet};
    }
  }
`;

const Legend = styled.span`
  display: inline-flex;
  align-items: center;
  gap: 0.4rem;
  font-size: 0.6875rem;
  color: ${({ theme }) => theme.colour.quiet};
  i {
    width: 1.4rem;
    border-top: 2px solid ${({ theme }) => theme.colour.accent};
    &[data-plane='vertical'] {
      border-top: 2px dashed ${curveStyle(1).colour};
      margin-left: 0.5rem;
    }
  }
`;
