import type { Observer, Spectrum } from './sending';

/**
 * A thin rigid panel in free air at low frequencies. What is sought is the jump of pressure across it
 * for a wave that comes from the observer; by reciprocity half of the jump at a place is what a
 * piston there, moving to and fro with both its sides, sends to the observer, over what it sends in
 * an infinite wall. The jump solves an integral equation with the hypersingular kernel
 * (1 + jkr)·e^(−jkr)/(4πr³) (Maue 1949), here by collocation on rectangles of constant jump. Their
 * grid is drawn in from the panel’s edges by a quarter of its step, as for vortex lattices
 * (Rubbert 1964): so it converges with the square of the step.
 */
export interface PanelSolution {
  /** What a piston radiates at each of the frequencies; the delay from its centre is out. */
  toward(source: { readonly x: number; readonly y: number }, observer: Observer): Spectrum;
}

interface Corner {
  readonly x: number;
  readonly y: number;
}

/** Cells of the grid, more or less. */
const cellCount = 210;
const insetShare = 0.25;

/** The grid: cells that lie in the panel, by their middles. */
interface Cells {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly stepX: number;
  readonly stepY: number;
}

function cellsOf(outline: readonly Corner[]): Cells {
  const xs = outline.map(({ x }) => x);
  const ys = outline.map(({ y }) => y);
  const [left, bottom] = [Math.min(...xs), Math.min(...ys)];
  const [width, height] = [Math.max(...xs) - left, Math.max(...ys) - bottom];
  const rough = Math.sqrt((width * height) / cellCount);
  const columns = Math.max(3, Math.round(width / rough));
  const rows = Math.max(3, Math.round(height / rough));
  // n steps and a quarter of one at either side fill the width.
  const stepX = width / (columns + 2 * insetShare);
  const stepY = height / (rows + 2 * insetShare);
  const [x, y]: number[][] = [[], []];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const at = {
        x: left + (column + 0.5 + insetShare) * stepX,
        y: bottom + (row + 0.5 + insetShare) * stepY,
      };
      if (!isInside(outline, at)) continue;
      x.push(at.x);
      y.push(at.y);
    }
  return { x: Float64Array.from(x), y: Float64Array.from(y), stepX, stepY };
}

const isInside = (outline: readonly Corner[], { x, y }: Corner): boolean =>
  outline.every((a, c) => {
    const b = outline[(c + 1) % outline.length];
    return (b.x - a.x) * (y - a.y) - (b.y - a.y) * (x - a.x) >= 0;
  });

/** ∫∫ dx dy/r³ over a rectangle around (x, y), finite part: closed form at its corners. */
function staticPart(x: number, y: number, stepX: number, stepY: number): number {
  const corner = (a: number, b: number) => -Math.hypot(a, b) / (a * b);
  const [l, r] = [x - stepX / 2, x + stepX / 2];
  const [d, u] = [y - stepY / 2, y + stepY / 2];
  return corner(r, u) - corner(l, u) - corner(r, d) + corner(l, d);
}

/** ∫∫ dx dy/r over a rectangle about its middle. */
function inversePart(stepX: number, stepY: number): number {
  const [a, b] = [stepX / 2, stepY / 2];
  return 4 * (a * Math.asinh(b / a) + b * Math.asinh(a / b));
}

/** A matrix taken apart into triangles, with its order of rows. */
interface Factors {
  readonly re: Float64Array;
  readonly im: Float64Array;
  readonly order: Int32Array;
}

/**
 * Solves a panel at some frequencies.
 *
 * @param outline convex, anticlockwise, m
 */
export function solvePanel(
  outline: readonly Corner[],
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): PanelSolution {
  const cells = cellsOf(outline);
  const n = cells.x.length;
  const { stepX, stepY } = cells;
  const area = stepX * stepY;
  const waves = Array.from(frequencyHz, (hz) => (2 * Math.PI * hz) / speedOfSoundMps);
  const factors = waves.map((k) => factored(matrixAt(k), n));
  const jumps = new Map<string, readonly Spectrum[]>();

  function matrixAt(k: number): { re: Float64Array; im: Float64Array } {
    const re = new Float64Array(n * n);
    const im = new Float64Array(n * n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const [dx, dy] = [cells.x[j] - cells.x[i], cells.y[j] - cells.y[i]];
        const at = i * n + j;
        const still = staticPart(dx, dy, stepX, stepY);
        if (i === j) {
          // (1 + jkr)e^(−jkr) − 1 = (kr)²/2 − j(kr)³/3 − …
          re[at] = still + ((k * k) / 2) * inversePart(stepX, stepY);
          im[at] = (-(k ** 3) / 3) * area;
          continue;
        }
        const r = Math.hypot(dx, dy);
        const kr = k * r;
        const [c, s] = [Math.cos(kr), Math.sin(kr)];
        const weight = area / (r * r * r);
        re[at] = still + weight * (c + kr * s - 1);
        im[at] = weight * (kr * c - s);
      }
    return { re, im };
  }

  /** The jump over the cells at each frequency for a wave from an observer, 1 at the origin of the axes. */
  function jumpFor(observer: Observer): readonly Spectrum[] {
    const key = JSON.stringify(observer);
    const known = jumps.get(key);
    if (known) return known;
    const found = waves.map((k, f) => {
      const re = new Float64Array(n);
      const im = new Float64Array(n);
      for (let i = 0; i < n; i++) {
        const { slope, phase } = arriving(observer, cells.x[i], cells.y[i], k);
        // −4π·∂p/∂z of the wave.
        const [a, b] = [-4 * Math.PI * slope.re, -4 * Math.PI * slope.im];
        const [c, s] = [Math.cos(phase), Math.sin(phase)];
        re[i] = a * c - b * s;
        im[i] = a * s + b * c;
      }
      solveFactored(factors[f], n, re, im);
      return { re, im };
    });
    jumps.set(key, found);
    return found;
  }

  return {
    toward(source, observer) {
      const jump = jumpFor(observer);
      const [re, im] = [new Float64Array(waves.length), new Float64Array(waves.length)];
      const shares = sharesAt(cells, source);
      waves.forEach((k, f) => {
        let [a, b] = [0, 0];
        for (const { cell, share } of shares) {
          a += share * jump[f].re[cell];
          b += share * jump[f].im[cell];
        }
        // Over the wave as it would come to the source alone.
        const { scale, phase } = levelAt(observer, source, k);
        const [c, s] = [Math.cos(phase) / scale, -Math.sin(phase) / scale];
        re[f] = (a * c - b * s) / 2;
        im[f] = (a * s + b * c) / 2;
      });
      return { re, im };
    },
  };
}

