'use client';
import type { Panel } from '@/core/document/baffleSchema';
import type { Driver } from '@/core/document/schema';
import { edgeDistances } from '@/core/layout/edges';
import { frameRadiusMm } from '@/core/layout/faults';
import { coneRadiusM } from '@/core/radiation/piston';
import { whole, type DrawingScale } from '@/ui/drawing/scale';

interface DriverOnFrontProps {
  readonly driver: Driver;
  readonly scale: DrawingScale;
  readonly colour: string;
  readonly isChosen: boolean;
  readonly isDoubtful: boolean;
  /** Right end of its name, left of the front. */
  readonly nameX: number;
}

export function DriverOnFront({
  driver,
  scale,
  colour,
  isChosen,
  isDoubtful,
  nameX,
}: DriverOnFrontProps) {
  const [x, y] = [scale.x(driver.position.xMm), scale.y(driver.position.yMm)];
  const frame = Math.max(5, frameRadiusMm(driver) * scale.pxPerMm);
  const { sdCm2 } = driver.sheet;
  const cone = sdCm2 === null ? 0 : 1000 * coneRadiusM(sdCm2) * scale.pxPerMm;
  return (
    <>
      <circle cx={x} cy={y} r={frame + 4} className="halo" />
      <circle
        cx={x}
        cy={y}
        r={frame}
        fill="var(--sheet)"
        fillOpacity="0.85"
        stroke={colour}
        strokeWidth={isChosen ? 2.5 : 1.5}
        strokeDasharray={driver.mounting.kind === 'behind' ? '4 3' : undefined}
      />
      <circle cx={x} cy={y} r={cone} fill={colour} fillOpacity="0.16" />
      <circle cx={x} cy={y} r="2" fill={colour} />
      <text x={nameX} y={y + 4} textAnchor="end" fill={colour} fontWeight="600">
        {isDoubtful ? '▸ ' : ''}
        {driver.name}
      </text>
    </>
  );
}

/** From the chosen driver to the nearest edges. */
export function EdgeDimensions({
  driver,
  panel,
  scale,
  colour,
}: {
  readonly driver: Driver;
  readonly panel: Panel;
  readonly scale: DrawingScale;
  readonly colour: string;
}) {
  const nearest = edgeDistances(panel.corners, driver.position)
    .sort((a, b) => a.mm - b.mm)
    .slice(0, 3);
  const [x, y] = [scale.x(driver.position.xMm), scale.y(driver.position.yMm)];
  return (
    <g pointerEvents="none">
      {nearest.map(({ edge, mm, nearest: at }) => {
        const [ex, ey] = [scale.x(at.xMm), scale.y(at.yMm)];
        const isLevel = Math.abs(ex - x) > Math.abs(ey - y);
        const frame = frameRadiusMm(driver) * scale.pxPerMm;
        const away = Math.hypot(ex - x, ey - y) || 1;
        // In the middle of what is left between frame and edge.
        const share = (Math.min(frame, away) / away + 1) / 2;
        return (
          <g key={edge}>
            <line x1={x} y1={y} x2={ex} y2={ey} stroke={colour} strokeDasharray="3 3" />
            <text
              x={x + share * (ex - x) + (isLevel ? 0 : 5)}
              y={y + share * (ey - y) + (isLevel ? -4 : 4)}
              textAnchor={isLevel ? 'middle' : 'start'}
              fill={colour}
              className="figure"
            >
              {whole(mm)}
            </text>
          </g>
        );
      })}
    </g>
  );
}
