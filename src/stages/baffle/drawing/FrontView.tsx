'use client';
import { useMemo, useRef } from 'react';
import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import type { PlaceMap } from '@/core/layout/placeSearch';
import { withPort } from '@/core/layout/reshape';
import type { EdgePiece } from '@/core/layout/view';
import { runKey } from '@/desk/history';
import { newId } from '@/ui/newId';
import { useElementSize } from '@/ui/useElementSize';
import { isSame, type Chosen } from '@/stages/baffle/chosen';
import type { BaffleEdits } from '@/stages/baffle/useBaffleEdits';
import { DrawingFrame } from '@/ui/drawing/DrawingFrame';
import { DriverOnFront, EdgeDimensions } from './DriverOnFront';
import { Acting, EdgeGrip } from './Edges';
import { Grip } from '@/ui/drawing/Grip';
import { PlaceShades } from './PlaceShades';
import { fitted, snapped, whole, type DrawingScale } from '@/ui/drawing/scale';

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
    <DrawingFrame ref={attach}>
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
                edits.reshape(
                  panel,
                  (now) => {
                    const { xMm, yMm } = now.ports[p];
                    return withPort(now, p, { xMm: xMm + dx, yMm: yMm + dy });
                  },
                  'move a port',
                  `port ${p}`,
                )
              }
              onDrag={({ x, y }) =>
                edits.reshape(
                  panel,
                  (now) =>
                    withPort(now, p, {
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
              onNudge={(xMm, yMm) => edits.nudgeDriver(driver, { xMm, yMm })}
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
    </DrawingFrame>
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
