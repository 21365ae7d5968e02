import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { leastSquares, type Fit } from '@/core/search/leastSquares';
import { terminalImpedance, unloaded, type Loading, type TerminalModel } from './model';

/** Thiele–Small and voice-coil parameters. Null where what was measured does not say. */
export interface DriverParameters {
  readonly fsHz: number;
  readonly qms: number;
  readonly qes: number;
  readonly qts: number;
  readonly reOhm: number;
  /** Of a semi-inductance, what has the same reactance at 1 kHz. */
  readonly leHenry: number;
  readonly le2Henry: number | null;
  readonly re2Ohm: number | null;
  /** Semi-inductance K(jω)ⁿ, K in Ω·sⁿ. */
  readonly semiK: number | null;
  readonly semiN: number | null;
  readonly vasM3: number | null;
  readonly mmsKg: number | null;
  readonly cmsMPerN: number | null;
  readonly blTm: number | null;
}

export interface ParameterFit {
  readonly parameters: DriverParameters;
  /**
   * One standard error of each parameter by the noise of the data, in its own unit; 0 for one that
   * was given.
   */
  readonly standardErrors: DriverParameters;
  /**
   * The same with what the set-up is usually off by, for what depends on area, mass, volume and
   * air; else as by noise.
   */
  readonly wholeErrors: DriverParameters;
  /** The model over the data: measured and fitted curves belong together in this order. */
  readonly model: TerminalModel;
  readonly loadings: readonly Loading[];
  /** Relative misfit, rms over all points. */
  readonly misfit: number;
}

/**
 * What was measured beside free air. A box may be leaky or stuffed, and its air loads the cone:
 * mass and losses in it are fitted.
 */
export type SecondRun =
  | { readonly kind: 'added-mass'; readonly samples: Samples; readonly massKg: number }
  | { readonly kind: 'known-box'; readonly samples: Samples; readonly volumeM3: number };

export interface FitOptions {
  readonly sdM2: number;
  /** Resistance of the coil when it was measured with direct current; fitted when null. */
  readonly reOhm?: number | null;
  /** Resistance of leads and clips that is in the measured impedances. */
  readonly leadOhm?: number;
  readonly airTemperatureC?: number;
}

/** How many logarithms a second run adds. */
const extraCount = (second: SecondRun | null): number =>
  second === null ? 0 : second.kind === 'added-mass' ? 1 : 3;

/** Places of the fitted logarithms. */
const place = { fs: 0, qms: 1, qes: 2, re: 3, le: 4 } as const;

/**
 * Driver parameters from impedance with phase, by least squares of the whole complex curves, all
 * runs at once. The residuals are relative to the magnitude, as the errors of an impedance rig are.
 * A ladder L2 ∥ R2 or a semi-inductance is added to the plain inductance when it explains more than
 * chance would (Schwarz's criterion, 1978).
 *
 * @param free impedance in free air, ohms and degrees
 * @param second driver with added mass, or on a closed box of known volume; null leaves Vas, Mms,
 *   Cms and Bl unknown
 * @throws ProblemError `impedance_needs_phase`, `no_resonance`
 */
export function fitDriver(
  free: Samples,
  second: SecondRun | null,
  options: FitOptions,
): ParameterFit {
  const runs = [free, ...(second ? [second.samples] : [])].map((samples, i) =>
    complexImpedance(samples, i === 0 ? 'free air' : second!.kind, options.leadOhm ?? 0),
  );
  const start = firstGuess(runs[0], options.reOhm ?? null);
  const plain = fitModel(runs, second, start, options, 'plain');
  const from = [...plain.fit.parameters];
  const others = (['ladder', 'semi'] as const).map((coil) =>
    fitModel(runs, second, from, options, coil),
  );
  const points = 2 * runs.reduce((sum, run) => sum + run.hz.length, 0);
  const score = ({ fit }: Fitted) =>
    points * Math.log(fit.squares / points + 1e-24) + fit.parameters.length * Math.log(points);
  const best = others
    .filter(({ isPlausible }) => isPlausible)
    .reduce((a, b) => (score(b) < score(a) ? b : a), plain);
  return report(best, second, points, options);
}