/** The slope across the panel of a wave from an observer at a place of it, and its phase. */
function arriving(observer: Observer, x: number, y: number, k: number) {
  if (observer.kind === 'far') {
    const { direction } = observer;
    // e^(+jk·d·x): it comes from there.
    return {
      slope: { re: 0, im: k * direction.z },
      phase: k * (x * direction.x + y * direction.y),
    };
  }
  const { at } = observer;
  const distance = Math.hypot(x - at.x, y - at.y, at.z);
  // ∂/∂z of e^(−jkr)/r at the panel: (1 + jkr)·z/r³.
  const size = at.z / distance ** 3;
  return { slope: { re: size, im: size * k * distance }, phase: -k * distance };
}

function levelAt(observer: Observer, { x, y }: Corner, k: number) {
  if (observer.kind === 'far') {
    const { direction } = observer;
    return { scale: 1, phase: k * (x * direction.x + y * direction.y) };
  }
  const { at } = observer;
  const distance = Math.hypot(x - at.x, y - at.y, at.z);
  return { scale: 1 / distance, phase: -k * distance };
}

/** The cells around a place with their shares: straight lines between their middles. */
function sharesAt({ x, y, stepX, stepY }: Cells, at: Corner) {
  const near = Array.from(x, (cellX, cell) => ({
    cell,
    share:
      Math.max(0, 1 - Math.abs(cellX - at.x) / stepX) *
      Math.max(0, 1 - Math.abs(y[cell] - at.y) / stepY),
  })).filter(({ share }) => share > 0);
  const sum = near.reduce((total, { share }) => total + share, 0);
  return near.map(({ cell, share }) => ({ cell, share: share / sum }));
}

/** Gauss with the greatest pivot of each column. */
function factored({ re, im }: { re: Float64Array; im: Float64Array }, n: number): Factors {
  const order = Int32Array.from({ length: n }, (_, i) => i);
  for (let p = 0; p < n; p++) {
    let best = p;
    for (let i = p + 1; i < n; i++) {
      const [a, b] = [i * n + p, best * n + p];
      if (re[a] * re[a] + im[a] * im[a] > re[b] * re[b] + im[b] * im[b]) best = i;
    }
    if (best !== p) {
      for (let j = 0; j < n; j++) {
        const [a, b] = [p * n + j, best * n + j];
        [re[a], re[b]] = [re[b], re[a]];
        [im[a], im[b]] = [im[b], im[a]];
      }
      [order[p], order[best]] = [order[best], order[p]];
    }
    const size = re[p * n + p] ** 2 + im[p * n + p] ** 2;
    for (let i = p + 1; i < n; i++) {
      const at = i * n + p;
      const fr = (re[at] * re[p * n + p] + im[at] * im[p * n + p]) / size;
      const fi = (im[at] * re[p * n + p] - re[at] * im[p * n + p]) / size;
      re[at] = fr;
      im[at] = fi;
      for (let j = p + 1, a = i * n + p + 1, b = p * n + p + 1; j < n; j++, a++, b++) {
        re[a] -= fr * re[b] - fi * im[b];
        im[a] -= fr * im[b] + fi * re[b];
      }
    }
  }
  return { re, im, order };
}

function solveFactored({ re, im, order }: Factors, n: number, x: Float64Array, y: Float64Array) {
  const [a, b] = [x.slice(), y.slice()];
  for (let i = 0; i < n; i++) {
    x[i] = a[order[i]];
    y[i] = b[order[i]];
  }
  for (let i = 0; i < n; i++)
    for (let j = 0, at = i * n; j < i; j++, at++) {
      x[i] -= re[at] * x[j] - im[at] * y[j];
      y[i] -= re[at] * y[j] + im[at] * x[j];
    }
  for (let i = n - 1; i >= 0; i--) {
    for (let j = i + 1, at = i * n + i + 1; j < n; j++, at++) {
      x[i] -= re[at] * x[j] - im[at] * y[j];
      y[i] -= re[at] * y[j] + im[at] * x[j];
    }
    const size = re[i * n + i] ** 2 + im[i * n + i] ** 2;
    const [p, q] = [re[i * n + i], im[i * n + i]];
    const xi = (x[i] * p + y[i] * q) / size;
    y[i] = (y[i] * p - x[i] * q) / size;
    x[i] = xi;
  }
}

/** Longest way across a panel, m. */
export const acrossPanel = (outline: readonly Corner[]): number =>
  Math.max(...outline.flatMap((a) => outline.map((b) => Math.hypot(a.x - b.x, a.y - b.y))));
