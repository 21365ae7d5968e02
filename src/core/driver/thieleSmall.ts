import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { Samples } from '@/core/measurement/samples';
import type { Fit } from '@/core/search/leastSquares';
import type { Loading, TerminalModel } from './model';

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

/** Places of the fitted logarithms. */
export const place = { fs: 0, qms: 1, qes: 2, re: 3, le: 4 } as const;

export interface Fitted {
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

/** Inductance that has the reactance of a semi-inductance at 1 kHz. */
export const inductanceAt1kHz = ({ k, n }: { readonly k: number; readonly n: number }) =>
  k * (2000 * Math.PI) ** (n - 1) * Math.sin((n * Math.PI) / 2);

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

/** What a fit found, with the errors of each figure. */
export function parametersOf(
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
