import type { Box, BoxShell } from '@/core/document/boxSchema';
import { formatNumber } from '@/core/units/quantity';
import type { BoardHole, BoxHoles } from './holes';
import { dividersOf } from './line';
import { braceBoardMm } from './netVolume';
import { materialTable, panelResonanceHz } from './materials';
import { insideOf } from './shell';

/** A board to be cut. */
export interface BoardPiece {
  readonly name: string;
  readonly count: number;
  /** Along the grain first. */
  readonly lengthMm: number;
  readonly widthMm: number;
  readonly thicknessMm: number;
  /** From its lower left corner, seen from outside. */
  readonly holes: readonly BoardHole[];
  /** What else is to be done to it besides cutting it out. */
  readonly work: readonly string[];
}

/** Where places of braces are counted from. */
const fromSide = { height: 'bottom', width: 'left', depth: 'front' } as const;

/** A rebate goes half way into a board. */
const rebateShare = 0.5;

/** Thickest board that is sold as one; a thicker front is laid up of two. */
const thickestMm = 30;

/** Holes of faces that nothing is cut into. */
const noHoles: BoxHoles = { front: [], rear: [], placeless: [] };

/**
 * Boards of a box. Front and rear close the four others: over their ends (butt, mitre), or let into
 * rebates half as deep as the wall is thick, in which the sides lie in top and bottom as well. The grain
 * runs up, and from side to side on top and bottom.
 *
 * @param holes what is cut into its faces
 */
export function boardsOf(
  { shell, kind, name, pipe }: Pick<Box, 'shell' | 'kind' | 'name' | 'pipe'>,
  holes: BoxHoles = noHoles,
): BoardPiece[] {
  const untold = holes.placeless.map((driver) => `${driver}: its place is not known`);
  const { widthMm: w, heightMm: h, depthMm: d, wallMm: t, frontMm, joint } = shell;
  const isRebated = joint === 'rebate';
  /** What front and rear are smaller by on each side. */
  const lip = isRebated && kind !== 'open-baffle' ? t * (1 - rebateShare) : 0;
  const moved = (all: readonly BoardHole[]) =>
    all.map((hole) => ({ ...hole, xMm: hole.xMm - lip, yMm: hole.yMm - lip }));
  const face = { count: 1, lengthMm: h - 2 * lip, widthMm: w - 2 * lip };
  const front = layered(
    {
      ...face,
      name: kind === 'open-baffle' ? 'Baffle' : 'Front',
      holes: moved(holes.front),
      work: untold,
    },
    frontMm,
  );
  if (kind === 'open-baffle') return front;
  const plain = { holes: [] as readonly BoardHole[], work: [] as readonly string[] };
  const inner = shell.braces.map((brace, b): BoardPiece => {
    const [x, y] = braceBoardMm(brace, insideOf(shell));
    return {
      ...{ ...plain, name: `Brace ${b + 1}`, count: 1, thicknessMm: brace.thicknessMm },
      ...{ lengthMm: Math.max(x, y), widthMm: Math.min(x, y) },
      work: [
        `middle ${brace.atMm} mm from the ${fromSide[brace.across]} inside`,
        `${Math.round(100 * brace.openShare)} % of its area cut out, in several openings`,
      ],
    };
  });
  if (kind === 'line')
    inner.push(
      ...dividersOf(pipe, shell).map(({ lengthMm, widthMm, openMm }, k): BoardPiece => ({
        ...{ ...plain, name: `Divider ${k + 1}`, count: 1, lengthMm, widthMm, thicknessMm: t },
        work: [
          `between two passes of the line; ends ${Math.round(openMm)} mm before the wall where it turns`,
        ],
      })),
    );
  const rear = { ...face, name: 'Rear', thicknessMm: t, holes: moved(holes.rear), work: [] };
  const deepMm = t * rebateShare;
  const forFaces = isRebated
    ? [
        `rebate ${deepMm} mm deep and ${frontMm} mm wide along the front edge`,
        `rebate ${deepMm} mm deep and ${t} mm wide along the rear edge`,
      ]
    : [];
  const between = isRebated ? d : d - t - frontMm;
  const isMitred = joint === 'mitre';
  const mitred = isMitred ? ['both ends mitred at 45°; the length is the outer one'] : [];
  return [
    ...front,
    rear,
    {
      ...{
        ...plain,
        name: 'Top and bottom',
        count: 2,
        lengthMm: w,
        widthMm: between,
        thicknessMm: t,
      },
      work: [
        ...forFaces,
        ...mitred,
        ...(isRebated
          ? [`rebate ${deepMm} mm deep and ${t} mm wide along both ends, for the sides`]
          : []),
      ],
    },
    {
      ...{ ...plain, name: 'Side', count: 2, widthMm: between, thicknessMm: t },
      lengthMm: isMitred ? h : isRebated ? h - 2 * lip : h - 2 * t,
      work: [...forFaces, ...mitred],
    },
    ...inner,
  ].map(named(name));
}

