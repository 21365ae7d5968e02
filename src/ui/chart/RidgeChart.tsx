'use client';
import { useId } from 'react';
import styled from 'styled-components';
import { useElementWidth } from '../useElementSize';
import { frequencyTicks, shortHz } from './curve';

interface Ridge {
  readonly label: string;
  readonly values: Float64Array;
}

interface RidgeChartProps {
  readonly title: string;
  readonly frequencyHz: Float64Array;
  /** The rearmost first; each hides what lies behind it. */
  readonly ridges: readonly Ridge[];
  /** Depth of what is shown under 0 dB. */
  readonly rangeDb: number;
}

const margin = { left: 34, right: 52, top: 10, bottom: 20 };
const narrowest = { fromHz: 200, toHz: 20_000 };
const stepPx = 13;
const ridgeShare = 0.55;

/** Curves behind one another like hills: what is left of a sound as time goes on, coming nearer. */
export function RidgeChart({ title, frequencyHz, ridges, rangeDb }: RidgeChartProps) {
  const id = useId();
  const [frame, widthPx] = useElementWidth<HTMLElement>();
  const width = Math.max(160, Math.min(520, widthPx));
  const plotWidth = width - margin.left - margin.right;
  const hill = plotWidth * ridgeShare;
  const height = margin.top + hill + stepPx * (ridges.length - 1) + margin.bottom;
  const x = (hz: number) =>
    margin.left +
    (plotWidth * Math.log(hz / narrowest.fromHz)) / Math.log(narrowest.toHz / narrowest.fromHz);
  const base = (k: number) => margin.top + hill + stepPx * k;
  const y = (k: number, db: number) => base(k) - hill * Math.max(0, 1 + db / rangeDb);
  const floor = base(ridges.length - 1);
  return (
    <Figure ref={frame} aria-labelledby={id}>
      <figcaption id={id}>
        {title}, {rangeDb} dB high
      </figcaption>
      <svg width={width} height={height} role="img" aria-labelledby={id}>
        {frequencyTicks(narrowest.fromHz, narrowest.toHz).map((hz) => (
          <g key={hz}>
            <line x1={x(hz)} x2={x(hz)} y1={base(0)} y2={floor} stroke="var(--grid)" />
            <text x={x(hz)} y={floor + 14} textAnchor="middle">
              {shortHz(hz)}
            </text>
          </g>
        ))}
        {ridges.map(({ label, values }, k) => {
          const line = Array.from(
            values,
            (db, i) => `${x(frequencyHz[i]).toFixed(1)} ${y(k, db).toFixed(1)}`,
          ).join('L');
          const [first, last] = [x(frequencyHz[0]), x(frequencyHz[frequencyHz.length - 1])];
          const share = Math.round((100 * k) / Math.max(1, ridges.length - 1));
          return (
            <g key={label} data-ridge={label}>
              <path
                d={`M${first.toFixed(1)} ${base(k)}L${line}L${last.toFixed(1)} ${base(k)}Z`}
                fill="var(--paper)"
                stroke={`color-mix(in oklab, var(--accent) ${share}%, var(--ink))`}
                strokeLinejoin="round"
              />
              {k % 3 === 0 && (
                <text x={last + 5} y={base(k) + 3}>
                  {label}
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </Figure>
  );
}

const Figure = styled.figure`
  min-width: 0;
  padding: 0.4rem 0.7rem 0.3rem;
  figcaption {
    font-size: 0.8125rem;
    font-weight: 600;
  }
  text {
    font-size: 10px;
    fill: ${({ theme }) => theme.colour.quiet};
  }
`;
