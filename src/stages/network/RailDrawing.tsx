'use client';
import { memo, useMemo, type KeyboardEvent } from 'react';
import styled from 'styled-components';
import type { Part, Way } from '@/core/design/schema';
import { shownOf, type Selection } from '@/desk/deskState';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { curveStyle } from '@/ui/theme';
import { useElementWidth } from '@/ui/useElementWidth';
import { GapMenu } from './GapMenu';
import { layOutRails, nameAt, type RailRow } from './layout';
import { kindWords, placeWords, shownValue } from './partWords';
import { LoudspeakerSymbol, PartSymbol } from './symbols';
import { useNetworkEdits } from './useNetworkEdits';

/** Written out as well as styled, so that a drawing that is taken along keeps its looks. */
const plainText = { fontSize: 11.5, fill: 'var(--ink)' } as const;

/** The rails from the amplifier to the drivers, on squared paper. */
export function RailDrawing() {
  const [frame, roomPx] = useElementWidth<HTMLDivElement>();
  const ways = useDeskState((state) => shownOf(state).design.ways);
  const outputOhms = useDeskState((state) => shownOf(state).design.amplifier.outputOhms);
  const layout = useMemo(() => layOutRails(ways, roomPx), [ways, roomPx]);
  const { rows, busX } = layout;
  return (
    <Paper ref={frame}>
      {roomPx > 0 && rows.length > 0 && (
        <div style={{ position: 'relative', width: layout.widthPx, height: layout.heightPx }}>
          <svg
            width={layout.widthPx}
            height={layout.heightPx}
            role="group"
            aria-label="Network"
            data-rails=""
          >
            <path
              d={`M${busX} ${rows[0].railY}V${rows[rows.length - 1].railY}`}
              stroke="var(--ink)"
              strokeWidth="2"
            />
            <circle
              cx={busX}
              cy={rows[Math.floor(rows.length / 2)].railY}
              r="4"
              fill="var(--ink)"
            />
            <text x={busX - 26} y={layout.heightPx - 6} fontSize="11" fill="var(--quiet)">
              amplifier {outputOhms} Ω
            </text>
            {rows.map((row, index) => (
              <Rail key={row.way.id} row={row} index={index} busX={busX} cellPx={layout.cellPx} />
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

interface RailProps {
  readonly row: RailRow;
  readonly index: number;
  readonly busX: number;
  readonly cellPx: number;
}

function Rail({ row, index, busX, cellPx }: RailProps) {
  const { way, railY, returnY, parts, wires, dots, driverX } = row;
  return (
    <g>
      <path d={`M${busX + 14} ${returnY}H${driverX - 12}`} stroke="var(--rule)" strokeWidth="2" />
      <path d={wires} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      {dots.map(({ x, y }) => (
        <circle key={`${x} ${y}`} cx={x} cy={y} r="2.5" fill="var(--ink)" />
      ))}
      {parts.map(({ part, x, y, isUpright }) => (
        <PartOnRail
          key={part.id}
          part={part}
          wayName={way.name}
          x={x}
          y={y}
          isUpright={isUpright}
          cellPx={cellPx}
        />
      ))}
      <DriverEnd way={way} x={driverX} y={railY} colour={curveStyle(index).colour} />
    </g>
  );
}

interface PartOnRailProps {
  readonly part: Part;
  readonly wayName: string;
  readonly x: number;
  readonly y: number;
  readonly isUpright: boolean;
  readonly cellPx: number;
}

const PartOnRail = memo(function PartOnRail({
  part,
  wayName,
  x,
  y,
  isUpright,
  cellPx,
}: PartOnRailProps) {
  const isBypassed = useDeskState((state) => state.bypassedPartId === part.id);
  const isFaulty = useDeskState(
    (state) =>
      state.prediction?.findings.some(
        ({ severity, where }) => severity === 'stops' && where === part.name,
      ) ?? false,
  );
  const isOut = part.isOff || isBypassed;
  const width = Math.min(cellPx - 10, 78);
  const box = isUpright
    ? { x: x - 26, y: y - 24, width: width + 6, height: 52 }
    : { x: x - width / 2, y: y - 32, width, height: 62 };
  const marks = [
    isBypassed ? 'bypassed' : part.isOff && 'left out',
    isFaulty && 'at fault',
    part.isLocked && 'locked',
    part.fit.tie !== null && 'tied',
    part.fit.isFree && part.fit.tie === null && !part.isLocked && 'free',
  ].filter(Boolean);
  const [nameX, nameY, valueY, markY] = isUpright
    ? [x + 15, y - 2, y + 11, y + 24]
    : [x, y - 18, y + 25, y + 37];
  const anchor = isUpright ? 'start' : 'middle';
  return (
    <Target
      selection={{ kind: 'part', id: part.id }}
      label={`${[
        part.name,
        `${kindWords[part.kind]} ${placeWords[part.place]}`,
        shownValue(part),
        ...marks,
        wayName,
      ].join(', ')}`}
      box={box}
    >
      <g opacity={isOut ? 0.3 : 1}>
        <g transform={`translate(${x} ${y})${isUpright ? ' rotate(90)' : ''}`}>
          <PartSymbol kind={part.kind} />
        </g>
        <text {...plainText} x={nameX} y={nameY} textAnchor={anchor}>
          {part.name}
        </text>
        <text {...plainText} x={nameX} y={valueY} textAnchor={anchor} className="value">
          {shownValue(part)}
        </text>
      </g>
      {marks.length > 0 && (
        <text
          x={nameX}
          y={markY}
          textAnchor={anchor}
          style={{ fill: isFaulty ? 'var(--alarm)' : 'var(--accent)', fontSize: 10 }}
        >
          {marks.join(', ')}
        </text>
      )}
    </Target>
  );
});

function DriverEnd({
  way,
  x,
  y,
  colour,
}: {
  readonly way: Way;
  readonly x: number;
  readonly y: number;
  readonly colour: string;
}) {
  const driver = useDeskState((state) =>
    state.design.drivers.find(({ id }) => id === way.driverId),
  );
  const isReversed = way.polarity === 'reversed';
  return (
    <Target
      selection={{ kind: 'way', id: way.id }}
      label={`${way.name}: ${driver?.name ?? 'no driver'}, ${isReversed ? 'reversed' : 'in phase'}`}
      box={{ x: x - 14, y: y - 26, width: 146, height: 52 }}
    >
      <g style={{ color: driver ? colour : 'var(--quiet)' }}>
        <g transform={`translate(${x} ${y})`}>
          <LoudspeakerSymbol />
        </g>
        <text x={x - 12} y={y - 6} fill="var(--ink)" fontSize="13">
          {isReversed ? '−' : '+'}
        </text>
        <text x={x + 32} y={y - 2} fontWeight="650" fill="currentColor">
          {way.name.length > 14 ? `${way.name.slice(0, 13)}…` : way.name}
        </text>
        <text x={x + 32} y={y + 13} className="value">
          {driver ? (isReversed ? 'reversed' : 'in phase') : 'no driver'}
        </text>
      </g>
    </Target>
  );
}

interface TargetProps {
  readonly selection: Selection & { readonly kind: 'part' | 'way' };
  readonly label: string;
  readonly box: {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
  };
  readonly children: React.ReactNode;
}

/** Something on the drawing that can be chosen by pointer, by Tab and by arrow keys. */
function Target({ selection, label, box, children }: TargetProps) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const isChosen = useDeskState(
    (state) =>
      state.selection?.kind === selection.kind &&
      'id' in state.selection &&
      state.selection.id === selection.id,
  );
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    const steps = event.shiftKey ? 10 : 1;
    const keys: Record<string, () => void> = {
      ArrowUp: () => edits.nudge(selection, steps, event.altKey),
      ArrowDown: () => edits.nudge(selection, -steps, event.altKey),
      ArrowRight: () =>
        event.altKey ? edits.moveAlong(selection, 1) : focusNeighbour(event.currentTarget, 1),
      ArrowLeft: () =>
        event.altKey ? edits.moveAlong(selection, -1) : focusNeighbour(event.currentTarget, -1),
      Enter: () => document.querySelector<HTMLInputElement>('[data-inspector] input')?.focus(),
      ' ': () => desk.select(selection),
    };
    if (!(event.key in keys)) return;
    event.preventDefault();
    event.stopPropagation();
    keys[event.key]();
  };
  return (
    <Choosable
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={isChosen}
      data-target={selection.id}
      onFocus={() => desk.select(selection)}
      onClick={() => desk.select(selection)}
      onKeyDown={onKeyDown}
    >
      <rect {...box} rx="3" className="box" fill="transparent" stroke="transparent" />
      {children}
    </Choosable>
  );
}

/** The next thing on the drawing, in the order of the rails. */
function focusNeighbour(from: EventTarget, direction: 1 | -1): void {
  const all = [...document.querySelectorAll<SVGGElement>('[data-target]')];
  all[all.indexOf(from as SVGGElement) + direction]?.focus();
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

const Choosable = styled.g`
  cursor: pointer;
  outline: none;
  color: ${({ theme }) => theme.colour.ink};
  .box {
    fill: transparent;
    stroke: transparent;
  }
  &:hover .box {
    stroke: ${({ theme }) => theme.colour.rule};
  }
  &[aria-pressed='true'] .box {
    fill: ${({ theme }) => theme.colour.accentWash};
    stroke: ${({ theme }) => theme.colour.accent};
  }
  &:focus-visible .box {
    stroke: ${({ theme }) => theme.colour.accent};
    stroke-width: 2;
  }
`;
