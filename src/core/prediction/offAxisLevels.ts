import { seatsOf } from '@/core/document/seats';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import {
  axisPlace,
  indicesOf,
  listeningWindow,
  spinDirections,
  spinMeans,
  spinWeights,
  type SpinCurves,
  type SpinMean,
} from '@/core/radiation/cta2034';
import {
  headingOf,
  leastCertain,
  type Heading,
  type RadiationSource,
} from '@/core/radiation/direction';
import { energyFormOf, energyOf, type EnergyForm } from '@/core/radiation/energyForm';
import { energiesDb } from '@/core/spectrum/level';
import { levelDbOf } from './derived';
import { createMemory } from './memory';
import type { OffAxisOf } from './offAxisInputs';
import type { OffAxisLevels } from './prediction';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design, Driver } from '@/core/document/schema';

/**
 * A driver that is heard: what it sends along the axis per volt, and the voltage at it in its
 * polarity.
 */
export interface HeardDriver {
  readonly driver: Driver;
  readonly radiation: GridSpectrum;
  readonly volts: GridSpectrum;
  readonly sign: number;
}

/** Where it is heard: that far from the origin, by default as far as the listener. */
export interface SentTo {
  readonly heading: Heading;
  readonly distanceMm?: number;
}

/** What drivers send in some directions per volt: `pressures[driver][direction]`. */
export interface SentRows {
  readonly pressures: readonly (readonly GridSpectrum[])[];
  /** Of each direction, and the least certain of all. */
  readonly sources: readonly RadiationSource[];
  readonly source: RadiationSource;
}

/** How much of what is off the axis is worked out. */
export type OffAxisExtent = 'known' | 'window' | 'whole';

/** A place that is looked at by itself: a seat, or a direction that something was promised for. */
interface Place {
  readonly id: string;
  readonly heading: Heading;
  readonly distanceMm: number;
}

/** The seats of the brief, and the directions of promises, by the ids of these. */
export function placesLookedAt(design: Design): Place[] {
  const angles = design.promises.flatMap(({ id, angle, isOff }) =>
    angle && !isOff
      ? [{ id, heading: headingOf(angle), distanceMm: design.listeningDistanceMm }]
      : [],
  );
  return [...seatsOf(design), ...angles];
}

const windowPlaces = listeningWindow.map((one) => ({ heading: headingOf(one) }));
const spinPlaces = spinDirections.map((one) => ({ heading: headingOf(one) }));
const windowShares = new Float64Array(listeningWindow.length + 1).fill(
  1 / (listeningWindow.length + 1),
);

/** A driver of a design that is heard. */
export type Voice = Pick<HeardDriver, 'driver' | 'radiation'>;

interface Mean {
  readonly form: EnergyForm;
  readonly source: RadiationSource;
}

/** Energies of the standard's means, and what is sent in its 70 directions. */
export interface SpinForms {
  readonly means: Readonly<Record<SpinMean, EnergyForm>>;
  readonly rows: SentRows;
}

interface PlaceRows extends SentRows {
  readonly places: readonly Place[];
}

/**
 * What the voices of a design send off the axis, worked out when it is asked for; null where it is
 * not known of some driver.
 */
export interface Sending {
  /** In directions of one's own, kept under a name until others are asked for under it. */
  readonly rowsAs: (name: string, places: readonly SentTo[]) => SentRows | null;
  /** Energy over the listening window: the axis and eight directions. */
  readonly windowForm: () => Mean | null;
  readonly spinForms: () => SpinForms | null;
  /** At each place that is looked at. */
  readonly placeRows: () => PlaceRows | null;
  /** Whether it is there already. */
  readonly knowsWindow: () => boolean;
  readonly knowsSpin: () => boolean;
}

export type SendingOf = (
  design: Design,
  voices: readonly Voice[],
  data: MeasurementData,
) => Sending;

/**
 * What drivers send is kept as long as drivers and measurements are the same.
 *
 * @param points of the frequency grid
 */
