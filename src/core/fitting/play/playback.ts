import { driveVoltsOf } from '@/core/document/programme';
import { partsOf, type Design } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Element } from '@/core/network/netlist';
import type { Probe } from '@/core/network/outputs';
import { levelsDb } from '@/core/spectrum/level';
import type { EnergyForm } from '@/core/radiation/energyForm';
import { solvableOf, type Solvable } from '@/core/prediction/solvable';
import type { UsableDriver } from '@/core/prediction/inspect';
import { rangeOfWay, type PlayingRange } from '@/core/prediction/wayOrder';
import { problem } from '@/core/problem';
import type { FitInputs } from '@/core/fitting/inputs';
import type { Variable } from '@/core/fitting/variables';
import type { PlayedCurve } from './curve';
import { createPlayedEnergy, type PlayedEnergy } from './energy';
import { createPlayedLoad, type PlayedLoad } from './load';
import { createPlayedNetwork } from './network';
import { createMix, turned, voicesOf, type Mix, type Voice } from './voices';

/**
 * A design that is played with other values over and over; everything runs over the frequencies.
 */
export interface Playback extends Omit<PlayedLoad, 'play'> {
  readonly frequencyHz: Float64Array;
  readonly design: Design;
  readonly variables: readonly Variable[];
  /**
   * Solves the network for logarithms of the values and fills all that follows.
   *
   * @throws ProblemError where no finite solution exists
   */
  play(logValues: Float64Array, hasSlopes: boolean): void;
  /** Turns the polarity of ways against that of the design: −1; from the next solution on. */
  readonly turn: (turns: ReadonlyMap<string, 1 | -1>) => void;
  /** Pressure of all on the axis, and its level in dB. */
  readonly sum: PlayedCurve;
  readonly sumDb: Float64Array;
  /** Ways that are heard, in the order of the design. */
  readonly ways: readonly PlayedWay[];
  /** Voltage at each driver. */
  readonly drivers: readonly PlayedDriver[];
  /** Voltage across each resistor, with its ohms as they are played. */
  readonly resistors: readonly {
    readonly name: string;
    ohms: number;
    readonly volts: PlayedCurve;
  }[];
  /** Mean energies off the axis; null where they are not known, or nobody asks. */
  readonly window: PlayedEnergy | null;
  readonly soundPower: PlayedEnergy | null;
  readonly inRoom: PlayedEnergy | null;
  /** Pressure at the places that are looked at, by their ids. */
  readonly places: ReadonlyMap<string, PlayedCurve>;
  /** Logarithms that were played last. */
  readonly logValues: Float64Array;
  /** How many amplifiers there are: with one alone there is one voltage at the terminals. */
  readonly amplifierCount: number;
}

export interface PlayedWay {
  readonly wayId: string;
  /** Where its drivers play by themselves. */
  readonly range: PlayingRange | null;
  readonly pressure: PlayedCurve;
  /**
   * A curve that moves by the same factor and the same angle: the voltage of the way's driver where
   * it has one alone, whose slopes cost less.
   */
  readonly steers: PlayedCurve;
  readonly levelDb: Float64Array;
  /** Level of its drivers straight at 1 V, as the network has no part in it. */
  readonly aloneDb: Float64Array;
  /** Whether any of its drivers is heard at a place of the grid. */
  readonly isHeard: (i: number) => boolean;
}

interface PlayedDriver extends UsableDriver {
  readonly wayId: string;
  readonly volts: PlayedCurve;
}

/** What is worked out besides response and load; each costs time. */
interface PlaybackWishes {
  readonly wantsWindow: boolean;
  readonly wantsSpin: boolean;
  readonly wantsPlaces: boolean;
  readonly wantsHeat: boolean;
}

/**
 * @param variables from `variablesOf(design)`
 * @throws ProblemError when no way can be computed
 */
