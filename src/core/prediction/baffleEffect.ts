import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { MeasuredOn } from '@/core/document/baffleSchema';
import type { Design, Driver, Measurement } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { betweenOrbits, headingOf, straight, type Heading } from '@/core/radiation/direction';
import { pistonDirectivity } from '@/core/radiation/piston';
import { createMemory } from './memory';
import {
  createBending,
  mountedOn,
  placedDriver,
  pointToward,
  radiusOf,
  type Bending,
  type OnBaffle,
} from './onBaffle';

/** Toward a point that far from the origin, as it would be if the driver looked ahead. */
type TowardHeading = (heading: Heading, distanceMm: number) => GridSpectrum;

/** How a driver's response differs, by a model, from what was measured. */
export interface BaffleEffect {
  /** Factor on what was measured on the axis; null where it stays as measured. */
  readonly onAxis: GridSpectrum | null;
  /**
   * Factor on what was measured in a direction against the axis; null where it stays as measured.
   */
  readonly offAxis: TowardHeading | null;
  /**
   * What the model sends in a direction against the axis, the way there apart: for directions that
   * were not measured. Null while the size of the cone is not known.
   */
  readonly modelled: TowardHeading | null;
}

/** What is known of the baffle in a response, and why nothing is made of it. */
export type BaffleUse =
  /** The driver is on no panel. */
  | 'not-mounted'
  /** It lies outside of its front, or edges of that cross each other. */
  | 'off-front'
  /** Nobody said which baffle is in the response: it is used as it is. */
  | 'not-said'
  /** Measured on this baffle at this place. */
  | 'as-measured'
  /** Baffle step and edges are added. */
  | 'added'
  /** The old baffle is divided out and this one multiplied in. */
  | 'exchanged'
  /** A step of the recipe adds the baffle step already. */
  | 'in-recipe';

/** What becomes of the baffle in a driver's response. */
export function baffleUse(
  design: Pick<Design, 'panels'>,
  driver: Driver,
  statement: Pick<Measurement, 'measuredOn' | 'recipe'> | undefined,
): BaffleUse {
  const now = placedDriver(design, driver);
  if (!now) return driver.mounting.panelId === null ? 'not-mounted' : 'off-front';
  const on = statement?.measuredOn ?? { kind: 'unknown' };
  if (on.kind === 'unknown') return 'not-said';
  if (on.kind === 'baffle')
    return isSamePlace(now, measuredPlace(on, driver)) ? 'as-measured' : 'exchanged';
  const hasStep = statement?.recipe.some(
    (step) => step.kind === 'splice' && step.isOn && step.stepWidthMm !== null,
  );
  return hasStep ? 'in-recipe' : 'added';
}

const measuredPlace = (
  { body, setBackMm, xMm, yMm, mounting }: Extract<MeasuredOn, { kind: 'baffle' }>,
  driver: Driver,
): OnBaffle => mountedOn(body, setBackMm, { xMm, yMm }, radiusOf(driver) ?? 0, mounting);

const isSamePlace = (a: OnBaffle, b: OnBaffle) => JSON.stringify(a) === JSON.stringify(b);

/** What a document says of a driver on its baffle, and of the one in its response. */
interface Setting {
  readonly now: OnBaffle;
  readonly on: MeasuredOn;
  readonly use: BaffleUse;
  readonly speed: number;
  readonly placement: Measurement['microphone']['placement'];
  readonly microphoneMm: number;
  /** All that counts: two documents that share no object may say the same. */
  readonly key: string;
}

/** Null where nothing is made of the baffle. */
function settingOf(design: Design, driver: Driver): Setting | null {
  const statement = design.measurements.find(({ id }) => id === driver.responseId);
  const use = baffleUse(design, driver, statement);
  const now = placedDriver(design, driver);
  if (!now || use === 'in-recipe') return null;
  const on = statement?.measuredOn ?? { kind: 'unknown' };
  const speed = speedOfSoundMps(design.airTemperatureC);
  const distanceMm = design.listeningDistanceMm;
  const { placement, distanceMm: microphoneMm } = statement?.microphone ?? {
    placement: 'design-axis',
    distanceMm,
  };
  const key = JSON.stringify([now, on, use, speed, distanceMm, placement, microphoneMm]);
  return { now, on, use, speed, placement, microphoneMm, key };
}