export function createSending(offAxisOf: OffAxisOf, points: number): SendingOf {
  const rememberWindow = createMemory<Mean | null>();
  const rememberSpin = createMemory<SpinForms | null>();
  const rememberPlaces = createMemory<PlaceRows | null>();
  const rememberRows = createMemory<SentRows | null>();
  return (design, voices, data) => {
    const toward = voices.map(({ driver }) => offAxisOf(design, driver, data));
    const radiations = voices.map(({ radiation }) => radiation);
    const inputs = [...toward, ...radiations];

    const rows = (places: readonly SentTo[]): SentRows | null => {
      const sources = places.map((): RadiationSource[] => []);
      const pressures: GridSpectrum[][] = [];
      for (const [v, radiation] of radiations.entries()) {
        const row: GridSpectrum[] = [];
        for (const [p, { heading, distanceMm }] of places.entries()) {
          const there = toward[v]?.(radiation, heading, distanceMm);
          if (!there) return null;
          row.push(there.spectrum);
          sources[p].push(there.source);
        }
        pressures.push(row);
      }
      const sourceOf = sources.map(leastCertain);
      return { pressures, sources: sourceOf, source: leastCertain(sourceOf) };
    };

    return {
      rowsAs: (name, places) =>
        rememberRows(name, [JSON.stringify(places), ...inputs], () => rows(places)),
      windowForm: () =>
        rememberWindow('', inputs, () => {
          const sent = rows(windowPlaces);
          if (!sent) return null;
          const pressures = sent.pressures.map((row, v) => [radiations[v], ...row]);
          return { form: energyFormOf(pressures, windowShares, points), source: sent.source };
        }),
      spinForms: () =>
        rememberSpin('', inputs, () => {
          const sent = rows(spinPlaces);
          if (!sent) return null;
          // Straight ahead is the axis itself.
          const pressures = sent.pressures.map((row, v) => row.with(axisPlace, radiations[v]));
          const means = Object.fromEntries(
            spinMeans.map((mean) => [mean, energyFormOf(pressures, spinWeights[mean], points)]),
          ) as Record<SpinMean, EnergyForm>;
          return { means, rows: { ...sent, pressures } };
        }),
      placeRows() {
        const places = placesLookedAt(design);
        return rememberPlaces('', [JSON.stringify(places), ...inputs], () => {
          const sent = rows(places);
          return sent && { ...sent, places };
        });
      },
      knowsWindow: () => rememberWindow.has('', inputs),
      knowsSpin: () => rememberSpin.has('', inputs),
    };
  };
}

export const nothingOffAxis: OffAxisLevels = { window: null, spin: null, places: [], due: null };

/**
 * Levels off the axis of drivers with their voltages. What drivers send is kept: a changed network
 * asks for sums only.
 */
export function createOffAxisLevels(sendingOf: SendingOf, points: number) {
  const energy = new Float64Array(points);
  return (
    design: Design,
    heard: readonly HeardDriver[],
    data: MeasurementData,
    extent: OffAxisExtent,
  ): OffAxisLevels => {
    if (heard.length === 0) return nothingOffAxis;
    const sending = sendingOf(design, heard, data);
    if (extent === 'known' && !sending.knowsWindow()) return { ...nothingOffAxis, due: 'window' };
    const mean = sending.windowForm();
    if (!mean) return nothingOffAxis;
    const window = { levelDb: levelOf(mean.form, heard, energy), source: mean.source };
    if (extent !== 'whole' && !sending.knowsSpin())
      return { ...nothingOffAxis, window, due: 'whole' };
    const forms = sending.spinForms();
    const placed = sending.placeRows();
    const places = (placed?.places ?? []).map(({ id }, p) => ({
      id,
      levelDb: levelDbOf(sumIn(placed!.pressures, heard, p, points)),
      source: placed!.source,
    }));
    if (!forms) return { window, spin: null, places, due: null };
    const curves = spinCurvesOfForms(forms.means, heard, energy);
    return { window, spin: { ...curves, source: forms.rows.source }, places, due: null };
  };
}

export const voltsOf = (heard: readonly HeardDriver[]) => heard.map(({ volts }) => volts);
export const signsOf = (heard: readonly HeardDriver[]) => heard.map(({ sign }) => sign);

/** Level of a mean energy, dB; the energy itself is left in the last argument. */
function levelOf(form: EnergyForm, heard: readonly HeardDriver[], energy: Float64Array) {
  energyOf(form, voltsOf(heard), signsOf(heard), energy);
  return energiesDb(energy);
}

/**
 * The standard's means but the axis.
 *
 * @param energy one number for each frequency, to work with
 */
export function spinCurvesOfForms(
  means: SpinForms['means'],
  heard: readonly HeardDriver[],
  energy: Float64Array,
): Omit<SpinCurves, 'onAxis'> {
  const levels = Object.fromEntries(
    spinMeans.map((mean) => [mean, levelOf(means[mean], heard, energy)]),
  ) as Record<SpinMean, Float64Array>;
  return { ...levels, ...indicesOf(levels) };
}

/** Pressure of drivers with their voltages in one of the directions. */
export function sumIn(
  pressures: readonly (readonly GridSpectrum[])[],
  heard: readonly Pick<HeardDriver, 'volts' | 'sign'>[],
  direction: number,
  points: number,
): GridSpectrum {
  const re = new Float64Array(points);
  const im = new Float64Array(points);
  heard.forEach(({ volts, sign }, h) => {
    const there = pressures[h][direction];
    for (let i = 0; i < points; i++) {
      re[i] += sign * (there.re[i] * volts.re[i] - there.im[i] * volts.im[i]);
      im[i] += sign * (there.re[i] * volts.im[i] + there.im[i] * volts.re[i]);
    }
  });
  return { re, im };
}
