import { lossExponent, followedLoss, partValue } from '@/core/document/partKinds';
import { driveVoltsOf } from '@/core/document/programme';
import { partsOf, type Design, type Driver } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { setElement } from '@/core/network/immittance';
import type { Element, Netlist, PassiveElement } from '@/core/network/netlist';
import type { Probe } from '@/core/network/outputs';
import { createSensitivity } from '@/core/network/createSensitivity';
import type { Curve } from '@/core/network/sensitivity';
import type { EnergyForm } from '@/core/radiation/energyForm';
import { solvableOf } from '@/core/prediction/solvable';
import type { UsableDriver } from '@/core/prediction/inspect';
import { problem } from '@/core/problem';
import type { FitInputs } from './inputs';
import { createPlayedEnergy, type PlayedEnergy } from './playedEnergy';
import type { Variable } from './variables';

type Resistor = Extract<Element, { kind: 'resistor' }>;

/** A complex curve of a design that is played, and its slopes over the variables. */
export interface PlayedCurve extends Curve {
  /** Change for a factor of e in variable v at frequency i, at v · points + i; when asked for. */
  readonly slopes: () => Curve;
}

/**
 * A design that is played with other values over and over; everything runs over the frequencies.
 */
export interface Playback {
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
  /** Load of the amplifier; of several, at each frequency that of least magnitude. */
  readonly ohms: Float64Array;
  readonly phaseDeg: Float64Array;
  /** Adds slopes of the load as {@link addSlopes} does, of ln|Z| and of Z's angle in radians. */
  addLoadSlopes(
    i: number,
    perNeper: number,
    perRadian: number,
    out: Float64Array,
    at: number,
  ): void;
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
  readonly pressure: PlayedCurve;
  /**
   * A curve that moves by the same factor and the same angle: the voltage of the way's driver where
   * it has one alone, whose slopes cost less.
   */
  readonly steers: PlayedCurve;
  readonly levelDb: Float64Array;
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
  const { usable, ends, netlist, amplifiers } = circuit;
  const partNames = new Set(partsOf(design).map(({ name }) => name));
  const hot =
    wantsHeat && driveVoltsOf(design) !== null
      ? netlist.elements.filter(
          (one): one is Resistor => one.kind === 'resistor' && partNames.has(one.name),
        )
      : [];
  const probes: Probe[] = [
    ...circuit.probes,
    ...hot.map(({ a, b }): Probe => ({ kind: 'voltage', plus: a, minus: b })),
  ];
  let first = 0;
  const audible = usable.flatMap(({ way, ends: own }) => {
    const from = first;
    first += own.length;
    const voices = own.flatMap((end, e): Voice[] => {
      const { response } = end;
      if (response === null) return [];
      const radiation = ofWays.radiationOf({ ...end, response }, design, data);
      const { driver, sign } = end;
      const weight = turned(radiation, sign);
      return [{ probe: from + e, driver, radiation, sign, weight, turn: 1 }];
    });
    return voices.length > 0 ? [{ wayId: way.id, voices }] : [];
  });
  const voices = audible.flatMap((way) => way.voices);
  const sending = sendingOf(design, voices, data);
  const forms = wants.wantsSpin ? sending.spinForms() : null;
  const placed = wants.wantsPlaces ? sending.placeRows() : null;

  const moved = variables.map(({ members }) =>
    members.filter(({ part }) => netlist.elements.some(({ name }) => name === part.name)),
  );
  const wanted = moved.flatMap((members) => members.map(({ part }) => part.name));
  const sensitivity = createSensitivity(netlist, circuit.loads, probes, wanted, frequencyHz);
  const lossSlopes = new Float64Array(wanted.length);
  const current: { -readonly [K in keyof Netlist]: Netlist[K] } & { elements: Element[] } = {
    couplings: netlist.couplings,
    elements: netlist.elements.map((element) => ({ ...element })),
  };
  const elementAt = new Map(netlist.elements.map(({ name }, e) => [name, e]));
  const isPlain = moved.every((members) => members.length === 1);
  const gathered = isPlain ? [] : probes.map(() => curveOf(variables.length * points));
  const isGathered = new Uint8Array(probes.length);

