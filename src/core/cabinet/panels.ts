import type { Box, BoxShell } from '@/core/document/boxSchema';
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
  /** What is to be done to it besides cutting it out. */
  readonly work: string;
}

/** Where places of braces are counted from. */
const from = { height: 'bottom', width: 'left', depth: 'front' } as const;

/** A rebate goes half way into a board. */
const rebateShare = 0.5;

/** Thickest board that is sold as one; a thicker front is laid up of two. */
const thickestMm = 30;

/**
 * Boards of a box. Front and rear close the four others: over their ends (butt, mitre), or let into
 * rebates half as deep as the wall is thick. The grain runs up, and from side to side on top and bottom.
 *
 * @param holes what is cut into the front
 */
export function boardsOf(
  { shell, kind, name, pipe }: Pick<Box, 'shell' | 'kind' | 'name' | 'pipe'>,
  holes = '',
): BoardPiece[] {
  if (kind === 'open-baffle') {
    const { widthMm, heightMm, frontMm } = shell;
    return layered({ name: 'Baffle', count: 1, lengthMm: heightMm, widthMm, work: holes }, frontMm);
  }
  const { widthMm: w, heightMm: h, depthMm: d, wallMm: t, frontMm, joint } = shell;
  const between = d - t - frontMm;
  const inner = shell.braces.map((brace, b): BoardPiece => {
    const [x, y] = braceBoardMm(brace, insideOf(shell));
    return {
      ...{ name: `Brace ${b + 1}`, count: 1, thicknessMm: brace.thicknessMm },
      ...{ lengthMm: Math.max(x, y), widthMm: Math.min(x, y) },
      work: `middle ${brace.atMm} mm from the ${from[brace.across]} inside; ${Math.round(100 * brace.openShare)} % of its area cut out, in several openings`,
    };
  });
  if (kind === 'line')
    inner.push(
      ...dividersOf(pipe, shell).map(({ lengthMm, widthMm, openMm }, k): BoardPiece => ({
        ...{ name: `Divider ${k + 1}`, count: 1, lengthMm, widthMm, thicknessMm: t },
        work: `between two passes of the line; ends ${Math.round(openMm)} mm before the wall where it turns`,
      })),
    );
  if (joint === 'rebate') {
    const lip = t * (1 - rebateShare);
    const [fw, fh] = [w - 2 * lip, h - 2 * lip];
    const work = `rebates ${t * rebateShare} mm deep for front and rear`;
    return [
      ...layered({ name: 'Front', count: 1, lengthMm: fh, widthMm: fw, work: holes }, frontMm),
      { name: 'Rear', count: 1, lengthMm: fh, widthMm: fw, thicknessMm: t, work: terminals },
      ...[
        { name: 'Top and bottom', count: 2, lengthMm: w, widthMm: d, thicknessMm: t },
        { name: 'Side', count: 2, lengthMm: h - 2 * lip, widthMm: d, thicknessMm: t },
      ].map((board) => ({ ...board, work })),
      ...inner,
    ].map(named(name));
  }
  const isMitred = joint === 'mitre';
  const work = isMitred ? 'both ends mitred at 45°; the length is the outer one' : '';
  return [
    ...layered({ name: 'Front', count: 1, lengthMm: h, widthMm: w, work: holes }, frontMm),
    { name: 'Rear', count: 1, lengthMm: h, widthMm: w, thicknessMm: t, work: terminals },
    { name: 'Top and bottom', count: 2, lengthMm: w, widthMm: between, thicknessMm: t, work },
    {
      ...{ name: 'Side', count: 2, lengthMm: isMitred ? h : h - 2 * t },
      ...{ widthMm: between, thicknessMm: t, work },
    },
    ...inner,
  ].map(named(name));
}

const terminals = 'hole for the terminals';

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
      work: board.work === '' ? 'two layers' : `two layers; ${board.work}`,
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
