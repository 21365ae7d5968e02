'use client';
import { nearestIndex } from '@/core/grid/nearest';
import { memo } from 'react';
import styled from 'styled-components';
import { formatFixed } from '@/core/units/quantity';
import { shortHz, type Curve } from './curve';

/** Nominal octaves of IEC 61260. */
const octavesHz = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16_000];

interface CurveWordsProps {
  readonly frequencyHz: Float64Array;
  readonly curves: readonly Curve[];
  readonly unit: string;
  readonly rightUnit: string;
}

/** The curves in words, for whoever does not see the canvas: each by its values at the octaves. */
export const CurveWords = memo(function CurveWords({
  frequencyHz,
  curves,
  unit,
  rightUnit,
}: CurveWordsProps) {
  return (
    <Unseen>
      {curves.map((curve) => (
        <li key={curve.id} data-curve={curve.id}>
          {curve.label || curve.id}, {curve.axis === 'right' ? rightUnit : unit}:{' '}
          {octavesHz
            .flatMap((hz) => {
              const value = curve.values[nearestIndex(frequencyHz, hz)];
              return Number.isFinite(value) ? [`${formatFixed(value, 2)} at ${shortHz(hz)}`] : [];
            })
            .join(', ')}
        </li>
      ))}
    </Unseen>
  );
});

const Unseen = styled.ul`
  position: absolute;
  left: 0;
  top: 0;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
  white-space: nowrap;
  contain: strict;
`;
