'use client';
import { useMemo, useRef } from 'react';
import styled from 'styled-components';
import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { edgeDistances, edgeName } from '@/core/layout/edges';
import { frameRadiusMm } from '@/core/layout/faults';
import type { PlaceMap } from '@/core/layout/placeSearch';
import { withEdgeMoved } from '@/core/layout/reshape';
import type { EdgePiece } from '@/core/layout/view';
import { coneRadiusM } from '@/core/radiation/piston';
import { formatNumber } from '@/core/units/quantity';
import { runKey } from '@/desk/history';
import { newId } from '@/ui/newId';
import { useElementSize } from '@/ui/useElementSize';
import { isSame, type Chosen } from '@/stages/baffle/chosen';
import type { BaffleEdits } from '@/stages/baffle/useBaffleEdits';
import { Grip } from './Grip';
import { PlaceShades } from './PlaceShades';
import { fitted, snapped, type DrawingScale } from './scale';

interface FrontViewProps {
  readonly design: Design;
  readonly panel: Panel;
  readonly chosen: Chosen;
  readonly onChoose: (chosen: Chosen) => void;
  readonly edits: BaffleEdits;
  /** What each piece of edge does to the chosen driver at the cursor. */
  readonly acting: readonly EdgePiece[];
  readonly colourOf: (driver: Driver) => string;
  /** Drivers of which something is found. */
  readonly doubtful: ReadonlySet<string>;
  readonly map: PlaceMap | null;
}

const margin = { marginX: 78, marginY: 26 };
/** As near to a line as this a thing is drawn to it, pixels. */
const snapPx = 6;
/** How far from an edge it can be taken hold of, pixels. */
const grabPx = 6;
/** Amplitude per metre of edge that is drawn this wide. */
const widestPx = 11;
const fullPerMetre = 1.2;

const whole = (mm: number) => formatNumber(Number(mm.toFixed(1)));

/** The front to scale: drivers and edges are taken hold of here. */
export function FrontView({
  design,
  panel,
  chosen,
  onChoose,
  edits,
  acting,
  colourOf,
  doubtful,
  map,
}: FrontViewProps) {
  const [attach, size] = useElementSize<HTMLDivElement>();
  const bounds = boundsOf(panel.corners);
  const scale = useMemo(
    () => fitted(boundsOf(panel.corners), { ...size, ...margin }),
    [panel.corners, size],
  );
  const drag = useRef(newId('drag'));
  const released = () => (drag.current = newId('drag'));
  const own = design.drivers.filter(({ mounting }) => mounting.panelId === panel.id);
  const chosenDriver = own.find(({ id }) => chosen.kind === 'driver' && chosen.id === id);
  const middle = (bounds.leftMm + bounds.rightMm) / 2;
  const outline = panel.corners.map(({ xMm, yMm }) => `${scale.x(xMm)},${scale.y(yMm)}`).join(' ');
  return (
    <Frame ref={attach}>
      {size.widthPx > 0 && (
        <svg
          width={size.widthPx}
          height={size.heightPx}
          role="group"
          aria-label="Front of the baffle, to scale"
        >
          <polygon
            points={outline}
            fill="var(--raised)"
            stroke="none"
            onPointerDown={() => onChoose({ kind: 'front' })}
          />
          {map && <PlaceShades map={map} scale={scale} />}
          {panel.corners.map((_, e) => (
            <EdgeGrip
              key={e}
              {...{ panel, scale, edits, onChoose, released }}
              edge={e}
              isChosen={isSame(chosen, { kind: 'edge', index: e })}
              dragKey={() => runKey(drag.current)}
            />
          ))}
          <Acting pieces={acting} scale={scale} panel={panel} />
          <line
            x1={scale.x(middle)}
            x2={scale.x(middle)}
            y1={scale.y(bounds.topMm) - 6}
            y2={scale.y(bounds.bottomMm) + 6}
            stroke="var(--rule)"
            strokeDasharray="8 3 2 3"
          />
          <AxisMark scale={scale} />
          {panel.ports.map((port, p) => (
            <Grip
              key={`port-${p}`}
              label={`Port ${p + 1}, ${whole(port.xMm)} mm right, ${whole(port.yMm)} mm up`}
              isChosen={isSame(chosen, { kind: 'port', index: p })}
              onChoose={() => onChoose({ kind: 'port', index: p })}
              at={{ x: scale.x(port.xMm), y: scale.y(port.yMm) }}
              onNudge={(dx, dy) =>
                edits.setPanel(
                  withPort(panel, p, { xMm: port.xMm + dx, yMm: port.yMm + dy }),
                  'move a port',
                  `port ${p}`,
                )
              }
              onDrag={({ x, y }) =>
                edits.setPanel(
                  withPort(panel, p, {
                    xMm: snapped(scale.mmX(x), [middle], snapPx / scale.pxPerMm),
                    yMm: Math.round(scale.mmY(y)),
                  }),
                  'move a port',
                  runKey(drag.current),
                )
              }
              onRelease={released}
            >
              <circle
                cx={scale.x(port.xMm)}
                cy={scale.y(port.yMm)}
                r={(port.diameterMm / 2) * scale.pxPerMm}
                className="halo"
              />
              <circle
                cx={scale.x(port.xMm)}
                cy={scale.y(port.yMm)}
                r={(port.diameterMm / 2) * scale.pxPerMm}
                fill="var(--grid)"
                stroke="var(--ink)"
                strokeDasharray="3 2"
                pointerEvents="none"
              />
            </Grip>
          ))}
          {own.map((driver) => (
            <Grip
              key={driver.id}
              label={`${driver.name}, ${whole(driver.position.xMm)} mm right, ${whole(driver.position.yMm)} mm up${doubtful.has(driver.id) ? ', see its findings' : ''}`}
              isChosen={driver === chosenDriver}
              onChoose={() => onChoose({ kind: 'driver', id: driver.id })}
              at={{ x: scale.x(driver.position.xMm), y: scale.y(driver.position.yMm) }}
              onNudge={(dx, dy) =>
                edits.moveDriver(driver, {
                  xMm: Number((driver.position.xMm + dx).toFixed(2)),
                  yMm: Number((driver.position.yMm + dy).toFixed(2)),
                })
              }
              onDrag={({ x, y }, isFree) => {
                const others = own.filter((other) => other !== driver);
                const near = isFree ? 0 : snapPx / scale.pxPerMm;
                edits.moveDriver(
                  driver,
                  {
                    xMm: snapped(
                      scale.mmX(x),
                      [middle, 0, ...others.map(({ position }) => position.xMm)],
                      near,
                    ),
                    yMm: snapped(
                      scale.mmY(y),
                      others
                        .filter(({ position }) => Math.abs(position.xMm - driver.position.xMm) > 1)
                        .map(({ position }) => position.yMm),
                      near,
                    ),
                  },
                  runKey(drag.current),
                );
              }}
              onRelease={released}
            >
              <DriverOnFront
                driver={driver}
                scale={scale}
                colour={colourOf(driver)}
                isChosen={driver === chosenDriver}
                isDoubtful={doubtful.has(driver.id)}
                nameX={scale.x(bounds.leftMm) - 14}
              />
            </Grip>
          ))}
          {chosenDriver && (
            <EdgeDimensions
              driver={chosenDriver}
              panel={panel}
              scale={scale}
              colour={colourOf(chosenDriver)}
            />
          )}
          <text x={scale.x(middle)} y={scale.y(bounds.bottomMm) + 20} textAnchor="middle">
            {whole(bounds.widthMm)} × {whole(bounds.heightMm)} mm
          </text>
        </svg>
      )}
    </Frame>
  );
}

