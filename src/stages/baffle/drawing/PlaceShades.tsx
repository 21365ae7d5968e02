'use client';
import type { PlaceMap } from '@/core/layout/placeSearch';
import type { DrawingScale } from '@/ui/drawing/scale';

/** How good each place is for a driver: the darker, the less ripple. */
export function PlaceShades({
  map: { xsMm, ysMm, meritDb },
  scale,
}: {
  readonly map: PlaceMap;
  readonly scale: DrawingScale;
}) {
  const found = [...meritDb].filter(Number.isFinite);
  const [least, most] = [Math.min(...found), Math.max(...found)];
  const stepX = (xsMm.length > 1 ? xsMm[1] - xsMm[0] : 10) * scale.pxPerMm;
  const stepY = (ysMm.length > 1 ? ysMm[1] - ysMm[0] : 10) * scale.pxPerMm;
  return (
    <g aria-hidden pointerEvents="none">
      {ysMm.flatMap((yMm, row) =>
        xsMm.map((xMm, column) => {
          const merit = meritDb[row * xsMm.length + column];
          if (!Number.isFinite(merit)) return null;
          return (
            <rect
              key={`${row} ${column}`}
              x={scale.x(xMm) - stepX / 2}
              y={scale.y(yMm) - stepY / 2}
              width={stepX + 0.5}
              height={stepY + 0.5}
              fill="var(--accent)"
              fillOpacity={0.06 + 0.6 * (1 - (merit - least) / Math.max(1e-9, most - least)) ** 2}
            />
          );
        }),
      )}
    </g>
  );
}