interface Run {
  readonly hz: Float64Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

function complexImpedance(
  { frequencyHz, magnitude, phaseDeg }: Samples,
  what: string,
  leadOhm: number,
): Run {
  if (!phaseDeg)
    throw problem(
      'impedance_needs_phase',
      what,
      'This impedance has no phase.',
      'The whole complex curve is fitted.',
      'Measure or export it with phase.',
    );
  const angle = phaseDeg.map((degrees) => (degrees * Math.PI) / 180);
  return {
    hz: frequencyHz,
    re: magnitude.map((ohms, i) => ohms * Math.cos(angle[i]) - leadOhm),
    im: magnitude.map((ohms, i) => ohms * Math.sin(angle[i])),
  };
}

/** Peak, its height over the resistance and its width (Small 1972), as a place to start from. */
function firstGuess({ hz, re, im }: Run, givenRe: number | null): number[] {
  const size = re.map((x, i) => Math.hypot(x, im[i]));
  const reOhm =
    givenRe ?? Math.max(size.reduce((low, z) => Math.min(low, z), Infinity) * 0.95, 0.05);
  // The resonance is the highest point at which the phase passes through zero; the coil's rise has
  // no such place.
  let peak = -1;
  for (let i = 1; i < hz.length - 1; i++) {
    const isCrossing = im[i - 1] >= 0 && im[i + 1] <= 0;
    if (isCrossing && size[i] > size[0] * 0.9 && (peak < 0 || size[i] > size[peak])) peak = i;
  }
  if (peak < 0 || size[peak] < 1.15 * reOhm)
    throw problem(
      'no_resonance',
      'free air',
      'This impedance shows no resonance.',
      'Its phase never falls through zero at a peak.',
      'Measure the driver in free air, from well below its resonance.',
    );
  const r0 = size[peak] / reOhm;
  const level = reOhm * Math.sqrt(r0);
  let [low, high] = [peak, peak];
  while (low > 0 && size[low] > level) low--;
  while (high < hz.length - 1 && size[high] > level) high++;
  const qms = Math.max(
    0.3,
    (hz[peak] * Math.sqrt(r0)) / Math.max(hz[high] - hz[low], hz[peak] * 0.01),
  );
  const last = hz.length - 1;
  const le = Math.max(im[last] / (2 * Math.PI * hz[last]), 1e-6);
  return [hz[peak], qms, qms / (r0 - 1), reOhm, le].map(Math.log);
}

interface Fitted {
  readonly fit: Fit;
  readonly model: TerminalModel;
  readonly loadings: readonly Loading[];
  /** A ladder far outside the data, or without effect, is no finding. */
  readonly isPlausible: boolean;
  /** Which of the fitted logarithms is the second run's, −1 for none. */
  readonly extraAt: number;
  /** Where the logarithms of the voice coil's second branch begin. */
  readonly coilAt: number;
  readonly isReGiven: boolean;
}

function fitModel(
  runs: readonly Run[],
  second: SecondRun | null,
  startFrom: readonly number[],
  { reOhm }: FitOptions,
  coil: 'plain' | 'ladder' | 'semi',
): Fitted {
  const extraAt = second ? 5 : -1;
  // The second run's excess first; in a box then its mass and its losses.
  const coilAt = 5 + extraCount(second);
  const start = startFrom.slice(0, coilAt);
  if (second && start.length < coilAt)
    start.push(...[extraGuess(runs, second.kind), 0, 0].slice(0, extraCount(second)));
  const le = Math.exp(start[place.le]);
  // The eddy currents take over some of the plain inductance: begin with half of it, turning over
  // mid-band.
  if (coil === 'ladder') {
    start[place.le] = Math.log(le / 2);
    start.push(Math.log(le), Math.log(2 * Math.PI * 1000 * le + 0.1));
  }
  // n = 0.5 + 0.5/(1 + e^−x): between diffusion alone and a plain inductance.
  if (coil === 'semi') {
    // It is in the place of the plain inductance; the same reactance at 2 kHz to begin with.
    start[place.le] = Math.log(le * (2 * Math.PI * 2000) ** 0.3);
    start.push(0);
  }
  const model = (p: ArrayLike<number>): TerminalModel => ({
    fsHz: Math.exp(p[place.fs]),
    qms: Math.exp(p[place.qms]),
    qes: Math.exp(p[place.qes]),
    reOhm: reOhm ?? Math.exp(p[place.re]),
    leHenry: coil === 'semi' ? 0 : Math.exp(p[place.le]),
    ladder: coil === 'ladder' ? { henry: Math.exp(p[coilAt]), ohm: Math.exp(p[coilAt + 1]) } : null,
    semi:
      coil === 'semi'
        ? { k: Math.exp(p[place.le]), n: 0.5 + 0.5 / (1 + Math.exp(-p[coilAt])) }
        : null,
  });
  const loadings = (p: ArrayLike<number>): Loading[] => {
    if (!second) return [unloaded];
    const factor = 1 + Math.exp(p[extraAt]);
    return [
      unloaded,
      second.kind === 'added-mass'
        ? { ...unloaded, massFactor: factor }
        : {
            massFactor: Math.exp(p[extraAt + 1]),
            stiffnessFactor: factor,
            lossFactor: Math.exp(p[extraAt + 2]),
          },
    ];
  };
  const count = 2 * runs.reduce((sum, { hz }) => sum + hz.length, 0);
  const z = new Float64Array(2);
  const fit = leastSquares(start, count, (p, out) => {
    const [driver, loads] = [model(p), loadings(p)];
    let at = 0;
    for (let r = 0; r < runs.length; r++) {
      const { hz, re, im } = runs[r];
      for (let i = 0; i < hz.length; i++) {
        terminalImpedance(driver, loads[r], hz[i], z, 0);
        const size = Math.sqrt(re[i] * re[i] + im[i] * im[i]);
        out[at++] = (z[0] - re[i]) / size;
        out[at++] = (z[1] - im[i]) / size;
      }
    }
  });
  const found = model(fit.parameters);
  const { ladder } = found;
  const corner = ladder ? ladder.ohm / (2 * Math.PI * ladder.henry) : 0;
  const highest = runs[0].hz[runs[0].hz.length - 1];
  return {
    fit,
    model: found,
    loadings: loadings(fit.parameters),
    isPlausible: !ladder || (corner > found.fsHz / 2 && corner < 4 * highest && ladder.ohm < 1000),
    extraAt,
    coilAt,
    isReGiven: reOhm !== undefined && reOhm !== null,
  };
}

/** Inductance that has the reactance of a semi-inductance at 1 kHz. */
const inductanceAt1kHz = ({ k, n }: { readonly k: number; readonly n: number }) =>
  k * (2000 * Math.PI) ** (n - 1) * Math.sin((n * Math.PI) / 2);

/** How far the peak moved: fs falls with √(1 + Δm/M) and rises with √(1 + Vas/V). */
function extraGuess([free, other]: readonly Run[], kind: SecondRun['kind']): number {
  const peakHz = (run: Run) => Math.exp(firstGuess(run, null)[place.fs]);
  const ratio = kind === 'added-mass' ? peakHz(free) / peakHz(other) : peakHz(other) / peakHz(free);
  if (!(ratio > 1.01))
    throw problem(
      'no_shift',
      kind === 'added-mass' ? 'with added mass' : 'on the box',
      `The resonance did not move ${kind === 'added-mass' ? 'down' : 'up'}.`,
      'Without a shift the moving mass can’t be told.',
      'Check that the two measurements are not swapped; add more mass, or use a smaller box.',
    );
  return Math.log(ratio * ratio - 1);
}

/**
 * What a set-up is usually off by, as shares: 2 % in diameter are 4 % in area; air pressure by the
 * weather (common practice).
 */
const usuallyOff = { area: 0.04, mass: 0.01, volume: 0.02, pressure: 0.02 };

/**
 * Relative errors of Vas and of the moving mass by the set-up. With a weighed mass Mms ∝ Δm and Vas
 * ∝ p·Sd²/Δm; with a known box Vas ∝ V, whatever the area, and Mms ∝ p·Sd²/V.
 */
function setupErrors(second: SecondRun | null): { readonly vas: number; readonly mms: number } {
  const { area, mass, volume, pressure } = usuallyOff;
  const stiffness = Math.hypot(2 * area, pressure);
  return second?.kind === 'added-mass'
    ? { vas: Math.hypot(stiffness, mass), mms: mass }
    : { vas: volume, mms: Math.hypot(stiffness, volume) };
}

/** dn of a semi-inductance over the fitted x, n = 0.5 + 0.5/(1 + e^−x). */
const semiSlope = (n: number) => 2 * (n - 0.5) * (1 - n);

/**
 * Error of ln L at 1 kHz: d ln L = d ln K + (ln ω + (π/2)·cot(nπ/2))·dn, with the covariance of K
 * and n, which nearly cancel.
 */
function semiError({ covariance }: Fit, n: number, coilAt: number): number {
  const byN = (Math.log(2000 * Math.PI) + Math.PI / 2 / Math.tan((n * Math.PI) / 2)) * semiSlope(n);
  const [k, x] = [place.le, coilAt];
  return Math.sqrt(
    Math.max(0, covariance[k][k] + 2 * byN * covariance[k][x] + byN ** 2 * covariance[x][x]),
  );
}

function report(
  { fit, model, loadings, extraAt, coilAt, isReGiven }: Fitted,
  second: SecondRun | null,
  points: number,
  { sdM2, airTemperatureC = 20 }: FitOptions,
): ParameterFit {
  const { fsHz, qms, qes, reOhm, leHenry, ladder, semi } = model;
  const stiffness =
    airDensityKgpm3(airTemperatureC) * speedOfSoundMps(airTemperatureC) ** 2 * sdM2 ** 2;
  /**
   * Every quantity is a product of powers of the fitted ones: the exponents give its logarithm's
   * error. Of the second run, Mms goes with Δm/(factor − 1), Vas with (factor − 1)·Vb.
   */
  const powers = (exponents: Partial<Record<keyof typeof place | 'extra', number>>): number => {
    const at = Object.entries(exponents).flatMap(([key, power]) => {
      if ((key === 're' && isReGiven) || (key === 'extra' && extraAt < 0)) return [];
      return [[key === 'extra' ? extraAt : place[key as keyof typeof place], power] as const];
    });
    let variance = 0;
    for (const [i, a] of at) for (const [j, b] of at) variance += a * b * fit.covariance[i][j];
    return Math.sqrt(Math.max(0, variance));
  };
  const excess =
    second &&
    (second.kind === 'added-mass' ? loadings[1].massFactor : loadings[1].stiffnessFactor) - 1;
  const compliance = 1 / (2 * Math.PI * fsHz) ** 2;
  let mmsKg: number | null = null;
  let mass: Parameters<typeof powers>[0] = {};
  if (second?.kind === 'added-mass') {
    mmsKg = second.massKg / excess!;
    mass = { extra: -1 };
  } else if (second) {
    const cms = (excess! * second.volumeM3) / stiffness;
    mmsKg = compliance / cms;
    mass = { extra: -1, fs: -2 };
  }
  const cmsMPerN = mmsKg === null ? null : compliance / mmsKg;
  const elastic = { extra: -(mass.extra ?? 0), fs: -2 - (mass.fs ?? 0) };
  const motor = {
    fs: ((mass.fs ?? 0) + 1) / 2,
    extra: (mass.extra ?? 0) / 2,
    re: 0.5,
    qes: -0.5,
  };
  const inductance = semi ? inductanceAt1kHz(semi) : leHenry;
  const qts = (qms * qes) / (qms + qes);
  const qtsPowers = { qms: qts / qms, qes: qts / qes };
  const vasM3 = cmsMPerN === null ? null : cmsMPerN * stiffness;
  const blTm = mmsKg === null ? null : Math.sqrt((2 * Math.PI * fsHz * mmsKg * reOhm) / qes);
  const scaled = (value: number | null, error: number) => (value === null ? null : value * error);
  const deviation = (i: number) => Math.sqrt(fit.covariance[i][i]);
  const standardErrors: DriverParameters = {
    fsHz: fsHz * powers({ fs: 1 }),
    qms: qms * powers({ qms: 1 }),
    qes: qes * powers({ qes: 1 }),
    qts: qts * powers(qtsPowers),
    reOhm: reOhm * powers({ re: 1 }),
    leHenry: inductance * (semi ? semiError(fit, semi.n, coilAt) : powers({ le: 1 })),
    le2Henry: ladder && ladder.henry * deviation(coilAt),
    re2Ohm: ladder && ladder.ohm * deviation(coilAt + 1),
    semiK: semi && semi.k * deviation(place.le),
    semiN: semi && semiSlope(semi.n) * deviation(coilAt),
    vasM3: scaled(vasM3, powers(elastic)),
    mmsKg: scaled(mmsKg, powers(mass)),
    cmsMPerN: scaled(cmsMPerN, powers(elastic)),
    blTm: scaled(blTm, powers(motor)),
  };
  const whole = (value: number | null, error: number | null, setup: number) =>
    value === null || error === null ? null : Math.hypot(error, value * setup);
  const setup = setupErrors(second);
  return {
    parameters: {
      fsHz,
      qms,
      qes,
      qts,
      reOhm,
      leHenry: inductance,
      le2Henry: ladder?.henry ?? null,
      re2Ohm: ladder?.ohm ?? null,
      semiK: semi?.k ?? null,
      semiN: semi?.n ?? null,
      vasM3,
      mmsKg,
      cmsMPerN,
      blTm,
    },
    standardErrors,
    wholeErrors: {
      ...standardErrors,
      vasM3: whole(vasM3, standardErrors.vasM3, setup.vas),
      mmsKg: whole(mmsKg, standardErrors.mmsKg, setup.mms),
      cmsMPerN: whole(cmsMPerN, standardErrors.cmsMPerN, setup.mms),
      blTm: whole(blTm, standardErrors.blTm, setup.mms / 2),
    },
    model,
    loadings,
    misfit: Math.sqrt((2 * fit.squares) / points),
  };
}
