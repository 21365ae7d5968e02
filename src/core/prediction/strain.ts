import type { DriverId, WayId } from '@/core/fields';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { breakUpHz } from '@/core/driver/breakUp';
import type { Samples } from '@/core/measurement/samples';
import type { Enclosure } from '@/core/box/enclosure';
import { boxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';
import { frequencyOfKa } from '@/core/radiation/piston';
import { motionOfFigures, motionOfImpedance, type Motion } from '@/core/driver/motion';
import { forceFactorOf } from '@/core/driver/forceFactor';
import { motorOf } from '@/core/driver/motor';
import { ratingOf, type PowerRating } from '@/core/driver/rating';
import { programmeShares } from '@/core/spectrum/programme';
import type { DriversBox } from './inBox';
import type { UsableDriver } from './inspect';
import { resonanceOf, type Resonance } from '@/core/driver/resonance';
import { nearestIndex } from '@/core/grid/nearest';
import { createMemory } from './memory';
import type { DriverStrain } from './prediction';
import { excursionCrestFactor } from '@/core/document/programme';
import type { Design, Driver } from '@/core/document/schema';

/** What a driver has to bear at one setting of the amplifier, held against its limits. */
export interface DriverLoad {
  readonly wayId: WayId;
  readonly driverId: DriverId;
  readonly driverName: string;
  /** True power into its impedance. */
  readonly watts: number;
  /** Rms voltage at it. */
  readonly volts: number;
  /** Null when the data sheet states no power. */
  readonly rating: PowerRating | null;
  /** Peak excursion to one side; null while it can't be known. */
  readonly excursionMm: number | null;
  readonly excursionFromHz: number;
  readonly basis: Motion['basis'] | null;
  /** Peak speed of the air in the port of its box, m/s; null without one. */
  readonly portMps: number | null;
  /** What is missing for the excursion, as "needs …" goes on. */
  readonly needs: string | null;
  readonly xmaxMm: number | null;
  readonly mechanicalMm: number | null;
}

/** What tells how far a driver moves. */
export type Moving = Pick<
  UsableDriver,
  'driver' | 'impedance' | 'response' | 'microphone' | 'driveVolts'
>;

export interface Strains {
  /** Motion of a driver as it was measured, or as its figures say; null while it can't be known. */
  readonly motionOf: (end: Moving, design: Design) => Motion | null;
  /** From the voltage at the driver, for the design's voltage at the source. */
  readonly strainOf: (
    wayId: WayId,
    end: UsableDriver,
    re: Float64Array,
    im: Float64Array,
    load: { readonly re: Float64Array; readonly im: Float64Array },
    design: Design,
  ) => DriverStrain;
}

/** Without a piston's area: below this a peak is not of a cone. */
const coneFromHz = 500;

/** Responses are immutable, and a search asks of the same ones thousands of times. */
const knownBreakUps = new WeakMap<
  Samples,
  { readonly fromHz: number; readonly hz: number | null }
>();

/** Where a driver's cone breaks up by its measured response, Hz; null where that does not show. */
export function breakUpOf(
  { sheet: { sdCm2 } }: Driver,
  response: Samples | null,
  { airTemperatureC }: Pick<Design, 'airTemperatureC'>,
): number | null {
  const fromHz =
    sdCm2 === null ? coneFromHz : frequencyOfKa(1, sdCm2, speedOfSoundMps(airTemperatureC));
  if (!response) return null;
  const known = knownBreakUps.get(response);
  if (known?.fromHz === fromHz) return known.hz;
  const hz = breakUpHz(response, fromHz);
  knownBreakUps.set(response, { fromHz, hz });
  return hz;
}

/** Smallest impedance that was measured, Ω. */
export const lowestOf = ({ magnitude }: UsableDriver['impedance']): number =>
  magnitude.reduce((low, ohms) => Math.min(low, ohms), Infinity);

/** Air moves through a port, and through the mouth of a line. */
const hasPort = ({ kind }: Enclosure) => kind === 'vented' || kind === 'line';

/** Works out strains on one grid; a driver's motion only when its impedance or figures change. */
export function createStrains(frequencyHz: Float64Array): Strains {
  const shares = programmeShares(frequencyHz);
  const remember = createMemory<Motion | null>();
  const lowest = createMemory<number>();
  const resonances = createMemory<Resonance | null>();
  const portSpeeds = createMemory<Float64Array>();

  const motionOf: Strains['motionOf'] = (
    { driver: { id, sheet }, impedance, response, microphone, driveVolts },
    { airTemperatureC: temperatureC },
  ) => {
    const { blTm } = motorOf(sheet, temperatureC);
    const { fsHz, qes, qms, reOhm, sdCm2 } = sheet;
    const { distanceMm } = microphone;
    return remember(
      id,
      [
        impedance,
        response,
        distanceMm,
        driveVolts,
        temperatureC,
        blTm,
        fsHz,
        qes,
        qms,
        reOhm,
        sdCm2,
      ],
      () => {
        if (blTm !== null)
          return (
            motionOfImpedance(impedance, blTm, frequencyHz) ??
            motionOfFigures(sheet, null, frequencyHz, temperatureC)
          );
        if (response === null || sdCm2 === null) return null;
        const taken = { response, driveVolts, distanceMm, sdCm2, temperatureC };
        const estimated = forceFactorOf(impedance, taken);
        return estimated === null
          ? null
          : motionOfImpedance(impedance, estimated, frequencyHz, 'level');
      },
    );
  };

  /** Rms speed of the air in a port for 1 V at the driver, m/s. */
  const portSpeedsOf = ({ id }: Driver, box: DriversBox | null) =>
    box === null || !hasPort(box.system.enclosure)
      ? null
      : portSpeeds(id, [JSON.stringify(box.system)], () =>
          boxCurves(
            box.system,
            behindResistance(1, 0, frequencyHz.length),
            frequencyHz,
          ).openingSpeed.map((peak) => peak / Math.SQRT2),
        );

  return {
    motionOf,
    strainOf(wayId, end, re, im, load, design) {
      const { driver, impedance, response, box } = end;
      const motion = motionOf(end, design);
      const perVolt2 = 1 / design.amplifier.volts ** 2;
      const sinePeakMm = motion && new Float64Array(frequencyHz.length);
      const port = portSpeedsOf(driver, box);
      let [voltsSquared, watts, squareM, portSquare] = [0, 0, 0, 0];
      for (let i = 0; i < frequencyHz.length; i++) {
        const sine = perVolt2 * (re[i] * re[i] + im[i] * im[i]);
        const square = shares[i] * sine;
        voltsSquared += square;
        watts += (square * load.re[i]) / (load.re[i] * load.re[i] + load.im[i] * load.im[i]);
        if (port) portSquare += square * port[i] * port[i];
        if (!motion || !sinePeakMm) continue;
        const metres = motion.metresPerVolt[i];
        sinePeakMm[i] = 1000 * Math.sqrt(2 * sine) * metres;
        if (metres === metres) squareM += square * metres * metres;
      }
      const resonance = resonances(driver.id, [impedance, driver.sheet.fsHz], () =>
        resonanceOf(driver.sheet, impedance),
      );
      return {
        wayId,
        driverId: driver.id,
        voltsSquared,
        watts,
        resonance: resonance && {
          ...resonance,
          attenuationDb: attenuationDb(re, im, nearestIndex(frequencyHz, resonance.hz)),
        },
        excursion:
          motion && sinePeakMm
            ? { rmsMm: 1000 * Math.sqrt(squareM), sinePeakMm, basis: motion.basis }
            : null,
        excursionFromHz: motion?.fromHz ?? 0,
        portRmsMps: port && Math.sqrt(portSquare),
        isBoxed: box !== null,
        breakUpHz: breakUpOf(driver, response, design),
        lowestOhms: lowest(driver.id, [impedance], () => lowestOf(impedance)),
      };
    },
  };
}

/**
 * The strain of a driver from its figures alone, straight at the amplifier: what a Brief can say
 * before anything was measured.
 *
 * @param litres closed box in which it works; null for free air
 * @returns null while a figure is missing
 */
export function strainOfFigures(
  { amplifier, airTemperatureC }: Pick<Design, 'amplifier' | 'airTemperatureC'>,
  { id, sheet }: Driver,
  litres: number | null,
  frequencyHz: Float64Array,
): DriverStrain | null {
  const motion = motionOfFigures(sheet, litres, frequencyHz, airTemperatureC);
  if (!motion || sheet.reOhm === null) return null;
  const shares = programmeShares(frequencyHz);
  const source = amplifier.outputOhms + amplifier.cableOhms;
  const sinePeakMm = new Float64Array(frequencyHz.length);
  let [voltsSquared, watts, squareM] = [0, 0, 0];
  for (let i = 0; i < frequencyHz.length; i++) {
    const { re, im } = motion.impedance;
    const divided = (re[i] ** 2 + im[i] ** 2) / ((re[i] + source) ** 2 + im[i] ** 2);
    const square = shares[i] * divided;
    voltsSquared += square;
    watts += (square * re[i]) / (re[i] ** 2 + im[i] ** 2);
    squareM += square * motion.metresPerVolt[i] ** 2;
    sinePeakMm[i] = 1000 * Math.sqrt(2 * divided) * motion.metresPerVolt[i];
  }
  return {
    wayId: '',
    driverId: id,
    voltsSquared,
    watts,
    excursion: { rmsMm: 1000 * Math.sqrt(squareM), sinePeakMm, basis: 'figures' },
    excursionFromHz: 0,
    portRmsMps: null,
    isBoxed: false,
    lowestOhms: null,
    resonance: null,
    breakUpHz: null,
  };
}

/** How far a voltage at a place lies under the highest from there up, dB. */
function attenuationDb(re: Float64Array, im: Float64Array, at: number): number {
  let most = 0;
  for (let i = at; i < re.length; i++) most = Math.max(most, re[i] * re[i] + im[i] * im[i]);
  return 10 * Math.log10(most / (re[at] * re[at] + im[at] * im[at]));
}

/**
 * Voltage by which drivers are judged while nobody says what drives them: that of the largest
 * rating among them, as if the whole speaker were rated so.
 *
 * @returns 0 without any rating
 */
export const ratedVolts = (ratings: readonly PowerRating[]): number =>
  ratings.reduce((most, { voltsSquared }) => Math.max(most, Math.sqrt(voltsSquared)), 0);

/**
 * What the drivers have to bear.
 *
 * @param volts rms of the programme at the source behind the amplifier, `driveVoltsOf` or what a
 *   loudness asks for
 */
export function loadsAt(
  strains: readonly DriverStrain[],
  drivers: readonly Driver[],
  volts: number,
): DriverLoad[] {
  return strains.flatMap((strain): DriverLoad[] => {
    const driver = drivers.find(({ id }) => id === strain.driverId);
    if (!driver) return [];
    const { sheet } = driver;
    const { excursion } = strain;
    return [
      {
        wayId: strain.wayId,
        driverId: driver.id,
        driverName: driver.name,
        watts: strain.watts * volts ** 2,
        volts: Math.sqrt(strain.voltsSquared) * volts,
        rating: ratingOf(sheet, strain.lowestOhms),
        excursionMm: excursion && excursionCrestFactor * excursion.rmsMm * volts,
        excursionFromHz: strain.excursionFromHz,
        basis: excursion?.basis ?? null,
        portMps:
          strain.portRmsMps === null ? null : excursionCrestFactor * strain.portRmsMps * volts,
        needs: excursion ? null : neededFor(driver),
        xmaxMm: sheet.xmaxMm,
        mechanicalMm: sheet.mechanicalMm,
      },
    ];
  });
}

/** What is missing for a driver's excursion. */
function neededFor({ sheet }: Driver): string {
  return motorOf(sheet).blTm === null
    ? 'Bl in its data sheet, or fs, Qes and Re with Mms or Vas; or Sd, with a response of known level'
    : 'an impedance with phase that reaches below its resonance, or fs, Qes, Qms and Re';
}

/** How a load is against a limit: what exceeds it, as a ratio over 1. */
export interface Excess {
  /** Of the voltage that the rating allows, as power: over 1 it may burn out. */
  readonly power: number | null;
  /** Of Xmax: over 1 it distorts. Of the mechanical limit: over 1 it may break. */
  readonly excursion: number | null;
  readonly mechanical: number | null;
}

/**
 * A load over its limits. Power is compared as the rating is defined, by the mean square of the
 * voltage.
 */
export function excessOf({ volts, rating, excursionMm, xmaxMm, mechanicalMm }: DriverLoad): Excess {
  const over = (limit: number | null) =>
    excursionMm === null || limit === null ? null : excursionMm / limit;
  return {
    power: rating && volts ** 2 / rating.voltsSquared,
    excursion: over(xmaxMm),
    mechanical: over(mechanicalMm),
  };
}