  /** Slopes over the variables: those of the elements that move with each, together. */
  function slopesOf(probe: number): Curve {
    const own = sensitivity.slopes(probe);
    if (isPlain) return own;
    const out = gathered[probe];
    if (isGathered[probe]) return out;
    isGathered[probe] = 1;
    clear(out);
    let element = 0;
    moved.forEach((members, v) => {
      for (let m = 0; m < members.length; m++, element++)
        for (let i = 0; i < points; i++) {
          out.re[v * points + i] += own.re[element * points + i];
          out.im[v * points + i] += own.im[element * points + i];
        }
    });
    return out;
  }

  const probed = (probe: number): PlayedCurve => ({
    ...sensitivity.values[probe],
    slopes: () => slopesOf(probe),
  });
  const mixes: Mix[] = [];
  /** Pressure of several drivers together. */
  function mixed(voices: readonly Voice[], weights: readonly GridSpectrum[]): PlayedCurve {
    const value = curveOf(points);
    const slopes = curveOf(variables.length * points);
    let isMade = false;
    mixes.push({
      play() {
        isMade = false;
        clear(value);
        voices.forEach(({ probe, turn }, k) =>
          addProduct(sensitivity.values[probe], weights[k], turn, value, 0),
        );
      },
    });
    return {
      ...value,
      slopes() {
        if (isMade) return slopes;
        isMade = true;
        clear(slopes);
        voices.forEach(({ probe, turn }, k) => {
          const own = slopesOf(probe);
          for (let v = 0; v < variables.length; v++)
            addProduct(own, weights[k], turn, slopes, v * points);
        });
        return slopes;
      },
    };
  }
  const weightsOf = (own: readonly Voice[]) => own.map(({ weight }) => weight);
  const sum = mixed(voices, weightsOf(voices));
  const sumDb = new Float64Array(points);
  const ways = audible.map(({ wayId, voices: own }): PlayedWay => {
    const pressure = mixed(own, weightsOf(own));
    return {
      ...{ wayId, pressure },
      steers: own.length === 1 ? probed(own[0].probe) : pressure,
      levelDb: new Float64Array(points),
      isHeard: (i) => own.some(({ weight: { re, im } }) => re[i] !== 0 || im[i] !== 0),
    };
  });
  const energies: PlayedEnergy[] = [];
  function played(form: EnergyForm | undefined): PlayedEnergy | null {
    if (!form) return null;
    const energy = createPlayedEnergy(
      form,
      voices.map(({ probe }) => sensitivity.values[probe]),
      () => voices.map(({ sign, turn }) => sign * turn),
      (v) => slopesOf(voices[v].probe),
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
  const ohms = new Float64Array(points);
  const phaseDeg = new Float64Array(points);
  const hardest = new Uint8Array(points);
  const resistors = hot.map(({ name, ohms: value }, k) => ({
    ...{ name, ohms: value },
    volts: probed(circuit.probes.length + k),
  }));

  function setValues(logValues: Float64Array): void {
    let w = 0;
    moved.forEach((members, v) => {
      for (const { part, ratio } of members) {
        const value = Math.exp(logValues[v]) * ratio;
        const e = elementAt.get(part.name)!;
        const seriesOhms = followedLoss(part, value / partValue(part));
        setElement(current.elements[e] as PassiveElement, value, seriesOhms);
        lossSlopes[w] = lossExponent(part) * seriesOhms;
        w++;
      }
    });
    for (const resistor of resistors) {
      const element = current.elements[elementAt.get(resistor.name)!];
      if (element.kind === 'resistor') resistor.ohms = element.ohms;
    }
  }

  function findLoad(): void {
    ohms.fill(Infinity);
    loads.forEach(({ volts, amperes }, k) => {
      for (let i = 0; i < points; i++) {
        // SPICE counts a source's current into it.
        const [x, y] = [-amperes.re[i], -amperes.im[i]];
        const size = x * x + y * y;
        const zRe = (volts.re[i] * x + volts.im[i] * y) / size;
        const zIm = (volts.im[i] * x - volts.re[i] * y) / size;
        const magnitude = Math.sqrt(zRe * zRe + zIm * zIm);
        if (magnitude >= ohms[i]) continue;
        ohms[i] = magnitude;
        phaseDeg[i] = Math.atan2(zIm, zRe) * degreesPerRadian;
        hardest[i] = k;
      }
    });
  }

  const playback = {
    ...{ frequencyHz, design, variables, sum, sumDb, ways, ohms, phaseDeg, resistors },
    logValues: new Float64Array(variables.length),
    drivers: ends.map((end, e) => ({
      ...end,
      ...usableWayOf(usable, e),
      volts: probed(e),
    })),
    ...{ window, soundPower, inRoom, places },
    amplifierCount: amplifiers.length,
    play(logValues: Float64Array, hasSlopes: boolean) {
      playback.logValues.set(logValues);
      setValues(logValues);
      isGathered.fill(0);
      sensitivity.solve(current, hasSlopes ? lossSlopes : null);
      for (const mix of mixes) mix.play();
      for (const energy of energies) energy.play();
      writeLevels(sum, sumDb);
      for (const { pressure, levelDb } of ways) writeLevels(pressure, levelDb);
      findLoad();
    },
    turn(turns: ReadonlyMap<string, 1 | -1>) {
      for (const { wayId, voices: own } of audible)
        for (const voice of own) voice.turn = turns.get(wayId) ?? 1;
    },
    addLoadSlopes(i: number, perNeper: number, perRadian: number, out: Float64Array, at: number) {
      const { volts, amperes } = loads[hardest[i]];
      addSlopes(volts, i, perNeper, perRadian, out, at, variables.length);
      addSlopes(amperes, i, -perNeper, -perRadian, out, at, variables.length);
    },
  };
  return playback;
}

/** A driver that is heard: pressure per volt at its probe. */
interface Voice {
  readonly probe: number;
  readonly driver: Driver;
  /** Without its sign, and with it. */
  readonly radiation: GridSpectrum;
  readonly sign: 1 | -1;
  readonly weight: GridSpectrum;
  /** −1 while its way is turned against the design. */
  turn: 1 | -1;
}

/** A sum of probes that follows every solution. */
interface Mix {
  readonly play: () => void;
}

const degreesPerRadian = 180 / Math.PI;
const decibelsPerNeper = 20 / Math.LN10;

const curveOf = (length: number): Curve => ({
  re: new Float64Array(length),
  im: new Float64Array(length),
});

function clear({ re, im }: Curve): void {
  re.fill(0);
  im.fill(0);
}

/** Adds a curve times a weight and a sign to another, both from a place on. */
function addProduct(
  { re, im }: Curve,
  { re: wRe, im: wIm }: GridSpectrum,
  sign: number,
  { re: outRe, im: outIm }: Curve,
  at: number,
): void {
  for (let i = 0; i < wRe.length; i++) {
    const x = sign * wRe[i];
    const y = sign * wIm[i];
    outRe[at + i] += x * re[at + i] - y * im[at + i];
    outIm[at + i] += x * im[at + i] + y * re[at + i];
  }
}

const turned = ({ re, im }: GridSpectrum, sign: number): GridSpectrum =>
  sign === 1 ? { re, im } : { re: re.map((value) => -value), im: im.map((value) => -value) };

/** Id of the way at whose end a driver stands, by the driver's number. */
function usableWayOf(
  usable: readonly { readonly way: { readonly id: string }; readonly ends: readonly unknown[] }[],
  e: number,
): { readonly wayId: string } {
  let before = 0;
  for (const { way, ends } of usable) {
    before += ends.length;
    if (e < before) return { wayId: way.id };
  }
  return { wayId: '' };
}

function writeLevels({ re, im }: Curve, out: Float64Array): void {
  for (let i = 0; i < out.length; i++)
    out[i] = 0.5 * decibelsPerNeper * Math.log(re[i] * re[i] + im[i] * im[i]);
}

/**
 * Adds the slopes of a curve at a frequency to a row: so much times that of the logarithm of its
 * magnitude, and so much times that of its angle in radians.
 */
export function addSlopes(
  curve: PlayedCurve,
  i: number,
  perNeper: number,
  perRadian: number,
  out: Float64Array,
  at: number,
  variableCount: number,
): void {
  const { re: dRe, im: dIm } = curve.slopes();
  const points = curve.re.length;
  const x = curve.re[i];
  const y = curve.im[i];
  const scale = 1 / (x * x + y * y);
  const forRe = (perNeper * x - perRadian * y) * scale;
  const forIm = (perNeper * y + perRadian * x) * scale;
  for (let v = 0, k = i; v < variableCount; v++, k += points)
    out[at + v] += forRe * dRe[k] + forIm * dIm[k];
}
