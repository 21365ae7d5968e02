'use client';
import type { ReactNode } from 'react';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import styled from 'styled-components';

interface TimeCurve {
  readonly id: string;
  readonly label: string;
  /** −1 to 1. */
  readonly values: Float64Array;
  readonly colour: string;
  readonly dash?: string;
}

interface TimeChartProps {
  readonly title: string;
  readonly timeMs: Float64Array;
  readonly curves: readonly TimeCurve[];
  /** What it shows, ms; −1 to 12 without it. */
  readonly span?: { readonly fromMs: number; readonly toMs: number; readonly ticks: number[] };
  /** Beside the title. */
  readonly aside?: ReactNode;
}

const usualSpan = { fromMs: -1, toMs: 12, ticks: [0, 2, 4, 6, 8, 10, 12] };

/** Curves over time in ms, each as a share of its highest value. */
export function TimeChart({ title, timeMs, curves, span = usualSpan, aside }: TimeChartProps) {
  const rows = Array.from(timeMs, (ms, i) => ({
    ms,
    ...Object.fromEntries(curves.map(({ id, values }) => [id, values[i]])),
  }));
  const tick = { fontSize: 10, fill: 'var(--quiet)' };
  const axis = { tickLine: false, tick, axisLine: { stroke: 'var(--rule)' } } as const;
  return (
    <Figure aria-label={title}>
      <figcaption>
        <h3>{title}</h3>
        {curves.map(({ id, label, colour }) => (
          <span key={id} style={{ color: colour }}>
            {label}
          </span>
        ))}
        {aside}
      </figcaption>
      <ResponsiveContainer width="100%" height={230}>
        <LineChart data={rows} margin={{ left: 0, right: 10, top: 6, bottom: 0 }}>
          <CartesianGrid stroke="var(--grid)" />
          <XAxis
            dataKey="ms"
            type="number"
            domain={[span.fromMs, span.toMs]}
            ticks={span.ticks}
            tickFormatter={(ms: number) => `${ms} ms`}
            {...axis}
          />
          <YAxis domain={[-1, 1]} ticks={[-1, -0.5, 0, 0.5, 1]} width={34} {...axis} />
          {curves.map(({ id, colour, dash }) => (
            <Line
              key={id}
              dataKey={id}
              dot={false}
              stroke={colour}
              {...(dash === undefined ? {} : { strokeDasharray: dash })}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </Figure>
  );
}

const Figure = styled.figure`
  min-width: 0;
  padding: 0.4rem 0.7rem 0.3rem;
  figcaption {
    display: flex;
    gap: 0.8rem;
    align-items: baseline;
    font-size: ${({ theme }) => theme.size.small};
    font-weight: 600;
  }
  h3 {
    flex: 1;
    font-size: 0.8125rem;
  }
`;
