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
  /** Only as sure as the driver's Vas: the impedance tells how stiff the box is beside the cone. */
  readonly volumeM3: Fitted;
  /** Null for a sealed box. */
  readonly tunedHz: Fitted | null;
  /** Leakage as a Q, all other losses but those of the plan in it. */
  readonly ql: Fitted;
  /** Of the impedance from the model's, rms over the band, as a share. */
  readonly misfit: number;
}

/** Beyond this many times the driver's resonance the box tells nothing. */
const bandTimes = 5;
const fewestPoints = 12;
const withoutLeakage = 50;
/** First guesses over the plan: a built box is seldom further off. */
const guesses = [0.65, 1, 1.5];

/**
 * Volume, tuning and leakage of a built box from its impedance by least squares of the whole circuit,
 * starting from the plan. Coil and its resistance are fitted along, so that leads and temperature do
 * not fall on the box.
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
    const { second } = driver;
    const fitted: BoxDriver = {
      ...driver,
      // Qes goes with Re: the motor stays.
      ...{ reOhm: driver.reOhm * Math.exp(p[2]), qes: driver.qes * Math.exp(p[2]) },
      leHenry: driver.leHenry * coil,
      second: second && { henry: second.henry * coil, ohm: second.ohm * coil },
    };
    const built: Planned = isVented
      ? { ...enclosure, ...box, port: tuned(box.volumeM3, plannedHz * Math.exp(p[4])) }
      : { ...enclosure, ...box };
    return { driver: fitted, enclosure: built, air };
  };
  const plannedHz = isVented ? tuningHz(enclosure.volumeM3, enclosure.port, air) : 0;
  const tuned = (volumeM3: number, hz: number): Port => {
    const { port } = enclosure as Extract<Planned, { kind: 'vented' }>;
    return { ...port, lengthM: portLengthM(volumeM3, hz, port, air) };
  };

  const count = frequencyHz.length * (phase ? 2 : 1);
  const residuals = (p: Float64Array, out: Float64Array) => {
    const { ohms: found, zDeg } = boxCurves(model(p), source, frequencyHz);
    for (let i = 0; i < frequencyHz.length; i++) {
      out[i] = Math.log(found[i] / ohms[i]);
      if (phase) out[frequencyHz.length + i] = turn(zDeg[i] - phase[i]);
    }
  };
  let best: Fit | null = null;
  for (const volume of guesses)
    for (const tuning of isVented ? guesses : [1]) {
      const start = [Math.log(volume), 0, 0, 0, ...(isVented ? [Math.log(tuning)] : [])];
      const bound = (side: number) =>
        Float64Array.from(start, (_, k) => side * [2.5, 4, 0.5, 1.5, 1.5][k]);
      const fit = leastSquares(start, count, residuals, { lower: bound(-1), upper: bound(1) });
      if (!best || fit.squares < best.squares) best = fit;
    }
  if (!best) throw new RangeError('No start of the fit was tried.');
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
      found.kind === 'vented' ? fittedOf(tuningHz(found.volumeM3, found.port, air), 4) : null,
    ql: fittedOf(found.ql ?? Infinity, 1),
    misfit: Math.sqrt(best.squares / count),
  };
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
  readonly kind: 'volume' | 'port' | 'leak';
  /** Built over planned. */
  readonly ratio: number;
}

/** Differences that are worth a word: above this share, and above two standard errors. */
const worthShare = 0.05;
/** Leakage below which a box is not tight (common practice, no source). */
const leakyQl = 5;

/** Differences of a built box from its plan, largest first. */
export function boxDifferences(plan: Planned, built: MeasuredBox): BoxDifference[] {
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
  const { value, standardError } = built.ql;
  if (value < leakyQl && (plan.ql === null || value < plan.ql))
    tell('leak', value / (plan.ql ?? withoutLeakage), standardError);
  return differences.sort((a, b) => Math.abs(Math.log(b.ratio)) - Math.abs(Math.log(a.ratio)));
}
