'use client';
import { useMemo } from 'react';
import styled from 'styled-components';
import { nodeInWords } from '@/core/document/places';
import { joinedWords } from '@/core/document/positions';
import type { Design } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
import { shownOf } from '@/desk/deskState';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { curveStyle } from '@/ui/theme';
import { useElementWidth } from '@/ui/useElementSize';
import { DriverEnd } from './DriverEnd';
import { GapMenu } from './GapMenu';
import { layOutRails, nameAt, type Bus, type PlacedBridge, type RailRow } from './layout';
import { PartOnRail } from './PartOnRail';
import { Choosable } from './Target';

/** Width from which on the drawing grows, and how far. */
const plainRoomPx = 1050;
const widestZoom = 1.35;

/** What the amplifiers and their cables put before the terminals: "amplifiers 0.05 Ω". */
function sourceWords({ amplifier, terminals, isJoined }: Design): string {
  const heard = isJoined ? terminals.slice(0, 1) : terminals;
  const ohms = heard.map(({ outputOhms = amplifier.outputOhms }) =>
    formatNumber(outputOhms + amplifier.cableOhms),
  );
  const isOne = new Set(ohms).size === 1;
  const told = isOne ? ohms[0] : heard.map(({ name }, k) => `${name} ${ohms[k]}`).join(' Ω, ');
  return `${heard.length === 1 ? 'amplifier' : 'amplifiers'} ${told} Ω${isJoined && terminals.length > 1 ? ', pairs joined' : ''}`;
}

/** The rails from the amplifiers to the drivers, on squared paper. */
export function RailDrawing() {
  const [frame, roomPx] = useElementWidth<HTMLDivElement>();
  const ways = useDeskState((state) => shownOf(state).design.ways);
  const bridges = useDeskState((state) => shownOf(state).design.bridges);
  const terminals = useDeskState((state) => shownOf(state).design.terminals);
  const isJoined = useDeskState((state) => shownOf(state).design.isJoined);
  const source = useDeskState((state) => sourceWords(shownOf(state).design));
  const design = useMemo(
    () => ({ ways, bridges, terminals, isJoined }),
    [ways, bridges, terminals, isJoined],
  );
  // On a wide screen all of it is larger.
  const zoom = Math.min(widestZoom, Math.max(1, roomPx / plainRoomPx));
  const layout = useMemo(() => layOutRails(design, roomPx / zoom), [design, roomPx, zoom]);
  const { rows, buses, cellPx } = layout;
  return (
    <Paper ref={frame}>
      {roomPx > 0 && rows.length > 0 && (
        <div style={{ position: 'relative', width: layout.widthPx, height: layout.heightPx, zoom }}>
          <svg
            width={layout.widthPx}
            height={layout.heightPx}
            role="group"
            aria-label="Network"
            data-rails=""
          >
            {buses.map((bus) => (
              <BusLine key={bus.pair.id} bus={bus} isOnly={terminals.length === 1} />
            ))}
            {isJoined &&
              buses
                .slice(1)
                .map((bus, b) => (
                  <path
                    key={bus.pair.id}
                    d={`M${bus.x} ${buses[b].bottomY}V${bus.topY}`}
                    stroke="var(--accent)"
                    strokeWidth="2"
                    strokeDasharray="5 3"
                  />
                ))}
            <text x={buses[0].x - 26} y={layout.heightPx - 6} fontSize="11" fill="var(--quiet)">
              {source}
            </text>
            {rows.map((row) => (
              <Rail key={row.way.id} row={row} cellPx={cellPx} />
            ))}
            {layout.bridges.map((placed) => (
              <BridgeLine
                key={placed.part.id}
                placed={placed}
                where={bridgeInWords(design, placed)}
                cellPx={cellPx}
              />
            ))}
          </svg>
          {rows.flatMap(({ way, gaps, railY }) =>
            gaps.map(({ index, x }) => (
              <GapMenu
                key={`${way.id} ${index}`}
                wayId={way.id}
                wayName={way.name}
                index={index}
                before={nameAt(way, index)}
                left={x}
                top={railY}
              />
            )),
          )}
        </div>
      )}
    </Paper>
  );
}