export function createPlayback(
  design: Design,
  data: MeasurementData,
  variables: readonly Variable[],
  { frequencyHz, condition, ofWays, sendingOf }: FitInputs,
  { wantsHeat, ...wants }: PlaybackWishes,
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
  const { usable, ends, amplifiers } = circuit;
  const hot = wantsHeat && driveVoltsOf(design) !== null ? resistorsOf(circuit, design) : [];
  const probes: Probe[] = [
    ...circuit.probes,
    ...hot.map(({ a, b }): Probe => ({ kind: 'voltage', plus: a, minus: b })),
  ];
  const network = createPlayedNetwork(circuit, probes, variables, frequencyHz);
  const { probed } = network;
  const audible = voicesOf(circuit, design, data, ofWays);
  const voices = audible.flatMap((way) => way.voices);

  const mixes: Mix[] = [];
  function mixed(own: readonly Voice[], weights: readonly GridSpectrum[]): Mix {
    const mix = createMix(network, own, weights, variables.length);
    mixes.push(mix);
    return mix;
  }
  const weightsOf = (own: readonly Voice[]) => own.map(({ weight }) => weight);
  const sum = mixed(voices, weightsOf(voices));
  const ways = audible.map(({ wayId, voices: own, ends: ownEnds }): PlayedWay => {
    const pressure = mixed(own, weightsOf(own));
    return {
      ...{ wayId, pressure, range: rangeOfWay(ownEnds) },
      steers: own.length === 1 ? probed(own[0].probe) : pressure,
      levelDb: new Float64Array(points),
      aloneDb: levelTogether(weightsOf(own), points),
      isHeard: (i) => own.some(({ weight: { re, im } }) => re[i] !== 0 || im[i] !== 0),
    };
  });

  const sending = sendingOf(design, voices, data);
  const forms = wants.wantsSpin ? sending.spinForms() : null;
  const placed = wants.wantsPlaces ? sending.placeRows() : null;
  const energies: PlayedEnergy[] = [];
  function played(form: EnergyForm | undefined): PlayedEnergy | null {
    if (!form) return null;
    const energy = createPlayedEnergy(
      form,
      voices.map(({ probe }) => network.values[probe]),
      () => voices.map(({ sign, turn }) => sign * turn),
      (v) => network.slopesOf(voices[v].probe),
      variables.length,
    );
    energies.push(energy);
    return energy;
  }
  const window = wants.wantsWindow ? played(sending.windowForm()?.form) : null;
  const [soundPower, inRoom] = [played(forms?.means.soundPower), played(forms?.means.inRoom)];
  const places = new Map(
    placed?.places.map(({ id }, p) => [
      id,
      mixed(
        voices,
        placed.pressures.map((row, v) => turned(row[p], voices[v].sign)),
      ),
    ]),
  );

  const loads = amplifiers.map((_, k) => ({
    volts: probed(ends.length + 2 * k),
    amperes: probed(ends.length + 2 * k + 1),
  }));
  const { play: playLoad, ...load } = createPlayedLoad(loads, points, variables.length);
  const resistors = hot.map(({ name, ohms }, k) => ({
    ...{ name, ohms },
    volts: probed(circuit.probes.length + k),
  }));
  const wayIds = usable.flatMap(({ way, ends: own }) => own.map(() => way.id));

  const sumDb = new Float64Array(points);
  const playback = {
    ...{ frequencyHz, design, variables, sum, sumDb, ways, resistors },
    ...load,
    logValues: new Float64Array(variables.length),
    drivers: ends.map((end, e) => ({ ...end, wayId: wayIds[e], volts: probed(e) })),
    ...{ window, soundPower, inRoom, places },
    amplifierCount: amplifiers.length,
    play(logValues: Float64Array, hasSlopes: boolean) {
      playback.logValues.set(logValues);
      network.solve(logValues, hasSlopes);
      for (const resistor of resistors) {
        const element = network.elementOf(resistor.name);
        if (element.kind === 'resistor') resistor.ohms = element.ohms;
      }
      for (const mix of mixes) mix.play();
      for (const energy of energies) energy.play();
      levelsDb(sum.re, sum.im, sumDb);
      for (const { pressure, levelDb } of ways) levelsDb(pressure.re, pressure.im, levelDb);
      playLoad();
    },
    turn(turns: ReadonlyMap<string, 1 | -1>) {
      for (const { wayId, voices: own } of audible)
        for (const voice of own) voice.turn = turns.get(wayId) ?? 1;
    },
  };
  return playback;
}

/** Level of several pressures together, dB. */
function levelTogether(pressures: readonly GridSpectrum[], points: number): Float64Array {
  const total = (part: (one: GridSpectrum) => Float64Array) =>
    Float64Array.from({ length: points }, (_, i) =>
      pressures.reduce((sum, one) => sum + part(one)[i], 0),
    );
  const level = new Float64Array(points);
  levelsDb(
    total(({ re }) => re),
    total(({ im }) => im),
    level,
  );
  return level;
}

type Resistor = Extract<Element, { kind: 'resistor' }>;

/** Resistors of the network itself: not those of amplifier and cable. */
function resistorsOf({ netlist }: Solvable, design: Design): Resistor[] {
  const names = new Set(partsOf(design).map(({ name }) => name));
  return netlist.elements.filter(
    (one): one is Resistor => one.kind === 'resistor' && names.has(one.name),
  );
}
