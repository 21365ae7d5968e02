import type { Samples } from '@/core/measurement/samples';
import { leastSquares, type Fit } from '@/core/search/leastSquares';
import {
  effectiveLengthM,
  portLengthM,
  tuningHz,
  type Air,
  type BoxDriver,
  type BoxSystem,
  type Enclosure,
  type Port,
} from './enclosure';
import { boxCurves } from './response';
import { behindResistance } from './source';

type Planned = Extract<Enclosure, { kind: 'sealed' | 'vented' }>;

/** A value that was fitted, and its standard error, as a share of it. */
export interface Fitted {
  readonly value: number;
  readonly standardError: number;
}

/** A built box as its impedance tells of it. */
export interface MeasuredBox {
  /** The plan's, with what was found in it: its port has the length that would tune it like that. */
  readonly enclosure: Planned;
  /**
   * Of a vented box by itself; of a sealed one only the stiffness of box and suspension together is
   * told, and what is usual of both divides it.
   */
  readonly volumeM3: Fitted;
  /** Null for a sealed box. */
  readonly tunedHz: Fitted | null;
  /** Leakage as a Q, all other losses but those of the plan in it. */
  readonly ql: Fitted;
  /** Compliance of the driver's suspension over that of its figures; mass and motor are theirs. */
  readonly compliance: Fitted;
  /** Of the impedance from the model's, rms over the band, as a share. */
  readonly misfit: number;
}

/** Beyond this many times the driver's resonance the box tells nothing. */
export const bandTimes = 5;
const fewestPoints = 12;
const withoutLeakage = 50;
/**
 * How far suspensions and volumes usually are from what their figures say, as nepers: where the
 * impedance does not tell, that does, the more the further it is from any such circuit.
 */
const usually = { compliance: 0.2, volume: 0.05 };
/** How far an impedance is from a circuit, as a share: usually, and at the least. */
const misfits = { usual: 0.01, least: 1e-4 };
/** First guesses over the plan: a built box is seldom further off. */
const guesses = [0.65, 1, 1.5];

/**
 * Volume, tuning and leakage of a built box from its impedance by least squares of the whole circuit,
 * starting from the plan. Coil, its resistance and the driver's compliance are fitted along, so that
 * leads, temperature and a suspension that has run in do not fall on the box.
 *
 * @param impedance at the driver's terminals, with or without phase
 * @throws RangeError when too little of the impedance is near the driver's resonance
 */
export function fitMeasuredBox(
  { driver, enclosure, air }: BoxSystem & { readonly enclosure: Planned },
  impedance: Samples,
): MeasuredBox {
  const inside = [...impedance.frequencyHz.keys()].filter(
    (i) => impedance.frequencyHz[i] <= bandTimes * driver.fsHz,
  );
  const frequencyHz = Float64Array.from(inside, (i) => impedance.frequencyHz[i]);
  if (inside.length < fewestPoints || frequencyHz[0] > driver.fsHz / 2)
    throw new RangeError(
      `The impedance has ${inside.length} points up to ${(bandTimes * driver.fsHz).toFixed(0)} Hz` +
        ` from ${impedance.frequencyHz[0].toFixed(0)} Hz on; the box needs ${fewestPoints} from` +
        ` ${(driver.fsHz / 2).toFixed(0)} Hz on. Measure it again further down.`,
    );
  const { phaseDeg } = impedance;
  const ohms = inside.map((i) => impedance.magnitude[i]);
  const phase = phaseDeg && inside.map((i) => phaseDeg[i]);
  const source = behindResistance(1, 0, frequencyHz.length);
  const isVented = enclosure.kind === 'vented';

  const model = (p: ArrayLike<number>) => {
    const box = {
      volumeM3: enclosure.volumeM3 * Math.exp(p[0]),
      ql: (enclosure.ql ?? withoutLeakage) * Math.exp(p[1]),
    };
    const coil = Math.exp(p[3]);
    const softer = Math.exp(p[4]);
    const { second } = driver;
    const fitted: BoxDriver = {
      ...driver,
      // Mass, motor and losses stay: fs and both Q's go with the root of the stiffness, Qes with Re.
      fsHz: driver.fsHz / Math.sqrt(softer),
      vasM3: driver.vasM3 * softer,
      qms: driver.qms / Math.sqrt(softer),
      reOhm: driver.reOhm * Math.exp(p[2]),
      qes: (driver.qes * Math.exp(p[2])) / Math.sqrt(softer),
      leHenry: driver.leHenry * coil,
      second: second && { henry: second.henry * coil, ohm: second.ohm * coil },
    };
    const built: Planned = isVented
      ? { ...enclosure, ...box, port: tuned(box.volumeM3, plannedHz * Math.exp(p[5])) }
      : { ...enclosure, ...box };
    return { driver: fitted, enclosure: built, air };
  };
  const plannedHz = isVented ? tuningHz(enclosure.volumeM3, enclosure.port, air) : 0;
  const tuned = (volumeM3: number, hz: number): Port => {
    const { port } = enclosure as Extract<Planned, { kind: 'vented' }>;
    return { ...port, lengthM: portLengthM(volumeM3, hz, port, air) };
  };

  const measured = frequencyHz.length * (phase ? 2 : 1);
  const count = measured + 2;
  const residuals = (p: Float64Array, out: Float64Array) => {
    const { ohms: found, zDeg } = boxCurves(model(p), source, frequencyHz);
    for (let i = 0; i < frequencyHz.length; i++) {
      out[i] = Math.log(found[i] / ohms[i]);
      if (phase) out[frequencyHz.length + i] = turn(zDeg[i] - phase[i]);
    }
    out[measured] = (misfit * p[0]) / usually.volume;
    out[measured + 1] = (misfit * p[4]) / usually.compliance;
  };
  let misfit = misfits.usual;
  const bound = (side: number) =>
    Float64Array.from({ length: isVented ? 6 : 5 }, (_, k) => side * [2.5, 4, 0.5, 1.5, 1, 1.5][k]);
  const fitFrom = (start: ArrayLike<number>) =>
    leastSquares(start, count, residuals, { lower: bound(-1), upper: bound(1) });
  let best: Fit | null = null;
  for (const volume of guesses)
    for (const tuning of isVented ? guesses : [1]) {
      const start = [Math.log(volume), 0, 0, 0, 0, ...(isVented ? [Math.log(tuning)] : [])];
      const fit = fitFrom(start);
      if (!best || fit.squares < best.squares) best = fit;
    }
  if (!best) throw new RangeError('No start of the fit was tried.');
  // Once more with what is usual weighed by how well this impedance fits.
  misfit = Math.max(misfits.least, Math.sqrt(best.squares / measured));
  best = fitFrom(best.parameters);
  const found = model(best.parameters).enclosure;
  const { covariance } = best;
  const fittedOf = (value: number, k: number): Fitted => ({
    value,
    standardError: Math.sqrt(Math.max(0, covariance[k][k])),
  });
  return {
    enclosure: found,
    volumeM3: fittedOf(found.volumeM3, 0),
    tunedHz:
      found.kind === 'vented' ? fittedOf(tuningHz(found.volumeM3, found.port, air), 5) : null,
    ql: fittedOf(found.ql ?? Infinity, 1),
    compliance: fittedOf(Math.exp(best.parameters[4]), 4),
    misfit: Math.sqrt(best.squares / measured),
  };
}

