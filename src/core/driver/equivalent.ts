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

  /** Calls with the value and derivatives of each parameter's two-pole at one frequency. */
  function evaluate(
    p: ArrayLike<number>,
    i: number,
    onTerm: (re: number, im: number) => void,
    onSlope: ((parameter: number, re: number, im: number) => void) | null,
  ): void {
    const w = omega[i];
    const r = Math.exp(p[0]);
    onTerm(r, 0);
    onSlope?.(0, r, 0);
    const x = w * Math.exp(p[1]);
    onTerm(0, x);
    onSlope?.(1, 0, x);
    for (let k = 2; k < fixedCount; k += 2) {
      // R·jx/(1 + jx) with x = ω/ω_k, ω_k = R/L.
      const [ohms, turn] = [Math.exp(p[k]), w / Math.exp(p[k + 1])];
      const square = 1 + turn * turn;
      const [re, im] = [(ohms * turn * turn) / square, (ohms * turn) / square];
      onTerm(re, im);
      onSlope?.(k, re, im);
      // −R·jx/(1 + jx)².
      onSlope?.(
        k + 1,
        (-2 * ohms * turn * turn) / (square * square),
        (-ohms * turn * (1 - turn * turn)) / (square * square),
      );
    }
    for (let k = fixedCount; k < p.length; k += 3) {
      // R/(1 + ju) with u = Q(ω/ω_m − ω_m/ω).
      const [ohms, middle, q] = [Math.exp(p[k]), Math.exp(p[k + 1]), Math.exp(p[k + 2])];
      const u = q * (w / middle - middle / w);
      const square = 1 + u * u;
      onTerm(ohms / square, (-ohms * u) / square);
      onSlope?.(k, ohms / square, (-ohms * u) / square);
      // −jR·u'/(1 + ju)²: 1/(1 + ju)² = (1 − u² − 2ju)/(1 + u²)².
      const [slopeRe, slopeIm] = [
        (-2 * ohms * u) / (square * square),
        (-ohms * (1 - u * u)) / (square * square),
      ];
      const byMiddle = -q * (w / middle + middle / w);
      onSlope?.(k + 1, slopeRe * byMiddle, slopeIm * byMiddle);
      onSlope?.(k + 2, slopeRe * u, slopeIm * u);
    }
  }

  function residuals(p: Float64Array, out: Float64Array): void {
    for (let i = 0; i < count; i++) {
      let [re, im] = [-wanted.re[i], -wanted.im[i]];
      evaluate(
        p,
        i,
        (termRe, termIm) => {
          re += termRe;
          im += termIm;
        },
        null,
      );
      out[2 * i] = weight[i] * re;
      out[2 * i + 1] = weight[i] * im;
    }
  }

  function derivatives(p: Float64Array, columns: readonly Float64Array[]): void {
    for (let i = 0; i < count; i++)
      evaluate(
        p,
        i,
        () => undefined,
        (parameter, re, im) => {
          columns[parameter][2 * i] = weight[i] * re;
          columns[parameter][2 * i + 1] = weight[i] * im;
        },
      );
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