/** Null while a driver is on no panel, or its recipe holds the baffle step already. */
export type BaffleEffectOf = (design: Design, driver: Driver) => BaffleEffect | null;

/**
 * What the baffle does to drivers: the edges for one measured in a wall or in the near field, other
 * edges for one measured on another baffle or elsewhere on this one, and all angles that were not
 * measured.
 *
 * @param frequencyHz rising frequencies in Hz
 */
export function createBaffleEffect(frequencyHz: Float64Array): BaffleEffectOf {
  const bend = createBending(frequencyHz);
  const remember = createMemory<BaffleEffect | null>();
  const rememberSetting = createMemory<Setting | null>();
  return (design, driver) => {
    const { measurements, panels, airTemperatureC, listeningDistanceMm: distanceMm } = design;
    const setting = rememberSetting(
      driver.id,
      [measurements, panels, driver, airTemperatureC, distanceMm],
      () => settingOf(design, driver),
    );
    if (!setting) return null;
    const { now, on, use, speed, placement, microphoneMm, key } = setting;
    const hasSize = radiusOf(driver) !== null;
    return remember(driver.id, [key, hasSize], () => {
      // Worked out when it is asked for: curves on the axis may not need any of it.
      const here = () => bend(now, speed);
      const toward =
        (bending: Bending): TowardHeading =>
        (heading, atMm) =>
          bending.at(pointToward(heading, atMm));
      const onAxisOf = (bending: Bending) => toward(bending)(headingOf(straight), distanceMm);
      const against: TowardHeading = (heading, atMm) =>
        over(toward(here())(heading, atMm), onAxisOf(here()));
      const modelled = hasSize ? against : null;
      if (on.kind === 'baffle' && use === 'exchanged') {
        const then = measuredPlace(on, driver);
        const there = bend(then, speed);
        const microphone = (of: OnBaffle) =>
          placement === 'design-axis'
            ? { x: 0, y: 0, z: microphoneMm / 1000 }
            : { x: of.x, y: of.y, z: microphoneMm / 1000 };
        const thereAxis = onAxisOf(there);
        return {
          onAxis: over(here().at(microphone(now)), there.at(microphone(then))),
          offAxis: (heading, atMm) =>
            over(against(heading, atMm), over(toward(there)(heading, atMm), thereAxis)),
          modelled,
        };
      }
      if (use === 'added')
        return {
          onAxis: onAxisOf(here()),
          offAxis: (heading, atMm) => overLevels(against(heading, atMm), inWall(now, heading)),
          modelled,
        };
      return { onAxis: null, offAxis: null, modelled };
    });

    /** What a piston sends in a direction in a wall, against its axis. */
    function inWall({ radiusM }: OnBaffle, heading: Heading): Float64Array {
      const sine = Math.abs(Math.sin((betweenOrbits(heading).offDeg * Math.PI) / 180));
      return frequencyHz.map((hz) =>
        Math.abs(pistonDirectivity((2 * Math.PI * hz * radiusM * sine) / speed)),
      );
    }
  };
}

/** Least level that something is divided by: what is quieter is not known so well. */
const least = 0.05;

function over(a: GridSpectrum, b: GridSpectrum): GridSpectrum {
  const re = new Float64Array(a.re.length);
  const im = new Float64Array(a.re.length);
  for (let i = 0; i < re.length; i++) {
    const size = Math.max(least * least, b.re[i] * b.re[i] + b.im[i] * b.im[i]);
    re[i] = (a.re[i] * b.re[i] + a.im[i] * b.im[i]) / size;
    im[i] = (a.im[i] * b.re[i] - a.re[i] * b.im[i]) / size;
  }
  return { re, im };
}

const overLevels = ({ re, im }: GridSpectrum, levels: Float64Array): GridSpectrum => ({
  re: re.map((value, i) => value / Math.max(least, levels[i])),
  im: im.map((value, i) => value / Math.max(least, levels[i])),
});
