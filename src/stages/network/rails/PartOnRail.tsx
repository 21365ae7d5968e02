'use client';
import { partKinds, shownValue } from '@/core/document/partKinds';
import { memo } from 'react';
import type { Part } from '@/core/document/schema';
import { useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { placeWords } from '@/stages/network/edits/partWords';
import { PartSymbol } from './symbols';
import { Target } from './Target';

/** Written out as well as styled, so that a drawing that is taken along keeps its looks. */
const plainText = { fontSize: 11.5, fill: 'var(--ink)' } as const;

interface PartOnRailProps {
  readonly part: Part;
  /** Name of its way, or where a bridge leads. */
  readonly where: string;
  /** With what it is joined, in words. */
  readonly joined?: string | null;
  readonly isBridge?: boolean;
  readonly x: number;
  readonly y: number;
  readonly isUpright: boolean;
  readonly cellPx: number;
}

export const PartOnRail = memo(function PartOnRail({
  part,
  where,
  joined = null,
  isBridge,
  x,
  y,
  isUpright,
  cellPx,
}: PartOnRailProps) {
  const isBypassed = useDeskState((state) => state.bypassedPartId === part.id);
  const isFaulty = useDeskState(
    (state) =>
      shownOf(state).prediction?.findings.some(
        ({ severity, about, where: at }) =>
          severity === 'stops' && (about === part.id || at.split(', ').includes(part.name)),
      ) ?? false,
  );
  const isOut = part.isOff || isBypassed;
  const width = Math.min(cellPx - 10, 78);
  const box = isUpright
    ? { x: x - 26, y: y - 24, width: width + 6, height: 52 }
    : { x: x - width / 2, y: y - 32, width, height: 62 };
  const marks = [
    isBypassed ? 'bypassed' : part.isOff && 'excluded',
    isFaulty && 'at fault',
    part.isLocked && 'locked',
    part.fit.tie !== null && 'linked',
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
        `${partKinds[part.kind].word} ${isBridge ? 'as a bridge' : placeWords[part.place]}`,
        ...(joined === null ? [] : [joined]),
        shownValue(part),
        ...marks,
        where,
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
