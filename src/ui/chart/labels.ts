import type { Curve } from './curve';
import type { Plot } from './plot';

/** A curve's name and where it is written. */
interface PlacedLabel {
  readonly curve: Curve;
  /** Baseline of its first letter, px. */
  readonly left: number;
  readonly baseline: number;
  /** Which of the places that were tried it took, so that it can stay there. */
  readonly place: number;
}

/** About the width of a letter at this size, and the height of a line, px. */
const letterPx = 5.8;
const linePx = 11;
/** Distance from a curve to its name. */
const gapPx = 4;
/** Along each curve so many places are tried, above and below it. */
const stations = 24;

/* What a place costs: another name under it, each pixel of a curve under it, its distance from the end where it is looked for. */
const cost = { name: 1000, curve: 5, distance: 8, moved: 6 };

interface Box {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** Places names again and again; each stays where it is unless another place is much better. */
export function createLabelPlacer() {
  let before: ReadonlyMap<string, number> = new Map();
  return (frequencyHz: Float64Array, curves: readonly Curve[], plot: Plot): PlacedLabel[] => {
    const placed = placeLabels(frequencyHz, curves, plot, before);
    before = new Map(placed.map(({ curve, place }) => [curve.id, place]));
    return placed;
  };
}

/**
 * Writes each curve's name beside it, where it lies on no curve and no other name if there is such
 * a place, and near the end where it is looked for.
 *
 * @param before places that the names have now: they move only for something better
 */
function placeLabels(
  frequencyHz: Float64Array,
  curves: readonly Curve[],
  { area, x, y }: Plot,
  before: ReadonlyMap<string, number> = new Map(),
): PlacedLabel[] {
  const px = frequencyHz.map(x);
  const lines = curves.map((curve) => curve.values.map(y(curve)));
  const isIn = (i: number, py: number) =>
    px[i] >= area.x && px[i] <= area.x + area.width && py >= area.y && py <= area.y + area.height;
  /** Length of all curves within a box, counted in its columns. */
  const covered = ({ left, right, top, bottom }: Box) => {
    let count = 0;
    for (let i = 1; i < px.length; i++) {
      if (px[i] < left || px[i - 1] > right) continue;
      for (const line of lines) {
        const [low, high] = line[i] < line[i - 1] ? [line[i], line[i - 1]] : [line[i - 1], line[i]];
        if (high >= top && low <= bottom) count += px[i] - px[i - 1];
      }
    }
    return count;
  };
  const taken: Box[] = [];
  return curves.flatMap((curve, c): PlacedLabel[] => {
    if (curve.label === '') return [];
    const visible = [...lines[c].keys()].filter((i) => isIn(i, lines[c][i]));
    if (visible.length === 0) return [];
    const width = curve.label.length * letterPx;
    let best: (PlacedLabel & { readonly box: Box; readonly total: number }) | null = null;
    for (let place = 0; place < 2 * stations; place++) {
      const share = (place >> 1) / (stations - 1);
      const at = visible[Math.round(share * (visible.length - 1))];
      const left = Math.min(area.x + area.width - width - 2, Math.max(area.x + 2, px[at]));
      const box = beside(lines[c], px, left, width, place % 2 === 0);
      if (box.top < area.y || box.bottom > area.y + area.height) continue;
      const wanted = curve.labelAt === 'start' ? share : 1 - share;
      const total =
        cost.distance * wanted +
        cost.curve * covered(box) +
        cost.name * taken.filter((other) => overlaps(box, other)).length +
        (before.has(curve.id) && before.get(curve.id) !== place ? cost.moved : 0);
      if (!best || total < best.total)
        best = { curve, left, baseline: box.bottom - 2, place, box, total };
    }
    if (!best) return [];
    taken.push(best.box);
    return [{ curve, left: best.left, baseline: best.baseline, place: best.place }];
  });
}

/** The box for a name of some width just over or under a line, clear of it over the whole width. */
function beside(
  line: Float64Array,
  px: Float64Array,
  left: number,
  width: number,
  isAbove: boolean,
): Box {
  const right = left + width;
  let [highest, lowest] = [Infinity, -Infinity];
  for (let i = 0; i < px.length; i++) {
    if (px[i] < left - 2 || px[i] > right + 2 || !Number.isFinite(line[i])) continue;
    if (line[i] < highest) highest = line[i];
    if (line[i] > lowest) lowest = line[i];
  }
  const top = isAbove ? highest - gapPx - linePx : lowest + gapPx;
  return { left, right, top, bottom: top + linePx };
}

const overlaps = (a: Box, b: Box): boolean =>
  a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;
