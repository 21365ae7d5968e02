import { logGrid } from '@/core/grid/logGrid';
import { impedanceOnGrid } from '@/core/measurement/onGrid';
import type { Samples } from '@/core/measurement/samples';
import { leastSquares } from '@/core/search/leastSquares';

/** One two-pole of the chain; a pair or three are in parallel. */
export interface Section {
  readonly ohms: number | null;
  readonly henries: number | null;
  readonly farads: number | null;
}

/** A passive chain of two-poles with the impedance of a driver. */
export interface PassiveEquivalent {
  readonly sections: readonly Section[];
  /**
   * Largest and rms misfit of the complex impedance over what was measured, in percent of its
   * magnitude.
   */
  readonly worstPercent: number;
  readonly rmsPercent: number;
  readonly fromHz: number;
  readonly toHz: number;
}

/** Density of the fit, points per octave. */
const usualDensity = 24;
/**
 * Sections R ∥ L for the semi-inductance of the voice coil: three follow K(jω)ⁿ over three decades
 * to a percent or so.
 */
const ladderCount = 3;
const mostResonances = 6;
/** Resonances are added until this is reached, percent. */
const wantedPercent = 0.5;
/** One more must better the misfit by this share. */
const leastGain = 0.03;

/**
 * Numbers of parameters: series R and L, then pairs for the ladder, then triples for resonances;
 * all logarithms.
 */
const fixedCount = 2 + 2 * ladderCount;

/**
 * Foster's first form (R. M. Foster 1924: a chain of resonant circuits, each positive, is passive
 * and can be built) fitted to a measured impedance: resistance and inductance of the voice coil, R
 * ∥ L sections for its semi-inductance, and R ∥ L ∥ C for each resonance, found one by one where
 * the misfit is largest. Residuals are relative to the magnitude.
 *
 * @param impedance ohms and degrees; without phase it counts as resistive
 * @param pointsPerOctave of the fit
 */
export function passiveEquivalent(
  impedance: Samples,
  pointsPerOctave = usualDensity,
): PassiveEquivalent {
  const { frequencyHz: measuredHz } = impedance;
  const [fromHz, toHz] = [
    Math.max(10, measuredHz[0]),
    Math.min(20_000, measuredHz[measuredHz.length - 1]),
  ];
  const hz = logGrid(fromHz, toHz, pointsPerOctave);
  const wanted = impedanceOnGrid(impedance, hz);
  const weight = wanted.re.map((re, i) => 1 / Math.hypot(re, wanted.im[i]));
  const model = createChain(hz, wanted, weight);

  const peak = highest(hz, wanted);
  let best = model.fit(firstGuess(hz, wanted, peak));
  for (
    let resonances = 1;
    resonances < mostResonances && best.worstPercent > wantedPercent;
    resonances++
  ) {
    const next = model.fit([...best.parameters, ...resonanceAt(hz, wanted, best.worstAt)]);
    if (next.rmsPercent > best.rmsPercent * (1 - leastGain)) break;
    best = next;
  }
  const { worstPercent, rmsPercent } = best;
  return { sections: sectionsOf(best.parameters), worstPercent, rmsPercent, fromHz, toHz };
}