/** A hole in words, as it is cut. */
export function holeWords({
  what,
  diameterMm,
  slotMm,
  recess,
  frameMm,
  xMm,
  yMm,
  kind,
}: BoardHole): string {
  const size =
    slotMm !== null
      ? `hole ${mm(slotMm.width)} × ${mm(slotMm.height)}`
      : diameterMm === null
        ? kind === 'terminals'
          ? 'hole'
          : 'hole not known'
        : `hole ⌀${mm(diameterMm)}`;
  const around =
    recess !== null
      ? `, recess ⌀${mm(recess.diameterMm)} ${mm(recess.depthMm)} deep`
      : frameMm !== null && kind === 'port'
        ? `, flared to ⌀${mm(frameMm)}`
        : '';
  return `${what}: ${size}${around}, ${mm(xMm)} from the left, ${mm(yMm)} from below`;
}

const mm = (value: number) => `${formatNumber(Number(value.toFixed(2)))} mm`;

const named =
  (box: string) =>
  (board: BoardPiece): BoardPiece => ({ ...board, name: `${box}: ${board.name.toLowerCase()}` });

function layered(board: Omit<BoardPiece, 'thicknessMm'>, thicknessMm: number): BoardPiece[] {
  if (thicknessMm <= thickestMm) return [{ ...board, thicknessMm }];
  return [
    {
      ...board,
      count: 2 * board.count,
      thicknessMm: thicknessMm / 2,
      work: ['two layers', ...board.work],
    },
  ];
}

/** A wall with its largest free span, and its first resonance. */
export interface WallFacts {
  readonly name: string;
  readonly spanMm: readonly [number, number];
  readonly thicknessMm: number;
  readonly hz: readonly [number, number];
  readonly kg: number;
}

/** Largest stretch that marks leave between 0 and a length. */
function longestFree(lengthMm: number, atMm: readonly number[]): number {
  const marks = [
    0,
    ...atMm.filter((mm) => mm > 0 && mm < lengthMm).sort((a, b) => a - b),
    lengthMm,
  ];
  return Math.max(...marks.slice(1).map((mm, i) => mm - marks[i]));
}

/** Walls of a box between its braces. */
export function wallsOf(shell: BoxShell): WallFacts[] {
  const { widthMm, heightMm, depthMm } = insideOf(shell);
  const free = (across: 'width' | 'height' | 'depth', lengthMm: number) =>
    longestFree(
      lengthMm,
      shell.braces.filter((brace) => brace.across === across).map(({ atMm }) => atMm),
    );
  const material = materialTable[shell.material];
  const [x, y, z] = [free('width', widthMm), free('height', heightMm), free('depth', depthMm)];
  const wall = (
    name: string,
    thicknessMm: number,
    span: readonly [number, number],
    whole: readonly [number, number],
  ): WallFacts => ({
    ...{ name, thicknessMm, spanMm: span },
    hz: panelResonanceHz(material, thicknessMm, ...span),
    kg: (whole[0] * whole[1] * thicknessMm * material.density) / 1e9,
  });
  return [
    wall('front', shell.frontMm, [x, y], [shell.widthMm, shell.heightMm]),
    wall('rear', shell.wallMm, [x, y], [shell.widthMm, shell.heightMm]),
    wall('sides', shell.wallMm, [z, y], [shell.depthMm, shell.heightMm]),
    wall('top and bottom', shell.wallMm, [x, z], [shell.widthMm, shell.depthMm]),
  ];
}

/** Weight of a box without what is in it, kg. */
export const boardsKg = (box: Pick<Box, 'shell' | 'kind' | 'name' | 'pipe'>): number =>
  boardsOf(box).reduce(
    (sum, { count, lengthMm, widthMm, thicknessMm }) =>
      sum +
      (count * lengthMm * widthMm * thicknessMm * materialTable[box.shell.material].density) / 1e9,
    0,
  );
