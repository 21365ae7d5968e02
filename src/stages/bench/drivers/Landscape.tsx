'use client';
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import type { DepthOffset } from '@/core/measurement/depthOffset';

/**
 * How badly the sum is met for each offset tried: one deep valley is a sure answer, several are
 * not.
 */
export function Landscape({ found }: { readonly found: DepthOffset }) {
  const tick = { fontSize: 10, fill: 'var(--quiet)' };
  const axis = { tickLine: false, tick, axisLine: { stroke: 'var(--rule)' } } as const;
  return (
    <figure aria-label="Misfit over offset">
      <figcaption style={{ fontSize: '0.8125rem', fontWeight: 600 }}>
        Misfit over offset, dB rms
      </figcaption>
      <ResponsiveContainer width="100%" height={150}>
        <LineChart
          data={found.landscape.filter(
            ({ offsetMm }) => Math.abs(offsetMm - found.offsetMm) <= 200,
          )}
          margin={{ left: 0, right: 10, top: 6, bottom: 0 }}
        >
          <CartesianGrid stroke="var(--grid)" />
          <XAxis
            dataKey="offsetMm"
            type="number"
            domain={['dataMin', 'dataMax']}
            tickFormatter={(mm: number) => `${mm} mm`}
            {...axis}
          />
          <YAxis width={34} domain={[0, 'auto']} {...axis} />
          <ReferenceLine x={Math.round(found.offsetMm / 2) * 2} stroke="var(--accent)" />
          <Line dataKey="rmsDb" dot={false} stroke="var(--ink)" isAnimationActive={false} />
        </LineChart>
      </ResponsiveContainer>
    </figure>
  );
}
