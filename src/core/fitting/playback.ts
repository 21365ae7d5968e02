import { followedLoss, lossExponent, partValue, partKinds } from '@/core/document/partKinds';
import { makeElement } from '@/core/network/immittance';
import { gradientSolverFor, solvableOf } from '@/core/prediction/solvable';
import { windowSpectra } from '@/core/prediction/offAxisInputs';
import type { MeasurementData } from '@/core/measurement/samples';
import { partsOf, type Design } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { driveVoltsOf } from '@/core/document/programme';
import { lowestOf } from '@/core/prediction/strain';
import { programmeShares } from '@/core/spectrum/programme';
import type { Element, Netlist } from '@/core/network/netlist';
import { problem } from '@/core/problem';
import type { FitInputs } from './inputs';
import {
  createHeatPlayback,
  createSquarePlayback,
  heatProbes,
  type HeatPlayback,
  type SquarePlayback,
} from './programmePlayback';
import { createWindowPlayback, type Voice } from './windowPlayback';
import type { Variable } from './variables';

/** Slopes on the axis: of the sum in dB, of each way's level in dB and of its phase in degrees. */
export interface AxisSlopes {
  readonly sumDb: Float64Array;
  readonly levels: readonly Float64Array[];
  readonly phases: readonly Float64Array[];
}

/**
 * A design that is played with other values over and over; everything runs over the frequencies.
 */
export interface Playback {
  /** Ids of the ways that are played, in order. */
  readonly wayIds: readonly string[];
  /** Whether any driver is heard at a place of the grid. */
  readonly isHeard: (i: number) => boolean;
  /** The same for one way. */
  readonly isWayHeard: (w: number, i: number) => boolean;
  /**
   * Solves the network for logarithms of the values and fills all that follows.
   *
   * @throws ProblemError where no finite solution exists
   */
  play(logValues: Float64Array, hasSlopes: boolean): void;
  /** Pressure of each way on the axis, and its level in dB. */
  readonly partRe: readonly Float64Array[];
  readonly partIm: readonly Float64Array[];
  readonly partDb: readonly Float64Array[];
  readonly sumDb: Float64Array;
  /** Load of the amplifier. */
  readonly ohms: Float64Array;
  readonly phaseDeg: Float64Array;
  /** Slopes for a factor of e in a variable; after playing with slopes. */
  slopesOnAxis(variable: number, slopes: AxisSlopes): void;
  /** Slopes of ln|Z| and of Z's phase in degrees. */
  slopesOfLoad(variable: number, lnZ: Float64Array, angle: Float64Array): void;
  /**
   * The listening window; null when it was not asked for, or some driver was not measured off its
   * axis.
   */
  readonly windowDb: Float64Array | null;
  slopesOfWindow(variable: number, out: Float64Array): void;
  /**
   * Heat of each resistor under programme at the amplifier's power, watts; null when it was not
   * asked for.
   */
  readonly watts: Float64Array | null;
  slopesOfHeat(variable: number, out: Float64Array): void;
  /**
   * What drivers take of a programme with 1 V rms at the source; null when it was not asked for.
   */
  readonly strain: StrainPlayback | null;
  slopesOfStrain(variable: number, out: Float64Array): void;
  /** How many amplifiers there are: with one alone there is one voltage at the terminals. */
  readonly amplifierCount: number;
}

/** Drivers and their strain: mean square voltages first, then mean square excursions. */
export interface StrainPlayback {
  readonly driverIds: readonly string[];
  /** Smallest impedance of each that was measured. */
  readonly lowestOhms: readonly number[];
  /** V² per V²; then m² per V², NaN where the excursion is not known. */
  readonly values: Float64Array;
}

/** What is worked out besides response on axis and load; each costs time. */
interface PlaybackWishes {
  readonly wantsWindow: boolean;
  readonly wantsHeat: boolean;
  readonly wantsStrain: boolean;
}

const decibelsPerNeper = 20 / Math.LN10;