interface Spectrum {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

function highest(hz: Float64Array, { re, im }: Spectrum): number {
  let at = 0;
  // The rise by the inductance is no resonance.
  for (let i = 0; i < hz.length && hz[i] < 3000; i++)
    if (Math.hypot(re[i], im[i]) > Math.hypot(re[at], im[at])) at = i;
  return at;
}

function firstGuess(hz: Float64Array, z: Spectrum, peak: number): number[] {
  const size = z.re.map((re, i) => Math.hypot(re, z.im[i]));
  const least = size.reduce((low, ohms) => Math.min(low, ohms), Infinity);
  const last = hz.length - 1;
  const topOmega = 2 * Math.PI * hz[last];
  const reactance = Math.max(0.05 * least, z.im[last]);
  const ladder = Array.from({ length: ladderCount }, (_, k) => [
    Math.log(reactance / 2),
    Math.log(topOmega / 8 ** (ladderCount - 1 - k)),
  ]).flat();
  return [
    Math.log(0.9 * least),
    Math.log((0.3 * reactance) / topOmega),
    ...ladder,
    ...resonanceAt(hz, z, peak, size[peak] - least),
  ];
}

const resonanceAt = (hz: Float64Array, z: Spectrum, at: number, ohms?: number): number[] => [
  Math.log(Math.max(1e-3, ohms ?? 0.02 * Math.hypot(z.re[at], z.im[at]))),
  Math.log(2 * Math.PI * hz[at]),
  Math.log(3),
];

/** The chain's impedance over its parameters, with derivatives, and its fit. */
function createChain(hz: Float64Array, wanted: Spectrum, weight: Float64Array) {
  const count = hz.length;
  const omega = hz.map((f) => 2 * Math.PI * f);

  function residuals(p: Float64Array, out: Float64Array): void {
    const [r, l] = [Math.exp(p[0]), Math.exp(p[1])];
    for (let i = 0; i < count; i++) {
      out[2 * i] = weight[i] * (r - wanted.re[i]);
      out[2 * i + 1] = weight[i] * (l * omega[i] - wanted.im[i]);
    }
    for (let k = 2; k < fixedCount; k += 2) {
      // R·jx/(1 + jx) with x = ω/ω_k, ω_k = R/L.
      const [ohms, corner] = [Math.exp(p[k]), Math.exp(p[k + 1])];
      for (let i = 0; i < count; i++) {
        const x = omega[i] / corner;
        const size = (weight[i] * ohms * x) / (1 + x * x);
        out[2 * i] += size * x;
        out[2 * i + 1] += size;
      }
    }
    for (let k = fixedCount; k < p.length; k += 3) {
      // R/(1 + ju) with u = Q(ω/ω_m − ω_m/ω).
      const [ohms, middle, q] = [Math.exp(p[k]), Math.exp(p[k + 1]), Math.exp(p[k + 2])];
      for (let i = 0; i < count; i++) {
        const u = q * (omega[i] / middle - middle / omega[i]);
        const size = (weight[i] * ohms) / (1 + u * u);
        out[2 * i] += size;
        out[2 * i + 1] -= size * u;
      }
    }
  }

  function derivatives(p: Float64Array, columns: readonly Float64Array[]): void {
    const [r, l] = [Math.exp(p[0]), Math.exp(p[1])];
    for (let i = 0; i < count; i++) {
      columns[0][2 * i] = weight[i] * r;
      columns[1][2 * i + 1] = weight[i] * l * omega[i];
    }
    for (let k = 2; k < fixedCount; k += 2) {
      const [ohms, corner] = [Math.exp(p[k]), Math.exp(p[k + 1])];
      const [byOhms, byCorner] = [columns[k], columns[k + 1]];
      for (let i = 0; i < count; i++) {
        const x = omega[i] / corner;
        const square = 1 + x * x;
        const size = (weight[i] * ohms * x) / square;
        byOhms[2 * i] = size * x;
        byOhms[2 * i + 1] = size;
        // −R·jx/(1 + jx)².
        byCorner[2 * i] = (-2 * size * x) / square;
        byCorner[2 * i + 1] = (-size * (1 - x * x)) / square;
      }
    }
    for (let k = fixedCount; k < p.length; k += 3) {
      const [ohms, middle, q] = [Math.exp(p[k]), Math.exp(p[k + 1]), Math.exp(p[k + 2])];
      const [byOhms, byMiddle, byQ] = [columns[k], columns[k + 1], columns[k + 2]];
      for (let i = 0; i < count; i++) {
        const [above, below] = [omega[i] / middle, middle / omega[i]];
        const u = q * (above - below);
        const square = 1 + u * u;
        const size = (weight[i] * ohms) / square;
        byOhms[2 * i] = size;
        byOhms[2 * i + 1] = -size * u;
        // −jR·u'/(1 + ju)²: 1/(1 + ju)² = (1 − u² − 2ju)/(1 + u²)².
        const re = (-2 * size * u) / square;
        const im = (-size * (1 - u * u)) / square;
        const turn = -q * (above + below);
        byMiddle[2 * i] = re * turn;
        byMiddle[2 * i + 1] = im * turn;
        byQ[2 * i] = re * u;
        byQ[2 * i + 1] = im * u;
      }
    }
  }

  return {
    fit(start: readonly number[]) {
      // Parts stay between 10 nH, 1 mΩ and what no voice coil has; resonances may be as flat or
      // sharp as they come.
      const lower = Float64Array.from(start, (_, k) => (k === 1 ? Math.log(1e-8) : Math.log(1e-3)));
      const upper = Float64Array.from(start, (_, k) => (k === 1 ? 0 : Math.log(1e7)));
      const { parameters } = leastSquares(
        start.map((value, k) => Math.min(upper[k], Math.max(lower[k], value))),
        2 * count,
        residuals,
        { derivatives, lower, upper, mostSteps: 300, settledAt: 1e-9 },
      );
      const out = new Float64Array(2 * count);
      residuals(parameters, out);
      let [worst, worstAt, squares] = [0, 0, 0];
      for (let i = 0; i < count; i++) {
        const square = out[2 * i] ** 2 + out[2 * i + 1] ** 2;
        squares += square;
        if (square > worst) [worst, worstAt] = [square, i];
      }
      return {
        parameters: [...parameters],
        worstAt,
        worstPercent: 100 * Math.sqrt(worst),
        rmsPercent: 100 * Math.sqrt(squares / count),
      };
    },
  };
}

/** Parts of the chain, to six digits: more than any measurement holds. */
function sectionsOf(p: readonly number[]): Section[] {
  const digits = (value: number) => Number(value.toPrecision(6));
  const sections: Section[] = [
    { ohms: digits(Math.exp(p[0])), henries: null, farads: null },
    { ohms: null, henries: digits(Math.exp(p[1])), farads: null },
  ];
  for (let k = 2; k < fixedCount; k += 2) {
    const ohms = Math.exp(p[k]);
    sections.push({
      ohms: digits(ohms),
      henries: digits(ohms / Math.exp(p[k + 1])),
      farads: null,
    });
  }
  for (let k = fixedCount; k < p.length; k += 3) {
    const [ohms, middle, q] = [p[k], p[k + 1], p[k + 2]].map(Math.exp);
    // Q = R·√(C/L), ω_m = 1/√(LC).
    sections.push({
      ohms: digits(ohms),
      henries: digits(ohms / (q * middle)),
      farads: digits(q / (ohms * middle)),
    });
  }
  return sections;
}
