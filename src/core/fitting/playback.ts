import { createLoadPlayback } from './loadPlayback';
import { createAxisPlayback, type AxisSlopes } from './axisPlayback';
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

  const axis = createAxisPlayback(solver, voices, points);
  const { partRe, partIm, partDb, sumDb } = axis;
  const load = createLoadPlayback(solver, ends.length, amplifiers.length, points);

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

  return {
    wayIds: audible.map(({ wayId }) => wayId),
    // Where every driver is silent there is nothing to judge.
    isWayHeard: (w, i) => voices[w].some(({ re, im }) => re[i] !== 0 || im[i] !== 0),
    isHeard: (i) => voices.flat().some(({ re, im }) => re[i] !== 0 || im[i] !== 0),
    ...{ partRe, partIm, partDb, sumDb, ohms: load.ohms, phaseDeg: load.phaseDeg },
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
      axis.evaluate();
      load.evaluate();
      window?.evaluate();
      heat?.evaluate(current.elements);
      strain?.evaluate();
    },
    slopesOfWindow: (variable, out) => window?.slopes(elementsOf(variable), out),
    slopesOfHeat: (variable, out) => heat?.slopes(elementsOf(variable), namesOf(variable), out),
    slopesOfStrain: (variable, out) => strain?.slopes(elementsOf(variable), out),
    slopesOnAxis: (variable, slopes) => axis.slopes(elementsOf(variable), slopes),
    slopesOfLoad: (variable, lnZ, angle) => load.slopes(elementsOf(variable), lnZ, angle),
  };
}

const isResistorOf =
  (names: ReadonlySet<string>) =>
  (element: Element): element is Extract<Element, { kind: 'resistor' }> =>
    element.kind === 'resistor' && names.has(element.name);

const turned = ({ re, im }: GridSpectrum, sign: number): GridSpectrum =>
  sign === 1 ? { re, im } : { re: re.map((value) => -value), im: im.map((value) => -value) };
