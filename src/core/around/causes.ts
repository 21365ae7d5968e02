import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { DriverId, WayId } from '@/core/fields';
import type { Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import type { MeasurementData } from '@/core/measurement/samples';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { Crossover } from '@/core/prediction/crossovers';
import type { Band } from '@/core/prediction/figures';
import { createHearing } from '@/core/prediction/hearing';
import { placedDriver } from '@/core/prediction/onBaffle';
import { signsOf, voltsOf, type HeardDriver } from '@/core/prediction/offAxisLevels';
import { spinDirections, spinWeights } from '@/core/radiation/cta2034';
import { headingOf, straight } from '@/core/radiation/direction';
import { energyFormOf, energyOf, type EnergyForm } from '@/core/radiation/energyForm';
import { pathToMm, pointAtMm } from '@/core/radiation/path';
import { aroundGridHz, listen } from './orbits';
import { residualOf } from './anomalies';

/** Something that may make directivity stray, and what is left without it. */
export type Cause =
  | { readonly kind: 'size'; readonly driverId: DriverId; readonly leftDb: number }
  | { readonly kind: 'edges'; readonly leftDb: number; readonly radiusMm: number }
  | { readonly kind: 'spacing'; readonly leftDb: number }
  | { readonly kind: 'phase'; readonly leftDb: number };

/** A crossover at another frequency, and what is left then. */
export interface Shift {
  readonly lowerId: WayId;
  readonly upperId: WayId;
  readonly fromHz: number;
  readonly toHz: number;
  readonly leftDb: number;
}

/** What was found about one frequency. */
export interface CauseStudy {
  readonly atHz: number;
  /** Directivity index off its line, dB: above 0 it narrows. */
  readonly nowDb: number;
  /** By how much they take away, the most first. */
  readonly causes: readonly Cause[];
  /** The nearest crossover elsewhere that takes most away; null where none takes a third of it. */
  readonly shift: Shift | null;
}

/** A driver that is this much under the loudest has no part in what is heard, dB. */
const unheardDb = 12;
/** Area of a driver that counts as a point, cm². */
const pointSdCm2 = 0.01;
const roundMm = 40;
/** How far a crossover may be moved, and in which steps, octaves. */
const mostShift = 1;
const shiftStep = 1 / 6;
/** A crossover farther away has no part in it, octaves. */
const nearOctaves = 1.5;

type Rows = readonly (readonly GridSpectrum[])[];

/** A way to leave one cause out: the energies of window and sphere without it. */
interface Variant {
  readonly rows: Rows;
  readonly heard: readonly HeardDriver[];
  /** Sums energies of ways in place of pressures. */
  readonly isIncoherent?: boolean;
}

/**
 * Looks for the causes of what directivity does at a frequency, by leaving them out one at a time:
 * a driver as small as a point, its edges rounded, all drivers in one place, ways that add their
 * energies in place of their pressures. Drivers that were measured are changed by what the model
 * makes of it.
 */
export function createCauseStudy(frequencyHz: Float64Array = aroundGridHz()) {
  const hearing = createHearing(frequencyHz);
  const points = frequencyHz.length;

  function* study(
    design: Design,
    data: MeasurementData,
    crossovers: readonly Crossover[],
    atHz: number,
    band: Band,
    isBearable: (lowerId: WayId, upperId: WayId, hz: number) => boolean = () => true,
  ): Generator<string, CauseStudy | null> {
    const found = listen(hearing, design, data);
    const forms = found?.sending.spinForms();
    if (!found || !forms) return null;
    const { heard } = found;
    const now: Variant = { rows: forms.rows.pressures, heard };
    const left = (variant: Variant) => {
      const residual = residualOf(frequencyHz, indexOf(variant, design), band);
      return residual[nearest(frequencyHz, atHz)];
    };
    const nowDb = left(now);
    const causes: Cause[] = [];

    yield 'spacing';
    causes.push({ kind: 'spacing', leftDb: left(together(now, design)) });
    causes.push({ kind: 'phase', leftDb: left({ ...now, isIncoherent: true }) });

    const rowsOf = (other: Design): Rows | null => {
      const there = listen(hearing, other, data);
      return there?.sending.spinForms()?.rows.pressures ?? null;
    };
    for (const { driver } of loudAt(heard, nearest(frequencyHz, atHz))) {
      yield driver.name;
      // Both modelled, so that what differs is the size alone.
      const [point, asItIs] = [pointSdCm2, driver.sheet.sdCm2].map((sdCm2) =>
        sdCm2 === null || !placedDriver(design, driver)
          ? null
          : rowsOf(modelled(design, driver, sdCm2)),
      );
      if (!point || !asItIs) continue;
      const without = left({ heard, rows: point }) - left({ heard, rows: asItIs });
      causes.push({ kind: 'size', driverId: driver.id, leftDb: nowDb + without });
    }

    const rounded = withRoundedEdges(design, roundMm);
    if (rounded) {
      yield 'edges';
      const rows = rowsOf(rounded);
      if (rows) causes.push({ kind: 'edges', leftDb: left({ heard, rows }), radiusMm: roundMm });
    }

    yield 'crossover';
    const shift = bestShift(design, now, crossovers, atHz, nowDb, left, isBearable);
    const takes = ({ leftDb }: Cause) => Math.abs(nowDb) - Math.abs(leftDb);
    return { atHz, nowDb, causes: causes.sort((a, b) => takes(b) - takes(a)), shift };
  }

  /** Directivity index of the sound power. */
  function indexOf({ rows, heard, isIncoherent = false }: Variant, design: Design): Float64Array {
    const energy = (weights: Float64Array) => {
      const form = energyFormOf(rows, weights, points);
      if (isIncoherent) uncouple(form, heard, design);
      const out = new Float64Array(points);
      energyOf(form, voltsOf(heard), signsOf(heard), out);
      return out;
    };
    const [window, power] = [energy(spinWeights.listeningWindow), energy(spinWeights.soundPower)];
    return window.map((value, i) => 10 * Math.log10(value / power[i]));
  }

  /** All drivers at the origin: what the ways to them add in each direction is taken out. */
  function together({ rows, heard }: Variant, design: Design): Variant {
    const speedMmPerS = 1000 * speedOfSoundMps(design.airTemperatureC);
    const home = design.listeningDistanceMm;
    const points0 = spinDirections.map((direction) => pointAtMm(headingOf(direction), home));
    return {
      heard,
      rows: rows.map((row, h) => {
        const { position } = heard[h].driver;
        const axisMm = pathToMm(position, pointAtMm(headingOf(straight), home));
        return row.map(({ re, im }, d) => {
          const seconds = (pathToMm(position, points0[d]) - axisMm) / speedMmPerS;
          const out = { re: new Float64Array(points), im: new Float64Array(points) };
          for (let i = 0; i < points; i++) {
            const angle = 2 * Math.PI * frequencyHz[i] * seconds;
            const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
            out.re[i] = re[i] * cos - im[i] * sin;
            out.im[i] = re[i] * sin + im[i] * cos;
          }
          return out;
        });
      }),
    };
  }

  function bestShift(
    design: Design,
    now: Variant,
    crossovers: readonly Crossover[],
    atHz: number,
    nowDb: number,
    left: (variant: Variant) => number,
    isBearable: (lowerId: WayId, upperId: WayId, hz: number) => boolean,
  ): Shift | null {
    const near = crossovers
      .filter((one) => Math.abs(Math.log2(one.atHz / atHz)) <= nearOctaves)
      .sort((a, b) => Math.abs(Math.log2(a.atHz / atHz)) - Math.abs(Math.log2(b.atHz / atHz)));
    const tried = near.flatMap(({ lower, upper, atHz: fromHz }) => {
      const steps = Math.round(mostShift / shiftStep);
      return Array.from({ length: 2 * steps + 1 }, (_, k) => (k - steps) * shiftStep)
        .filter(
          (octaves) => octaves !== 0 && isBearable(lower.wayId, upper.wayId, fromHz * 2 ** octaves),
        )
        .map((octaves): Shift & { readonly octaves: number } => {
          const toHz = fromHz * 2 ** octaves;
          const [lowerId, upperId] = [lower.wayId, upper.wayId];
          const heard = shifted(now.heard, design, lowerId, upperId, fromHz, toHz);
          return { lowerId, upperId, fromHz, toHz, octaves, leftDb: left({ ...now, heard }) };
        });
    });
    const gain = ({ leftDb }: Shift) => Math.abs(nowDb) - Math.abs(leftDb);
    const most = Math.max(0, ...tried.map(gain));
    if (most < Math.abs(nowDb) / 3) return null;
    // The smallest move that brings most of what moves bring.
    return tried
      .filter((one) => gain(one) >= 0.8 * most)
      .reduce((best, one) => (Math.abs(one.octaves) < Math.abs(best.octaves) ? one : best));
  }

  /** Voltages as if two ways crossed over elsewhere, by Linkwitz–Riley slopes of fourth order. */
  function shifted(
    heard: readonly HeardDriver[],
    { ways }: Design,
    lowerId: WayId,
    upperId: WayId,
    fromHz: number,
    toHz: number,
  ): HeardDriver[] {
    const isIn = (id: WayId, { id: driverId }: Driver) =>
      ways.find((way) => way.id === id)?.ends.some((end) => end.driverId === driverId) ?? false;
    return heard.map((one) => {
      const side = isIn(lowerId, one.driver) ? 'low' : isIn(upperId, one.driver) ? 'high' : null;
      if (side === null) return one;
      const volts = { re: one.volts.re.slice(), im: one.volts.im.slice() };
      for (let i = 0; i < points; i++) {
        const [to, from] = [toHz, fromHz].map((hz) => slope(side, frequencyHz[i] / hz));
        const size = from[0] ** 2 + from[1] ** 2;
        const re = (to[0] * from[0] + to[1] * from[1]) / size;
        const im = (to[1] * from[0] - to[0] * from[1]) / size;
        const [x, y] = [one.volts.re[i], one.volts.im[i]];
        volts.re[i] = x * re - y * im;
        volts.im[i] = x * im + y * re;
      }
      return { ...one, volts };
    });
  }

  return study;
}

/** Linkwitz–Riley of fourth order: the square of Butterworth's second. */
function slope(side: 'low' | 'high', x: number): readonly [number, number] {
  const [re, im] = [1 - x * x, Math.SQRT2 * x];
  const size = re * re + im * im;
  const top = side === 'low' ? 1 : -x * x;
  const [u, v] = [(top * re) / size, (-top * im) / size];
  return [u * u - v * v, 2 * u * v];
}

const nearest = (frequencyHz: Float64Array, hz: number): number =>
  frequencyHz.reduce(
    (best, one, i) => (Math.abs(one - hz) < Math.abs(frequencyHz[best] - hz) ? i : best),
    0,
  );

/** Drivers that have a part in what is heard on the axis. */
function loudAt(heard: readonly HeardDriver[], i: number): readonly HeardDriver[] {
  const levels = heard.map(
    ({ radiation, volts }) =>
      10 *
      Math.log10(
        (radiation.re[i] ** 2 + radiation.im[i] ** 2) * (volts.re[i] ** 2 + volts.im[i] ** 2),
      ),
  );
  const loudest = Math.max(...levels);
  return heard.filter((_, h) => levels[h] > loudest - unheardDb);
}

/** A driver of another size, and none of what was measured off its axis. */
const modelled = (design: Design, driver: Driver, sdCm2: number): Design => ({
  ...design,
  drivers: design.drivers.map((one) =>
    one.id === driver.id ? { ...one, offAxisIds: [], sheet: { ...one.sheet, sdCm2 } } : one,
  ),
});

/** All fronts with their sharp edges rounded; null where there is none. */
export function withRoundedEdges(design: Design, sizeMm: number): Design | null {
  const isSharp = ({ kind, corners }: Panel) =>
    kind === 'box' && corners.some(({ edge }) => edge.kind === 'sharp' || edge.sizeMm < sizeMm);
  const panels = design.panels.filter(isSharp);
  if (panels.length === 0) return null;
  return panels.reduce((next, panel) => {
    const corners = panel.corners.map((corner) =>
      corner.edge.sizeMm >= sizeMm && corner.edge.kind === 'round'
        ? corner
        : { ...corner, edge: { kind: 'round' as const, sizeMm } },
    );
    return applyChange(next, { type: 'setPanel', panel: { ...panel, corners } });
  }, design);
}

/** Takes out of a form what voices of different ways do together. */
function uncouple(
  { voiceCount, points, re, im }: EnergyForm,
  heard: readonly HeardDriver[],
  { ways }: Design,
): void {
  const wayOf = heard.map(({ driver }) =>
    ways.findIndex(({ ends }) => ends.some(({ driverId }) => driverId === driver.id)),
  );
  for (let a = 0; a < voiceCount; a++)
    for (let b = 0; b < voiceCount; b++) {
      if (wayOf[a] === wayOf[b]) continue;
      const at = (a * voiceCount + b) * points;
      re.fill(0, at, at + points);
      im.fill(0, at, at + points);
    }
}
