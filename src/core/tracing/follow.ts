import type { PicturePoint } from './axes';

/** Pixels of a picture, four bytes each: red, green, blue, and how opaque. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray;
}

/** A part of a picture. */
interface PictureArea {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** Columns without the colour that are still bridged: dashes, crossing lines, labels. */
const gapShare = 0.03;
/** As many columns back the course of the curve is looked at. */
const courseColumns = 8;
/** How far from its course the curve may be found, as a share of the height; more after a gap. */
const strayShare = 0.05;
/** A run of the colour that is longer than this is no curve but a line of the grid. */
const longestRunShare = 0.4;

/**
 * Follows a curve by its colour, column by column, from a point on it to both sides: in each column
 * the run of that colour that lies nearest to where the curve is going.
 *
 * @param tolerance how different a colour may be and still count, 0…441
 * @returns one point per column in which it was found, from the left
 */
export function followColour(
  picture: Picture,
  from: PicturePoint,
  tolerance: number,
  area: PictureArea,
): PicturePoint[] {
  const start = { x: Math.round(from.x), y: Math.round(from.y) };
  if (!isIn(area, start)) return [];
  const colour = colourAt(picture, start);
  const first = nearestRun(picture, start.x, start.y, colour, tolerance, area);
  if (!first) return [];
  const right = walk(picture, { x: start.x, y: first.middle }, 1, colour, tolerance, area);
  const left = walk(picture, { x: start.x, y: first.middle }, -1, colour, tolerance, area);
  return [...left.reverse(), { x: start.x, y: first.middle }, ...right];
}

type Colour = readonly [number, number, number];

function walk(
  picture: Picture,
  from: PicturePoint,
  step: 1 | -1,
  colour: Colour,
  tolerance: number,
  area: PictureArea,
): PicturePoint[] {
  const found: PicturePoint[] = [];
  const recent = [from];
  const height = area.bottom - area.top;
  const longestGap = Math.max(6, gapShare * (area.right - area.left));
  for (let x = from.x + step, gap = 0; x >= area.left && x <= area.right; x += step) {
    const last = recent[recent.length - 1];
    const before = recent[Math.max(0, recent.length - 1 - courseColumns)];
    const slope = last.x === before.x ? 0 : (last.y - before.y) / (last.x - before.x);
    // A steep course is not trusted far.
    const going = last.y + Math.max(-4, Math.min(4, slope)) * (x - last.x);
    const run = nearestRun(picture, x, going, colour, tolerance, area);
    const stray = strayShare * height + Math.abs(slope) * 2 + gap * 1.5;
    if (!run || run.away > stray) {
      if (++gap > longestGap) break;
      continue;
    }
    gap = 0;
    const point = { x, y: run.middle };
    found.push(point);
    recent.push(point);
  }
  return found;
}

/** The run of a colour in a column that lies nearest to a place. */
function nearestRun(
  picture: Picture,
  x: number,
  y: number,
  colour: Colour,
  tolerance: number,
  { top, bottom }: PictureArea,
): { readonly middle: number; readonly away: number } | null {
  let best: { middle: number; away: number } | null = null;
  let [weight, moment, begin] = [0, 0, -1];
  const longest = longestRunShare * (bottom - top);
  for (let row = top; row <= bottom + 1; row++) {
    const likeness = row <= bottom ? likenessAt(picture, x, row, colour, tolerance) : 0;
    if (likeness > 0) {
      if (begin < 0) begin = row;
      weight += likeness;
      moment += likeness * row;
      continue;
    }
    if (begin >= 0 && row - begin <= longest) {
      const middle = moment / weight;
      // Within the run it is no way off.
      const away = y < begin ? begin - y : y > row - 1 ? y - (row - 1) : 0;
      const isNearer =
        !best ||
        away < best.away ||
        (away === best.away && Math.abs(middle - y) < Math.abs(best.middle - y));
      if (isNearer) best = { middle, away };
    }
    [weight, moment, begin] = [0, 0, -1];
  }
  return best;
}

/** 1 for the very colour, 0 beyond the tolerance. */
function likenessAt(
  { width, data }: Picture,
  x: number,
  y: number,
  [red, green, blue]: Colour,
  tolerance: number,
): number {
  const i = 4 * (y * width + x);
  if (data[i + 3] < 128) return 0;
  const [r, g, b] = [data[i] - red, data[i + 1] - green, data[i + 2] - blue];
  const off = Math.sqrt(r * r + g * g + b * b);
  return off >= tolerance ? 0 : 1 - off / tolerance;
}

function colourAt({ width, data }: Picture, { x, y }: PicturePoint): Colour {
  const i = 4 * (y * width + x);
  return [data[i], data[i + 1], data[i + 2]];
}

const isIn = ({ left, top, right, bottom }: PictureArea, { x, y }: PicturePoint): boolean =>
  x >= left && x <= right && y >= top && y <= bottom;

/** The likeliest point of a curve near another one: a click beside a thin line still finds it. */
export function darkestNear(
  picture: Picture,
  { x, y }: PicturePoint,
  reachPx: number,
): PicturePoint {
  let best = { x: clamp(x, picture.width), y: clamp(y, picture.height) };
  let strongest = 0;
  for (let dy = -reachPx; dy <= reachPx; dy++)
    for (let dx = -reachPx; dx <= reachPx; dx++) {
      const at = { x: clamp(x + dx, picture.width), y: clamp(y + dy, picture.height) };
      const [r, g, b] = colourAt(picture, at);
      // What is far from white, and coloured rather than grey, is likelier a curve than its grid.
      const chroma = Math.max(r, g, b) - Math.min(r, g, b);
      const darkness = 255 - (r + g + b) / 3;
      const strength = darkness + 2 * chroma - 3 * Math.hypot(dx, dy);
      if (strength > strongest) [strongest, best] = [strength, at];
    }
  return best;
}

const clamp = (value: number, size: number): number =>
  Math.max(0, Math.min(size - 1, Math.round(value)));