/**
 * @param variables from `variablesOf(design)`
 * @throws ProblemError when no way can be computed
 */
export function createPlayback(
  design: Design,
  data: MeasurementData,
  variables: readonly Variable[],
  { frequencyHz, condition, ofWays, offAxisOf, motionOf }: FitInputs,
  { wantsWindow, wantsHeat, wantsStrain }: PlaybackWishes,
): Playback {
  const circuit = solvableOf(design, data, condition, ofWays);
  if (!circuit?.ends.some(({ response }) => response !== null))
    throw problem(
      'fit_without_ways',
      design.name,
      'No way has a driver with response and impedance.',
      'There is nothing to fit.',
      'Give the ways their drivers, and the drivers their measurements.',
    );
  const points = frequencyHz.length;
  const { usable, ends, netlist, amplifiers, probes } = circuit;
  const partNames = new Set(partsOf(design).map(({ name }) => name));
  const driveVolts = wantsHeat ? driveVoltsOf(design) : null;
  const resistors = driveVolts === null ? [] : netlist.elements.filter(isResistorOf(partNames));
  const moved = variables.map(({ members }) =>
    members.filter(({ part }) => netlist.elements.some(({ name }) => name === part.name)),
  );
  const wanted = moved.flatMap((members) => members.map(({ part }) => part.name));
  const solver = gradientSolverFor(circuit, wanted, frequencyHz, heatProbes(resistors));
  const lossSlopes = new Float64Array(wanted.length);
  const current: { -readonly [K in keyof Netlist]: Netlist[K] } & { elements: Element[] } = {
    couplings: netlist.couplings,
    elements: netlist.elements.slice(),
  };
  const places = new Map(netlist.elements.map(({ name }, e) => [name, e]));

  let first = 0;
  /**
   * Ways that are heard, each with its drivers by the number of their probe and the pressure on the
   * axis per volt.
   */
  const audible = usable.flatMap(({ way, ends: own }) => {
    const from = first;
    first += own.length;
    const heard = own.flatMap((end, e): Voice[] => {
      const { response } = end;
      if (response === null) return [];
      const radiation = ofWays.radiationOf({ ...end, response }, design);
      return [{ probe: from + e, ...turned(radiation, end.sign) }];
    });
    return heard.length > 0 ? [{ wayId: way.id, heard }] : [];
  });
  const voices = audible.map(({ heard }) => heard);
  const directions = wantsWindow ? windowVoices(voices.flat()) : null;
  const window = directions && createWindowPlayback(solver, directions, points);
  const heat = driveVolts === null ? null : createHeat(driveVolts);
  const strain = wantsStrain ? createStrain() : null;
  const firsts = moved.map((_, v) =>
    moved.slice(0, v).reduce((sum, members) => sum + members.length, 0),
  );
  /** Numbers of a variable's elements among those that are wanted. */
  const elementsOf = (v: number) => moved[v].map((_, m) => firsts[v] + m);
  const namesOf = (v: number) => new Set(moved[v].map(({ part }) => part.name));

  const partRe = audible.map(() => new Float64Array(points));
  const partIm = audible.map(() => new Float64Array(points));
  const partDb = audible.map(() => new Float64Array(points));
  const sumRe = new Float64Array(points);
  const sumIm = new Float64Array(points);
  const sumDb = new Float64Array(points);
  const ohms = new Float64Array(points);
  const phaseDeg = new Float64Array(points);
  /** Number of the probe of the amplifier that has the hardest load. */
  const hardest = new Int32Array(points);

  /** The drivers in each direction of the window; null when some driver was not measured there. */
  function windowVoices(onAxis: readonly Voice[]): Voice[][] | null {
    const spectra = windowSpectra(onAxis, ({ probe }) =>
      offAxisOf(design, ends[probe].driver, data),
    );
    return (
      spectra?.map((row) => row.map((there, v) => ({ ...there, probe: onAxis[v].probe }))) ?? null
    );
  }

  function createHeat(atVolts: number): HeatPlayback {
    const factor = (atVolts / design.amplifier.volts) ** 2;
    const squares = programmeShares(frequencyHz).map((share) => factor * share);
    return createHeatPlayback(solver, resistors, probes.length, squares);
  }

  function createStrain(): SquarePlayback {
    const perVolt2 = 1 / design.amplifier.volts ** 2;
    const squares = programmeShares(frequencyHz).map((share) => perVolt2 * share);
    const excursions = ends.map(({ driver, impedance }) => {
      const motion = motionOf(driver, impedance, design);
      // What is not known below the data does not count there; what is not known at all has no
      // figure.
      return squares.map((square, i) => {
        const metres = motion ? motion.metresPerVolt[i] : NaN;
        return motion && Number.isNaN(metres) ? 0 : square * metres ** 2;
      });
    });
    return createSquarePlayback(solver, [
      ...ends.map((_, probe) => ({ probe, weight: squares })),
      ...excursions.map((weight, probe) => ({ probe, weight })),
    ]);
  }

  function setValues(logValues: Float64Array): void {
    let w = 0;
    moved.forEach((members, v) => {
      for (const { part, ratio } of members) {
        const value = Math.exp(logValues[v]) * ratio;
        const e = places.get(part.name)!;
        const seriesOhms = followedLoss(part, value / partValue(part));
        current.elements[e] = makeElement(
          netlist.elements[e],
          partKinds[part.kind].element,
          value,
          seriesOhms,
        );
        lossSlopes[w] = lossExponent(part) * seriesOhms;
        w++;
      }
    });
  }

  function evaluate(): void {
    sumRe.fill(0);
    sumIm.fill(0);
    voices.forEach((heard, w) => {
      partRe[w].fill(0);
      partIm[w].fill(0);
      for (const { probe, re, im } of heard) {
        const [vRe, vIm] = [solver.re[probe], solver.im[probe]];
        for (let i = 0; i < points; i++) {
          partRe[w][i] += re[i] * vRe[i] - im[i] * vIm[i];
          partIm[w][i] += re[i] * vIm[i] + im[i] * vRe[i];
        }
      }
      for (let i = 0; i < points; i++) {
        const [x, y] = [partRe[w][i], partIm[w][i]];
        partDb[w][i] = 0.5 * decibelsPerNeper * Math.log(x * x + y * y);
        sumRe[i] += x;
        sumIm[i] += y;
      }
    });
    for (let i = 0; i < points; i++)
      sumDb[i] = 0.5 * decibelsPerNeper * Math.log(sumRe[i] ** 2 + sumIm[i] ** 2);
    ohms.fill(Infinity);
    for (let k = 0; k < amplifiers.length; k++) {
      const v = ends.length + 2 * k;
      const [tRe, tIm] = [solver.re[v], solver.im[v]];
      const [iRe, iIm] = [solver.re[v + 1], solver.im[v + 1]];
      for (let i = 0; i < points; i++) {
        const size = iRe[i] ** 2 + iIm[i] ** 2;
        const zRe = -(tRe[i] * iRe[i] + tIm[i] * iIm[i]) / size;
        const zIm = -(tIm[i] * iRe[i] - tRe[i] * iIm[i]) / size;
        const magnitude = Math.sqrt(zRe * zRe + zIm * zIm);
        if (magnitude >= ohms[i]) continue;
        ohms[i] = magnitude;
        phaseDeg[i] = (Math.atan2(zIm, zRe) * 180) / Math.PI;
        hardest[i] = v;
      }
    }
  }

  return {
    wayIds: audible.map(({ wayId }) => wayId),
    // Where every driver is silent there is nothing to judge.
    isWayHeard: (w, i) => voices[w].some(({ re, im }) => re[i] !== 0 || im[i] !== 0),
    isHeard: (i) => voices.flat().some(({ re, im }) => re[i] !== 0 || im[i] !== 0),
    ...{ partRe, partIm, partDb, sumDb, ohms, phaseDeg },
    windowDb: window?.levelDb ?? null,
    watts: heat?.watts ?? null,
    strain: strain && {
      driverIds: ends.map(({ driver }) => driver.id),
      lowestOhms: ends.map(({ impedance }) => lowestOf(impedance)),
      values: strain.values,
    },
    amplifierCount: amplifiers.length,
    play(logValues, hasSlopes) {
      setValues(logValues);
      solver.solve(current, hasSlopes ? lossSlopes : null);
      evaluate();
      window?.evaluate();
      heat?.evaluate(current.elements);
      strain?.evaluate();
    },
    slopesOfWindow: (variable, out) => window?.slopes(elementsOf(variable), out),
    slopesOfHeat: (variable, out) => heat?.slopes(elementsOf(variable), namesOf(variable), out),
    slopesOfStrain: (variable, out) => strain?.slopes(elementsOf(variable), out),
    slopesOnAxis: (variable, slopes) => slopesOnAxis(elementsOf(variable), slopes),
    slopesOfLoad: (variable, lnZ, angle) => slopesOfLoad(elementsOf(variable), lnZ, angle),
  };

  /** For a factor of e in what some elements share. */
  function slopesOnAxis(
    elements: readonly number[],
    { sumDb: slopeDb, levels, phases }: AxisSlopes,
  ): void {
    slopeDb.fill(0);
    for (let w = 0; w < audible.length; w++) {
      const phase = phases[w].fill(0);
      const level = levels[w].fill(0);
      for (const { voice, e } of pairsOf(voices[w], elements)) {
        const { re, im, probe } = voice;
        const [dRe, dIm] = [solver.slopeRe[probe][e], solver.slopeIm[probe][e]];
        for (let i = 0; i < points; i++) {
          const x = re[i] * dRe[i] - im[i] * dIm[i];
          const y = re[i] * dIm[i] + im[i] * dRe[i];
          slopeDb[i] += x * sumRe[i] + y * sumIm[i];
          const size = partRe[w][i] ** 2 + partIm[w][i] ** 2 + 1e-300;
          phase[i] += ((y * partRe[w][i] - x * partIm[w][i]) / size) * (180 / Math.PI);
          level[i] += ((x * partRe[w][i] + y * partIm[w][i]) / size) * decibelsPerNeper;
        }
      }
    }
    for (let i = 0; i < points; i++)
      slopeDb[i] *= decibelsPerNeper / (sumRe[i] ** 2 + sumIm[i] ** 2);
  }

  /** Slopes of ln|Z| and of Z's phase in degrees. */
  function slopesOfLoad(elements: readonly number[], lnZ: Float64Array, angle: Float64Array): void {
    lnZ.fill(0);
    angle.fill(0);
    for (let o = ends.length; o < probes.length; o++)
      for (const e of elements) {
        const [vRe, vIm] = [solver.re[o], solver.im[o]];
        const [dRe, dIm] = [solver.slopeRe[o][e], solver.slopeIm[o][e]];
        const sign = (o - ends.length) % 2 === 0 ? 1 : -1;
        for (let i = 0; i < points; i++) {
          if (o !== hardest[i] && o !== hardest[i] + 1) continue;
          const size = vRe[i] ** 2 + vIm[i] ** 2;
          lnZ[i] += (sign * (dRe[i] * vRe[i] + dIm[i] * vIm[i])) / size;
          angle[i] += (sign * (dIm[i] * vRe[i] - dRe[i] * vIm[i]) * 180) / Math.PI / size;
        }
      }
  }
}

const isResistorOf =
  (names: ReadonlySet<string>) =>
  (element: Element): element is Extract<Element, { kind: 'resistor' }> =>
    element.kind === 'resistor' && names.has(element.name);

const pairsOf = (heard: readonly Voice[], elements: readonly number[]) =>
  heard.flatMap((voice) => elements.map((e) => ({ voice, e })));

const turned = ({ re, im }: GridSpectrum, sign: number): GridSpectrum =>
  sign === 1 ? { re, im } : { re: re.map((value) => -value), im: im.map((value) => -value) };
