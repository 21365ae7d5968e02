'use client';
import { useRef } from 'react';
import { bodyDepthMm, boundsOf, type Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { frameRadiusMm } from '@/core/layout/faults';
import { earsAboveAxisMm } from '@/core/document/seats';
import type { SeatWindow } from '@/core/layout/waySpacing';
import { coneRadiusM } from '@/core/radiation/piston';
import { formatNumber, formatQuantity } from '@/core/units/quantity';
import { useDesk } from '@/desk/DeskContext';
import { runKey } from '@/desk/history';
import { newId } from '@/ui/newId';
import { useElementSize } from '@/ui/useElementSize';
import type { Chosen } from '@/stages/baffle/chosen';
import type { BaffleEdits } from '@/stages/baffle/useBaffleEdits';
import { DrawingFrame } from '@/ui/drawing/DrawingFrame';
import { Grip } from '@/ui/drawing/Grip';
import { fitted, whole } from '@/ui/drawing/scale';

interface SideViewProps {
  readonly design: Design;
  readonly panel: Panel;
  readonly chosen: Chosen;
  readonly onChoose: (chosen: Chosen) => void;
  readonly edits: BaffleEdits;
  readonly colourOf: (driver: Driver) => string;
  readonly window: SeatWindow | null;
}

const margin = { marginX: 18, marginY: 26 };
/** Between the front and the seat, pixels: the distance is not to scale. */
const roomPx = 120;
const seatFromRightPx = 46;

/** From the side: box and depths to scale, rays to the seat. */
export function SideView({
  design,
  panel,
  chosen,
  onChoose,
  edits,
  colourOf,
  window,
}: SideViewProps) {
  const desk = useDesk();
  const [attach, { widthPx, heightPx }] = useElementSize<HTMLDivElement>();
  const bounds = boundsOf(panel.corners);
  const depthMm = bodyDepthMm(panel);
  const scale = fitted(
    {
      leftMm: -Math.max(depthMm, panel.wingsMm) - panel.setBackMm,
      rightMm: 30,
      bottomMm: bounds.bottomMm,
      topMm: bounds.topMm,
    },
    { widthPx: Math.max(60, widthPx - roomPx - seatFromRightPx), heightPx, ...margin },
  );
  const drag = useRef(newId('drag'));
  const released = () => (drag.current = newId('drag'));
  const own = design.drivers.filter(({ mounting }) => mounting.panelId === panel.id);
  const ears = earsAboveAxisMm(design);
  const seat = { x: widthPx - seatFromRightPx, y: scale.y(ears) };
  const front = scale.x(-panel.setBackMm);
  const setEars = (upMm: number, key: string) => {
    const axis = design.axisHeightMm ?? 1000;
    const earHeightMm = Math.max(1, Math.round(axis + upMm));
    desk.change(
      { type: 'setHeights', set: { axisHeightMm: axis, earHeightMm } },
      'height of the ears',
      key,
    );
  };
  const setDistance = (byMm: number) =>
    desk.change(
      {
        type: 'setListeningDistance',
        distanceMm: Math.min(100_000, Math.max(100, design.listeningDistanceMm + byMm)),
      },
      'distance of the sum',
      'listening distance',
    );
  return (
    <DrawingFrame ref={attach}>
      {widthPx > 0 && (
        <svg
          width={widthPx}
          height={heightPx}
          role="group"
          aria-label="Side of the baffle, with rays to the seat"
        >
          <rect
            x={scale.x(-depthMm - panel.setBackMm)}
            y={scale.y(bounds.topMm)}
            width={depthMm * scale.pxPerMm}
            height={bounds.heightMm * scale.pxPerMm}
            fill="var(--raised)"
            stroke="var(--ink)"
            strokeWidth="1.5"
            onPointerDown={() => onChoose({ kind: 'front' })}
          />
          {panel.kind === 'open' && panel.wingsMm > 0 && (
            <rect
              x={front - panel.wingsMm * scale.pxPerMm}
              y={scale.y(bounds.topMm)}
              width={panel.wingsMm * scale.pxPerMm}
              height={bounds.heightMm * scale.pxPerMm}
              fill="none"
              stroke="var(--quiet)"
              strokeDasharray="5 3"
            />
          )}
          <rect
            x={front - panel.thicknessMm * scale.pxPerMm}
            y={scale.y(bounds.topMm)}
            width={panel.thicknessMm * scale.pxPerMm}
            height={bounds.heightMm * scale.pxPerMm}
            fill="var(--grid)"
            pointerEvents="none"
          />
          <line
            x1={scale.x(-depthMm - panel.setBackMm) + 4}
            x2={widthPx - 6}
            y1={scale.y(0)}
            y2={scale.y(0)}
            stroke="var(--accent)"
            strokeDasharray="10 4 2 4"
          />
          <text x={scale.x(-depthMm - panel.setBackMm) + 6} y={scale.y(0) - 5} fill="var(--accent)">
            design axis
          </text>
          {window && (
            <rect
              x={seat.x - 6}
              y={Math.max(2, scale.y(window.toMm))}
              width="12"
              height={Math.max(
                2,
                Math.min(heightPx - 2, scale.y(window.fromMm)) - Math.max(2, scale.y(window.toMm)),
              )}
              fill="var(--accent-wash)"
              stroke="var(--accent)"
              strokeOpacity="0.4"
            />
          )}
          {own.map((driver) => {
            const { xMm, yMm, zMm } = driver.position;
            const [x, y] = [scale.x(zMm), scale.y(yMm)];
            const frame = frameRadiusMm(driver) * scale.pxPerMm;
            const cone =
              driver.sheet.sdCm2 === null
                ? frame * 0.7
                : 1000 * coneRadiusM(driver.sheet.sdCm2) * scale.pxPerMm;
            const colour = colourOf(driver);
            const out = driver.mounting.kind === 'proud' ? driver.mounting.byMm : 0;
            const deep = driver.mounting.kind === 'recessed' || driver.mounting.kind === 'behind';
            const face = front + (out - (deep ? driver.mounting.byMm : 0)) * scale.pxPerMm;
            const built = (driver.mounting.builtDepthMm ?? 0) * scale.pxPerMm;
            return (
              <Grip
                key={driver.id}
                label={`${driver.name}, acoustic centre ${whole(Math.abs(zMm))} mm ${zMm < 0 ? 'behind' : 'before'} the plane of the front, ${whole(yMm)} mm up, ${whole(xMm)} mm right`}
                isChosen={chosen.kind === 'driver' && chosen.id === driver.id}
                onChoose={() => onChoose({ kind: 'driver', id: driver.id })}
                at={{ x, y }}
                onNudge={(byMm, upMm) => edits.nudgeDriver(driver, { zMm: byMm, yMm: upMm })}
                onDrag={(at) =>
                  edits.moveDriver(
                    driver,
                    { zMm: Math.round(scale.mmX(at.x)), yMm: Math.round(scale.mmY(at.y)) },
                    runKey(drag.current),
                  )
                }
                onRelease={released}
              >
                <line
                  x1={x}
                  y1={y}
                  x2={seat.x}
                  y2={seat.y}
                  stroke={colour}
                  strokeDasharray="7 4"
                  strokeOpacity="0.8"
                  pointerEvents="none"
                />
                {built > 0 && (
                  <path
                    d={`M${face} ${y - cone}L${face - built} ${y - cone * 0.45}V${y + cone * 0.45}L${face} ${y + cone}Z`}
                    fill={colour}
                    fillOpacity="0.14"
                  />
                )}
                <path
                  d={`M${face} ${y - cone}L${x} ${y}L${face} ${y + cone}`}
                  fill={colour}
                  fillOpacity="0.3"
                  stroke={colour}
                />
                <line
                  x1={face}
                  x2={face}
                  y1={y - frame}
                  y2={y + frame}
                  stroke={colour}
                  strokeWidth="2.5"
                />
                <circle cx={x} cy={y} r="9" className="halo" />
                <circle cx={x} cy={y} r="3" fill={colour} />
              </Grip>
            );
          })}
          <Grip
            label={`Seat, ${formatQuantity(design.listeningDistanceMm, 'distance')} away, ears ${whole(Math.abs(ears))} mm ${ears < 0 ? 'below' : 'above'} the design axis`}
            isChosen={chosen.kind === 'seat'}
            onChoose={() => onChoose({ kind: 'seat' })}
            at={seat}
            onNudge={(along, up) =>
              along === 0 ? setEars(ears + up, 'ears') : setDistance(10 * along)
            }
            onDrag={({ y }) => setEars(scale.mmY(y), runKey(drag.current))}
            onRelease={released}
          >
            <circle cx={seat.x} cy={seat.y} r="13" className="halo" />
            <path
              d={`M${seat.x - 7} ${seat.y}a8 8 0 1 1 8 8`}
              fill="none"
              stroke="var(--accent)"
              strokeWidth="2.5"
            />
            <circle cx={seat.x} cy={seat.y} r="3.5" fill="var(--accent)" />
          </Grip>
          <text x={widthPx - 8} y={Math.max(14, seat.y - 20)} textAnchor="end">
            {design.earHeightMm === null
              ? 'ears on the axis'
              : `ears ${whole(design.earHeightMm)} mm`}
            , {formatQuantity(design.listeningDistanceMm, 'distance')}
          </text>
          {window && (
            <text
              x={widthPx - 8}
              y={Math.min(heightPx - 8, scale.y(window.fromMm) + 16)}
              textAnchor="end"
              fill="var(--accent)"
            >
              within 1 dB {windowWords(design, window)}
            </text>
          )}
          {design.axisHeightMm !== null && scale.y(-design.axisHeightMm) < heightPx && (
            <line
              x1="0"
              x2={widthPx}
              y1={scale.y(-design.axisHeightMm)}
              y2={scale.y(-design.axisHeightMm)}
              stroke="var(--quiet)"
              strokeWidth="2"
            />
          )}
          <text
            x={scale.x(-depthMm / 2 - panel.setBackMm)}
            y={scale.y(bounds.bottomMm) + 20}
            textAnchor="middle"
          >
            {whole(depthMm)} mm deep
          </text>
        </svg>
      )}
    </DrawingFrame>
  );
}

/** Heights above the floor where these are known, else against the axis. */
function windowWords({ axisHeightMm }: Design, { fromMm, toMm }: SeatWindow): string {
  const base = axisHeightMm ?? 0;
  const height = (mm: number) => formatNumber(Math.round(mm + base));
  return `from ${height(fromMm)} to ${height(toMm)} mm${axisHeightMm === null ? ' of the axis' : ''}`;
}
