'use client';
import type { Panel } from '@/core/document/baffleSchema';
import { edgeLine, edgeName, type EdgeLine } from '@/core/layout/edges';
import { withEdgeMoved } from '@/core/layout/reshape';
import type { EdgePiece } from '@/core/layout/view';
import type { Chosen } from '@/stages/baffle/chosen';
import type { BaffleEdits } from '@/stages/baffle/useBaffleEdits';
import { Grip } from '@/ui/drawing/Grip';
import { whole, type DrawingScale } from '@/ui/drawing/scale';

/** How far from an edge it can be taken hold of, pixels. */
const grabPx = 6;
/** Amplitude per metre of edge that is drawn this wide. */
const widestPx = 11;
const fullPerMetre = 1.2;

interface EdgeGripProps {
  readonly panel: Panel;
  readonly edge: number;
  readonly scale: DrawingScale;
  readonly isChosen: boolean;
  readonly onChoose: (chosen: Chosen) => void;
  readonly edits: BaffleEdits;
  readonly dragKey: () => string;
  readonly released: () => void;
}

/** An edge of the front: moved along its normal. */
export function EdgeGrip({
  panel,
  edge,
  scale,
  isChosen,
  onChoose,
  edits,
  dragKey,
  released,
}: EdgeGripProps) {
  const name = edgeName(panel.corners, edge);
  const { a, b, normal, middle } = edgeLine(panel.corners, edge);
  const line = {
    x1: scale.x(a.xMm),
    y1: scale.y(a.yMm),
    x2: scale.x(b.xMm),
    y2: scale.y(b.yMm),
  };
  /** Wide enough to be taken hold of. */
  const band = [
    [line.x1, line.y1, grabPx],
    [line.x2, line.y2, grabPx],
    [line.x2, line.y2, -grabPx],
    [line.x1, line.y1, -grabPx],
  ]
    .map(([x, y, off]) => `${x + off * normal.x},${y - off * normal.y}`)
    .join(' ');
  const treated = a.edge.kind === 'sharp' ? 'sharp' : `${a.edge.kind} ${whole(a.edge.sizeMm)} mm`;
  /** By so much along the normal, which may depend on where the edge is by now. */
  const move = (outwardMm: (now: EdgeLine) => number, key: string) =>
    edits.reshape(
      panel,
      (now) => {
        const step = Number(outwardMm(edgeLine(now.corners, edge)).toFixed(1));
        return step === 0 ? now : withEdgeMoved(now, edge, step);
      },
      `move the ${name}`,
      key,
    );
  return (
    <Grip
      label={`${name}, ${treated}`}
      isChosen={isChosen}
      onChoose={() => onChoose({ kind: 'edge', index: edge })}
      at={{ x: scale.x(middle.xMm), y: scale.y(middle.yMm) }}
      onNudge={(dx, dy) => move((now) => dx * now.normal.x + dy * now.normal.y, `edge ${edge}`)}
      onDrag={({ x, y }) =>
        move(
          (now) =>
            Math.round(
              (scale.mmX(x) - now.middle.xMm) * now.normal.x +
                (scale.mmY(y) - now.middle.yMm) * now.normal.y,
            ),
          dragKey(),
        )
      }
      onRelease={released}
    >
      <polygon points={band} className="halo" />
      <line
        {...line}
        stroke={isChosen ? 'var(--accent)' : 'var(--ink)'}
        strokeWidth={isChosen ? 3.5 : a.edge.kind === 'sharp' ? 1.5 : 2.5}
        strokeDasharray={a.edge.kind === 'chamfer' ? '10 3' : undefined}
        strokeLinecap="round"
      />
      {isChosen && (
        <text
          x={(line.x1 + line.x2) / 2 + normal.x * 16}
          y={(line.y1 + line.y2) / 2 - normal.y * 14 + 4}
          textAnchor={normal.x > 0.3 ? 'start' : normal.x < -0.3 ? 'end' : 'middle'}
          fill="var(--accent)"
        >
          {treated}
        </text>
      )}
    </Grip>
  );
}

/**
 * Pieces of edges drawn as strongly as they act: outside of the front where they add, inside where
 * they take away.
 */
export function Acting({
  pieces,
  scale,
  panel,
}: {
  readonly pieces: readonly EdgePiece[];
  readonly scale: DrawingScale;
  readonly panel: Panel;
}) {
  return (
    <g aria-hidden pointerEvents="none">
      {pieces.map(({ edge, from, to, perMetre, inPhase }, k) => {
        const { normal } = edgeLine(panel.corners, edge);
        const width = Math.min(widestPx, (widestPx * Math.abs(inPhase)) / fullPerMetre);
        const off = (inPhase > 0 ? 1 : -1) * (width / 2 + 2);
        return (
          <line
            key={k}
            x1={scale.x(from.xMm) + off * normal.x}
            y1={scale.y(from.yMm) - off * normal.y}
            x2={scale.x(to.xMm) + off * normal.x}
            y2={scale.y(to.yMm) - off * normal.y}
            stroke={inPhase > 0 ? 'var(--curve-5)' : 'var(--curve-4)'}
            strokeOpacity={0.35 + 0.65 * Math.min(1, Math.abs(inPhase) / Math.max(1e-9, perMetre))}
            strokeWidth={width}
          />
        );
      })}
    </g>
  );
}