const bridgeInWords = (design: Pick<Design, 'ways' | 'terminals'>, { bridge }: PlacedBridge) =>
  `from ${nodeInWords(design, bridge.a)} to ${nodeInWords(design, bridge.b)}`;

/** The line from a pair of terminals; choosing it shows the amplifier. */
function BusLine({ bus: { pair, x, topY, bottomY }, isOnly }: BusLineProps) {
  const desk = useDesk();
  const choose = () => desk.select(null);
  return (
    <Choosable
      role="button"
      tabIndex={0}
      aria-label={isOnly ? 'Amplifier and terminals' : `Amplifier and terminals: ${pair.name}`}
      data-target={`pair ${pair.id}`}
      onClick={choose}
      onFocus={choose}
    >
      <rect
        x={x - 12}
        y={topY - 8}
        width="20"
        height={bottomY - topY + 16}
        rx="3"
        className="box"
      />
      <path d={`M${x} ${topY}V${bottomY}`} stroke="var(--ink)" strokeWidth="2" />
      <circle cx={x} cy={(topY + bottomY) / 2} r="4" fill="var(--ink)" />
      {!isOnly && (
        <text x={4} y={topY - 12} fontWeight="650">
          {pair.name.length > 12 ? `${pair.name.slice(0, 11)}…` : pair.name}
          {pair.polarity === 'reversed' ? ', reversed' : ''}
        </text>
      )}
    </Choosable>
  );
}

interface BusLineProps {
  readonly bus: Bus;
  readonly isOnly: boolean;
}

function BridgeLine({
  placed: { part, x, y, wires, dots },
  where,
  cellPx,
}: {
  readonly placed: PlacedBridge;
  readonly where: string;
  readonly cellPx: number;
}) {
  return (
    <g>
      <path d={wires} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      {dots.map((dot, i) => (
        <circle key={i} cx={dot.x} cy={dot.y} r="2.5" fill="var(--ink)" />
      ))}
      <PartOnRail {...{ part, x, y, where, cellPx }} isUpright={false} isBridge />
    </g>
  );
}

function Rail({ row, cellPx }: { readonly row: RailRow; readonly cellPx: number }) {
  const { way, index, railY, returnY, startX, isStacked, isOpen, parts, wires, dots, driverX } =
    row;
  return (
    <g>
      <path
        d={`M${isStacked ? startX : startX - 10} ${returnY}H${driverX - 12}`}
        stroke={isStacked ? 'var(--ink)' : 'var(--rule)'}
        strokeWidth={isStacked ? 1.5 : 2}
      />
      <path d={wires} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      {dots.map(({ x, y }) => (
        <circle key={`${x} ${y}`} cx={x} cy={y} r="2.5" fill="var(--ink)" />
      ))}
      {parts.map(({ part, x, y, isUpright }) => (
        <PartOnRail
          key={part.id}
          {...{ part, x, y, isUpright, cellPx }}
          where={way.name}
          joined={joinedWords(way, part)}
        />
      ))}
      <DriverEnd
        way={way}
        isOpen={isOpen}
        x={driverX}
        y={railY}
        colour={curveStyle(index).colour}
      />
    </g>
  );
}

const Paper = styled.div`
  height: 100%;
  overflow: auto;
  background-color: ${({ theme }) => theme.colour.sheet};
  background-image:
    linear-gradient(${({ theme }) => theme.colour.grid} 1px, transparent 1px),
    linear-gradient(90deg, ${({ theme }) => theme.colour.grid} 1px, transparent 1px);
  background-size: 18px 18px;
  background-attachment: local;
  text {
    font-size: 11.5px;
    fill: ${({ theme }) => theme.colour.ink};
    paint-order: stroke;
    stroke: ${({ theme }) => theme.colour.sheet};
    stroke-width: 3px;
    &.value {
      fill: ${({ theme }) => theme.colour.quiet};
      font-size: 11px;
    }
    &[fill='currentColor'] {
      fill: currentColor;
    }
  }
`;
