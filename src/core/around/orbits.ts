import { seatsOf, type Seat } from '@/core/document/seats';
import type { Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { levelDbOf } from '@/core/prediction/derived';
import { deviationDb } from '@/core/prediction/figures';
import { createHearing, type Hearing } from '@/core/prediction/hearing';
import {
  signsOf,
  spinCurvesOfForms,
  sumIn,
  voltsOf,
  type HeardDriver,
  type Sending,
  type SentTo,
} from '@/core/prediction/offAxisLevels';
import { lineThrough, type StraightLine } from '@/core/prediction/straightness';
import { beamWidthDeg } from '@/core/radiation/beamWidth';
import { axisPlace, type SpinCurves } from '@/core/radiation/cta2034';
import { headingOf, type Direction, type RadiationSource } from '@/core/radiation/direction';
import { energyOf, energyFormOf } from '@/core/radiation/energyForm';
import { sphereWeights } from '@/core/radiation/sphere';
import { preferenceOf, type Preference } from './preference';
import { createNearness, type SeatHeard } from './nearness';

export type Plane = Direction['plane'];
export const planes: readonly Plane[] = ['horizontal', 'vertical'];

/** Levels of one orbit over frequency. */
export interface OrbitMap {
  readonly plane: Plane;
  /** Rising, to 180. */
  readonly degrees: readonly number[];
  /** Level of angle a at frequency i at a · points + i, dB at 1 m. */
  readonly levelDb: Float32Array;
  readonly sources: readonly RadiationSource[];
  /** −6 dB beam width at each frequency, degrees; 360 where there is none. */
  readonly beamWidthDeg: Float64Array;
}

/** Everything that is heard around a speaker. */
export interface AroundView {
  readonly frequencyHz: Float64Array;
  readonly orbits: Readonly<Record<Plane, OrbitMap>>;
  readonly curves: SpinCurves;
  /** Directivity index of the whole sphere, between the orbits estimated, dB. */
  readonly sphereIndex: Float64Array;
  readonly source: RadiationSource;
  readonly seats: readonly SeatHeard[];
  /** Mean energy of the seats, dB at 1 m; null without seats. */
  readonly seatMeanDb: Float64Array | null;
  /** Through the in-room response. */
  readonly roomLine: StraightLine | null;
  readonly preference: Preference | null;
  readonly verticalWindow: VerticalWindow | null;
}

/** Heights at the listening distance over which the response keeps to its target. */
export interface VerticalWindow {
  /** Against the design axis, mm. */
  readonly fromMm: number;
  readonly toMm: number;
  /** What it keeps within, ± dB. */
  readonly withinDb: number;
}

/** What is looked at. */
export interface AroundWish {
  readonly stepDeg: 5 | 10;
  /** Of the orbits from the origin; by default that of the listener. */
  readonly distanceMm?: number;
  /** What the response on the axis is promised to keep within, ± dB; null while nobody promised. */
  readonly withinDb: number | null;
}

/** The grid of what is drawn around a speaker: 240 points. */
export const aroundGridHz = (): Float64Array => logGrid(20, 20_000, 24);

/** Angles of an orbit. */
export const orbitDegrees = (stepDeg: number): number[] =>
  Array.from({ length: 360 / stepDeg }, (_, k) => stepDeg * (k + 1) - 180);

/** Heights that are looked at for the vertical window, degrees to each side. */
const mostUpDeg = 25;

/**
 * Looks around designs, one after the other. What their drivers send is kept while only the network
 * changes.
 */
export function createAroundViews(frequencyHz: Float64Array = aroundGridHz()) {
  const hearing = createHearing(frequencyHz);
  const nearness = createNearness(frequencyHz);
  const points = frequencyHz.length;
  const energy = new Float64Array(points);

  /** @returns null where it is not known of some driver what it does off its axis */
  return (design: Design, data: MeasurementData, wish: AroundWish): AroundView | null => {
    const found = listen(hearing, design, data);
    if (!found) return null;
    const { heard, sending } = found;
    const forms = sending.spinForms();
    if (!forms) return null;
    const curves = spinCurvesOfForms(forms.means, heard, energy);
    const form = energyFormOf(forms.rows.pressures, sphereWeights, points);
    energyOf(form, voltsOf(heard), signsOf(heard), energy);
    const axis = levelDbOf(sumIn(forms.rows.pressures, heard, axisPlace, points));
    const sphereIndex = axis.map((db, i) => db - 10 * Math.log10(energy[i]));
    const whole: SpinCurves = { ...curves, onAxis: axis };
    const orbits = planes.map((plane) => orbitOf(plane, wish, heard, sending, points));
    if (orbits.some((one) => one === null)) return null;
    const seats = nearness(design, heard, sending, seatsOf(design));
    return {
      frequencyHz,
      orbits: { horizontal: orbits[0]!, vertical: orbits[1]! },
      curves: whole,
      sphereIndex,
      source: forms.rows.source,
      seats,
      seatMeanDb: seats.length === 0 ? null : meanLevel(seats.map(({ directDb }) => directDb)),
      roomLine: lineThrough(frequencyHz, whole.inRoom, { fromHz: 100, toHz: 10_000 }),
      preference: preferenceOf(frequencyHz, whole),
      verticalWindow:
        wish.withinDb === null
          ? null
          : verticalWindowOf(design, heard, sending, frequencyHz, wish.withinDb),
    };
  };
}

/** The drivers of a design that are heard, and what they send. */
export function listen(
  hearing: Hearing,
  design: Design,
  data: MeasurementData,
): { readonly heard: readonly HeardDriver[]; readonly sending: Sending } | null {
  const found = hearing.hear(design, data);
  if (found?.kind !== 'heard') return null;
  const heard = found.ways.flat();
  return heard.length === 0 ? null : { heard, sending: hearing.sendingOf(design, heard, data) };
}

function orbitOf(
  plane: Plane,
  { stepDeg, distanceMm }: AroundWish,
  heard: readonly HeardDriver[],
  sending: Sending,
  points: number,
): OrbitMap | null {
  const degrees = orbitDegrees(stepDeg);
  const places = degrees.map((one): SentTo => ({
    heading: headingOf({ plane, degrees: one }),
    ...(distanceMm !== undefined && { distanceMm }),
  }));
  const rows = sending.rowsAs(plane, places);
  if (!rows) return null;
  const levelDb = new Float32Array(degrees.length * points);
  degrees.forEach((_, a) =>
    levelDb.set(levelDbOf(sumIn(rows.pressures, heard, a, points)), a * points),
  );
  const beamWidth = Float64Array.from({ length: points }, (_, i) =>
    beamWidthDeg(degrees, (a) => levelDb[a * points + i]),
  );
  return { plane, degrees, levelDb, sources: rows.sources, beamWidthDeg: beamWidth };
}

/** Levels of an orbit over those at one of its angles; as they are for null. */
export function relativeLevels(
  { degrees, levelDb }: OrbitMap,
  points: number,
  referenceDeg: number | null,
): Float32Array {
  const at = referenceDeg === null ? -1 : degrees.indexOf(referenceDeg);
  if (at < 0) return levelDb;
  return levelDb.map((db, k) => db - levelDb[at * points + (k % points)]);
}

/** Mean energy of some levels, dB. */
function meanLevel(levels: readonly Float64Array[]): Float64Array {
  return levels[0].map(
    (_, i) =>
      10 * Math.log10(levels.reduce((sum, one) => sum + 10 ** (one[i] / 10), 0) / levels.length),
  );
}

/**
 * Heights over which the response keeps within a limit around its target, nearest to the axis; null where
 * there are none within 25° of it.
 */
function verticalWindowOf(
  design: Design,
  heard: readonly HeardDriver[],
  sending: Sending,
  frequencyHz: Float64Array,
  withinDb: number,
): VerticalWindow | null {
  const degrees = Array.from({ length: 2 * mostUpDeg + 1 }, (_, k) => k - mostUpDeg);
  const rows = sending.rowsAs(
    'heights',
    degrees.map((one) => ({ heading: headingOf({ plane: 'vertical', degrees: one }) })),
  );
  if (!rows) return null;
  const isKept = (place: number) => {
    const level = levelDbOf(sumIn(rows.pressures, heard, place, frequencyHz.length));
    const { target } = design;
    const found = deviationDb(frequencyHz, level, target, target);
    return found !== null && found.value <= withinDb;
  };
  const kept = degrees.map((_, place) => isKept(place));
  // Of several stretches the one that is nearest to the axis.
  const nearest = degrees.reduce<number | null>(
    (best, degree, place) =>
      kept[place] && (best === null || Math.abs(degree) < Math.abs(degrees[best])) ? place : best,
    null,
  );
  if (nearest === null) return null;
  let [low, high] = [nearest, nearest];
  while (low > 0 && kept[low - 1]) low--;
  while (high < degrees.length - 1 && kept[high + 1]) high++;
  const height = (place: number) =>
    design.listeningDistanceMm * Math.tan((degrees[place] * Math.PI) / 180);
  return { fromMm: height(low), toMm: height(high), withinDb };
}

export type { Seat };