/** A peak of an impedance over the saddles beside it, as a ratio. */
const peakOver = 1.15;

/** Peaks of an impedance up to a frequency, each well over the saddles to its sides. */
export function peakCount({ frequencyHz, magnitude }: Samples, toHz: number): number {
  let [count, low, high, isRising] = [0, Infinity, 0, true];
  for (let i = 0; i < magnitude.length && frequencyHz[i] <= toHz; i++) {
    const ohms = magnitude[i];
    if (isRising) {
      low = Math.min(low, ohms);
      high = Math.max(high, ohms);
      if (high > peakOver * low && ohms * peakOver < high) {
        count++;
        [isRising, low] = [false, ohms];
      }
    } else {
      low = Math.min(low, ohms);
      if (ohms > peakOver * low) [isRising, high] = [true, ohms];
    }
  }
  return count;
}

/** An angle in degrees as radians within half a turn. */
const turn = (degrees: number) => ((((degrees % 360) + 540) % 360) - 180) * (Math.PI / 180);

/**
 * Length to which a built port must be cut for a tuning, from the tuning that was measured: the
 * volume and the end corrections as they turned out to be are in it.
 *
 * @param builtLengthM as it was when it was measured
 * @returns m; below 0 where no port of this width tunes so high
 */
export function correctedLengthM(
  { enclosure }: Pick<MeasuredBox, 'enclosure'>,
  builtLengthM: number,
  wantedHz: number,
  air: Air,
): number {
  if (enclosure.kind !== 'vented') throw new RangeError('A sealed box has no port to correct.');
  const { volumeM3, port } = enclosure;
  const wanted = { ...port, lengthM: portLengthM(volumeM3, wantedHz, port, air) };
  return builtLengthM + effectiveLengthM(wanted) - effectiveLengthM(port);
}

/** What a built box differs in from its plan, and why that is likely. */
export interface BoxDifference {
  readonly kind: 'volume' | 'port' | 'leak' | 'driver';
  /** Built over planned. */
  readonly ratio: number;
}

/** Differences that are worth a word: above this share, and above two standard errors. */
const worthShare = 0.05;
/** Leakage below which a box is not tight (common practice): at a tuning, and at fc. */
const leakyQl = { vented: 5, sealed: 30 } as const;

/** Model and measurement that differ by more speak of different things, as a share. */
export const mostMisfit = 0.03;

/**
 * Differences of a built box from its plan, largest first; none where model and measurement do not
 * agree, since nothing can be told from them then.
 */
export function boxDifferences(plan: Planned, built: MeasuredBox): BoxDifference[] {
  if (built.misfit > mostMisfit) return [];
  const differences: BoxDifference[] = [];
  const tell = (kind: BoxDifference['kind'], ratio: number, standardError: number) => {
    const off = Math.abs(Math.log(ratio));
    if (off > worthShare && off > 2 * standardError) differences.push({ kind, ratio });
  };
  tell('volume', built.volumeM3.value / plan.volumeM3, built.volumeM3.standardError);
  if (plan.kind === 'vented' && built.enclosure.kind === 'vented' && built.tunedHz) {
    const ratio = effectiveLengthM(built.enclosure.port) / effectiveLengthM(plan.port);
    tell('port', ratio, 2 * built.tunedHz.standardError + built.volumeM3.standardError);
  }
  tell('driver', built.compliance.value, built.compliance.standardError);
  const { value, standardError } = built.ql;
  if (value < leakyQl[plan.kind] && (plan.ql === null || value < plan.ql))
    tell('leak', value / (plan.ql ?? withoutLeakage), standardError);
  return differences.sort((a, b) => Math.abs(Math.log(b.ratio)) - Math.abs(Math.log(a.ratio)));
}
