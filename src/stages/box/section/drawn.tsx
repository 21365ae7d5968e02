'use client';
import { driversInBox } from '@/core/cabinet/driversInBox';
import { insideOf } from '@/core/cabinet/shell';
import { boundsOf } from '@/core/document/baffleSchema';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { whole, type DrawingScale } from '@/ui/drawing/scale';

export interface PartProps {
  readonly box: Box;
  readonly scale: DrawingScale;
}

/** Walls as they are cut. */
export function Walls({ box: { shell }, scale: { x, y, pxPerMm } }: PartProps) {
  const { heightMm, depthMm, wallMm, frontMm } = shell;
  const board = (left: number, bottom: number, width: number, height: number, key: string) => (
    <rect
      key={key}
      x={x(left)}
      y={y(bottom + height)}
      width={Math.max(0, width * pxPerMm)}
      height={Math.max(0, height * pxPerMm)}
      fill="var(--grid)"
      stroke="var(--ink)"
      strokeWidth="0.8"
    />
  );
  return (
    <g pointerEvents="none">
      <rect
        x={x(-depthMm)}
        y={y(heightMm)}
        width={depthMm * pxPerMm}
        height={heightMm * pxPerMm}
        fill="var(--raised)"
      />
      {board(-depthMm, 0, depthMm, wallMm, 'bottom')}
      {board(-depthMm, heightMm - wallMm, depthMm, wallMm, 'top')}
      {board(-depthMm, 0, wallMm, heightMm, 'rear')}
      {board(-frontMm, 0, frontMm, heightMm, 'front')}
    </g>
  );
}

const liningMm = 28;

/** Fibre: dots where it lies. */
export function Fibre({ box, scale: { x, y, pxPerMm } }: PartProps) {
  const { shell, fill } = box;
  if (fill === 'none') return null;
  const inside = insideOf(shell);
  const left = -shell.depthMm + shell.wallMm;
  const bottom = shell.wallMm;
  const stretches =
    fill === 'walls'
      ? [
          [left, bottom, liningMm, inside.heightMm],
          [left, bottom + inside.heightMm - liningMm, inside.depthMm, liningMm],
          [left, bottom, inside.depthMm, liningMm],
        ]
      : [[left, bottom, inside.depthMm * (fill === 'half' ? 0.5 : 1), inside.heightMm]];
  return (
    <g pointerEvents="none">
      <defs>
        <pattern id="fibre" width="7" height="7" patternUnits="userSpaceOnUse">
          <path d="M1 5q2-4 5-2" fill="none" stroke="var(--rule)" />
        </pattern>
      </defs>
      {stretches.map(([l, b, w, h]) => (
        <rect
          key={`${l} ${b} ${w}`}
          x={x(l)}
          y={y(b + h)}
          width={Math.max(0, w * pxPerMm)}
          height={Math.max(0, h * pxPerMm)}
          fill="url(#fibre)"
        />
      ))}
    </g>
  );
}

/** Cones where the Baffle has them; without one in the middle. */
export function Drivers({
  design,
  box,
  scale: { x, y, pxPerMm },
}: PartProps & { readonly design: Design }) {
  const { shell } = box;
  return (
    <g pointerEvents="none">
      {driversInBox(box, design.drivers).map(({ id, name, position, mounting, sheet }) => {
        const panel = design.panels.find((one) => one.id === mounting.panelId);
        const onPanelMm = panel ? position.yMm - boundsOf(panel.corners).bottomMm : -1;
        // A chamber behind a part of the front has its driver in the middle.
        const isOnFront = onPanelMm > 0 && onPanelMm < shell.heightMm;
        const upMm = isOnFront ? onPanelMm : shell.heightMm / 2;
        const coneMm = Math.sqrt(((sheet.sdCm2 ?? 100) * 100) / Math.PI);
        const deep = mounting.builtDepthMm ?? coneMm * 0.9;
        const [front, magnet] = [x(0), x(-deep)];
        const middle = y(upMm);
        const half = coneMm * pxPerMm;
        return (
          <g key={id}>
            <path
              d={`M${front} ${middle - half}L${x(-deep * 0.55)} ${middle - half * 0.32}V${middle + half * 0.32}L${front} ${middle + half}Z`}
              fill="var(--sheet)"
              stroke="var(--ink)"
              strokeWidth="1.2"
            />
            <rect
              x={magnet}
              y={middle - half * 0.5}
              width={x(-deep * 0.55) - magnet}
              height={half}
              fill="var(--grid)"
              stroke="var(--ink)"
              strokeWidth="1.2"
            />
            <text x={front + 8} y={middle + 4}>
              {name}
            </text>
          </g>
        );
      })}
    </g>
  );
}

export function Passive({ box, scale: { x, y, pxPerMm } }: PartProps) {
  const { shell, passive } = box;
  const half = Math.sqrt((passive.sdCm2 * 100) / Math.PI) * pxPerMm;
  return (
    <g pointerEvents="none">
      {Array.from({ length: passive.count }, (_, k) => {
        const middle = y((shell.heightMm * (k + 1)) / (passive.count + 1));
        return (
          <path
            key={k}
            d={`M${x(-shell.depthMm)} ${middle - half}l12 ${half * 0.6}v${half * 0.8}l-12 ${half * 0.6}`}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1.6"
          />
        );
      })}
    </g>
  );
}

/** A folded line is drawn as its length. */
export function Pipe({ box, scale: { x, y } }: PartProps) {
  const { shell, pipe } = box;
  const lengthMm = pipe.segments.reduce((sum, one) => sum + one.lengthMm, 0);
  return (
    <text
      x={x(-shell.depthMm / 2)}
      y={y(shell.heightMm / 2)}
      textAnchor="middle"
      pointerEvents="none"
    >
      line {whole(lengthMm)} mm, folded
    </text>
  );
}