const withPort = (panel: Panel, index: number, set: Partial<Panel['ports'][number]>): Panel => ({
  ...panel,
  ports: panel.ports.map((port, p) => (p === index ? { ...port, ...set } : port)),
});

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
function EdgeGrip({
  panel,
  edge,
  scale,
  isChosen,
  onChoose,
  edits,
  dragKey,
  released,
}: EdgeGripProps) {
  const a = panel.corners[edge];
  const b = panel.corners[(edge + 1) % panel.corners.length];
  const name = edgeName(panel.corners, edge);
  const length = Math.hypot(b.xMm - a.xMm, b.yMm - a.yMm);
  const normal = { x: (b.yMm - a.yMm) / length, y: (a.xMm - b.xMm) / length };
  const middle = { xMm: (a.xMm + b.xMm) / 2, yMm: (a.yMm + b.yMm) / 2 };
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
  const move = (outwardMm: number, key: string) => {
    const step = Number(outwardMm.toFixed(1));
    if (step !== 0) edits.setPanel(withEdgeMoved(panel, edge, step), `move the ${name}`, key);
  };
  return (
    <Grip
      label={`${name}, ${treated}`}
      isChosen={isChosen}
      onChoose={() => onChoose({ kind: 'edge', index: edge })}
      at={{ x: scale.x(middle.xMm), y: scale.y(middle.yMm) }}
      onNudge={(dx, dy) => move(dx * normal.x + dy * normal.y, `edge ${edge}`)}
      onDrag={({ x, y }) => {
        const away =
          (scale.mmX(x) - middle.xMm) * normal.x + (scale.mmY(y) - middle.yMm) * normal.y;
        move(Math.round(away), dragKey());
      }}
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
function Acting({
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
        const a = panel.corners[edge];
        const b = panel.corners[(edge + 1) % panel.corners.length];
        const length = Math.hypot(b.xMm - a.xMm, b.yMm - a.yMm);
        const normal = { x: (b.yMm - a.yMm) / length, y: (a.xMm - b.xMm) / length };
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

/** Where the design axis goes through the front. */
function AxisMark({ scale }: { readonly scale: DrawingScale }) {
  const [x, y] = [scale.x(0), scale.y(0)];
  return (
    <g stroke="var(--accent)" strokeWidth="1.2" pointerEvents="none">
      <title>Design axis</title>
      <path d={`M${x - 6} ${y}H${x + 6}M${x} ${y - 6}V${y + 6}`} />
    </g>
  );
}

interface DriverOnFrontProps {
  readonly driver: Driver;
  readonly scale: DrawingScale;
  readonly colour: string;
  readonly isChosen: boolean;
  readonly isDoubtful: boolean;
  /** Right end of its name, left of the front. */
  readonly nameX: number;
}

function DriverOnFront({ driver, scale, colour, isChosen, isDoubtful, nameX }: DriverOnFrontProps) {
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
function EdgeDimensions({
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

const Frame = styled.div`
  position: relative;
  min-width: 0;
  min-height: 0;
  overflow: hidden;
  svg {
    position: absolute;
    inset: 0;
    font-size: 11.5px;
    user-select: none;
  }
  text:not([fill]) {
    fill: currentColor;
  }
  text {
    paint-order: stroke;
    stroke: ${({ theme }) => theme.colour.sheet};
    stroke-width: 3px;
    stroke-linejoin: round;
  }
`;
