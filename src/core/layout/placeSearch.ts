import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { createFirstOrder } from '@/core/baffle/diffraction/firstOrder';
import type { Diffraction } from '@/core/baffle/diffraction/sending';
import { createMountedDiffraction } from '@/core/baffle/mountedDriver';
import { frontSeenFrom } from '@/core/baffle/dents';
import { boundsOf, type Panel, type PanelEdge } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import type { DriverId } from '@/core/fields';
import { logGrid } from '@/core/grid/logGrid';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import type { Band } from '@/core/prediction/figures';
import { placedDriver, pointBefore, pointToward, type OnBaffle } from '@/core/prediction/onBaffle';
import { headingOf, type Direction } from '@/core/radiation/direction';
import { frameRadiusMm, layoutFaults } from './faults';
import { rippleOf, type Ripple } from './ripple';

/** What a search for places may change. */
export interface PlaceWish {
  readonly panelId: string;
  /** Drivers that may be moved; the others stay. */
  readonly movable: readonly DriverId[];
  /** In which each driver is used. */
  readonly bands: ReadonlyMap<DriverId, Band>;
  /** Widest and narrowest front; both as it is to leave it. */
  readonly narrowestMm: number;
  readonly widestMm: number;
  /** Largest radius of the front's edges; 0 leaves them as they are. */
  readonly largestRadiusMm: number;
}

/** Ripple of one place. */
interface PlaceScore {
  readonly axis: Ripple;
  /** Of the mean energy over directions around the axis. */
  readonly window: Ripple;
}

/** A layout that was looked at as a whole. */
export interface FoundLayout {
  readonly panel: Panel;
  readonly places: ReadonlyMap<DriverId, { readonly xMm: number; readonly yMm: number }>;
  readonly scores: ReadonlyMap<DriverId, PlaceScore>;
  /** What the search makes small: rms of all ripples, dB. */
  readonly meritDb: number;
}

/** Merit by place of one driver on the front that was found; NaN where it does not fit. */
export interface PlaceMap {
  readonly driverId: DriverId;
  readonly xsMm: readonly number[];
  readonly ysMm: readonly number[];
  /** Row by row from below, dB rms. */
  readonly meritDb: Float64Array;
}

export interface PlacesFound {
  readonly before: FoundLayout;
  readonly best: FoundLayout;
  /** The best with every driver that moves on the middle line; null where that does not fit. */
  readonly centred: FoundLayout | null;
  readonly maps: readonly PlaceMap[];
}

export interface PlaceProgress {
  /** Share of the work that is done. */
  readonly share: number;
  readonly told: string;
  readonly bestDb: number;
}

const window: readonly Direction[] = [
  ...[-30, -15, 15, 30].map((degrees) => ({ plane: 'horizontal', degrees }) as const),
  ...[-10, 10].map((degrees) => ({ plane: 'vertical', degrees }) as const),
];
const straight: Direction = { plane: 'horizontal', degrees: 0 };

/** Points per octave of what is looked at. */
const perOctave = 10;
const coarseShare = 0.5;
/** Steps of the map, mm, for the front as it ends up and for widths that are only tried. */
const fineStepMm = 9;
const roughStepMm = 18;
/** How far up or down a driver may go, mm. */
const mostUpMm = 90;
const widthCount = 3;
/** Places that are looked at with all orders of diffraction. */
const finalists = 8;

/**
 * Looks for the places of drivers, and for a width and a radius of the edges, at which diffraction
 * makes least ripple on the axis and around it. Many places are looked at over single edges; the best
 * of them over all. Speakers of a pair are mirrored, so that what holds for one holds for both.
 *
 * @returns when it is done; each step tells how far it is
 */
export function* searchPlaces(
  design: Design,
  wish: PlaceWish,
): Generator<PlaceProgress, PlacesFound> {
  const panel = design.panels.find(({ id }) => id === wish.panelId)!;
  const grid = logGrid(150, 16_000, perOctave);
  const speed = speedOfSoundMps(design.airTemperatureC);
  const movable = design.drivers
    .filter(({ id, mounting }) => wish.movable.includes(id) && mounting.panelId === panel.id)
    // Small ones first: they play where ripple is worst.
    .sort((a, b) => frameRadiusMm(a) - frameRadiusMm(b));
  const widths = widthsOf(panel, wish);
  const radii = wish.largestRadiusMm > 0 ? [wish.largestRadiusMm / 2, wish.largestRadiusMm] : [];
  const stages = widths.length + 2;
  let [stage, bestDb] = [0, Infinity];
  const progress = (told: string, within = 0): PlaceProgress => ({
    share: Math.min(1, (stage + within) / stages),
    ...{ told, bestDb },
  });

  const whole = (one: Design, driver: Driver): Diffraction =>
    createMountedDiffraction(placedDriver(one, driver)!, grid, speed);
  const quick = (one: Design, driver: Driver): Diffraction => {
    const { shape, x, y, radiusM } = placedDriver(one, driver)!;
    const { solid } = frontSeenFrom(shape, { x, y });
    return createFirstOrder(solid, { x, y, radiusM }, grid, speed, coarseShare);
  };
  const scoreOf = (one: Design, driver: Driver, how: typeof whole): PlaceScore => {
    const placed = placedDriver(one, driver)!;
    const diffraction = how(one, driver);
    const energy = (direction: Direction) => energyToward(diffraction, placed, one, direction);
    const axis = energy(straight);
    const around = window.map(energy);
    const mean = axis.map(
      (value, i) => around.reduce((sum, other) => sum + other[i], value) / (around.length + 1),
    );
    const band = wish.bands.get(driver.id) ?? { fromHz: 200, toHz: 10_000 };
    return {
      axis: rippleOf(grid, axis.map(levelOf), band),
      window: rippleOf(grid, mean.map(levelOf), band),
    };
  };

  const laidOut = (one: Design): FoundLayout => {
    const scores = new Map(
      one.drivers
        .filter(({ mounting }) => mounting.panelId === panel.id)
        .map((driver) => [driver.id, scoreOf(one, driver, whole)]),
    );
    return {
      panel: one.panels.find(({ id }) => id === panel.id)!,
      places: new Map(
        movable.map(({ id }) => {
          const { xMm, yMm } = one.drivers.find((driver) => driver.id === id)!.position;
          return [id, { xMm, yMm }];
        }),
      ),
      scores,
      meritDb: together([...scores.values()].map(meritOf)),
    };
  };

  /** Merit of every place of a driver on a front. */
  function* mapOf(one: Design, driver: Driver, stepMm: number, within: number) {
    const { xsMm, ysMm } = gridOfPlaces(one, driver, stepMm);
    const meritDb = new Float64Array(xsMm.length * ysMm.length).fill(NaN);
    for (const [row, yMm] of ysMm.entries()) {
      for (const [column, xMm] of xsMm.entries()) {
        const next = moved(one, driver, { xMm, yMm });
        if (!fitsOn(next, driver.id)) continue;
        const there = next.drivers.find(({ id }) => id === driver.id)!;
        meritDb[row * xsMm.length + column] = meritOf(scoreOf(next, there, quick));
      }
      yield progress(`${driver.name}: places`, within + row / ysMm.length / movable.length);
    }
    return { driverId: driver.id, xsMm, ysMm, meritDb } satisfies PlaceMap;
  }

  const before = laidOut(design);
  bestDb = before.meritDb;
  yield progress('as it is');
  // Widths are told apart by rough maps.
  let chosen = { width: widths[0], merit: Infinity };
  if (widths.length > 1)
    for (const width of widths) {
      const tried = withWidth(design, panel, width);
      const merits: number[] = [];
      for (const [d, driver] of movable.entries()) {
        const map = yield* mapOf(tried, driver, roughStepMm, d / movable.length);
        merits.push(Math.min(...map.meritDb.filter(Number.isFinite)));
      }
      const merit = together(merits);
      if (merit < chosen.merit) chosen = { width, merit };
      stage++;
    }
  else stage++;
  const base = withWidth(design, panel, chosen.width);
  const maps: PlaceMap[] = [];
  for (const [d, driver] of movable.entries())
    maps.push(yield* mapOf(base, driver, fineStepMm, d / movable.length));
  stage++;

  /** Drivers put one after the other at the best of their places that are free. */
  function* settled(isCentred: boolean) {
    let layouts = [base];
    for (const [d, map] of maps.entries()) {
      const places = bestPlaces(map, isCentred);
      const ranked = layouts.flatMap((one) =>
        places
          .map((place) => moved(one, movable[d], place))
          .filter((next) => layoutFaults(next).length <= layoutFaults(design).length)
          .slice(0, finalists),
      );
      const scored: { next: Design; merit: number }[] = [];
      for (const [k, next] of ranked.entries()) {
        const driver = next.drivers.find(({ id }) => id === movable[d].id)!;
        scored.push({ next, merit: meritOf(scoreOf(next, driver, whole)) });
        yield progress(
          `${driver.name}: the best places with all edges`,
          ((isCentred ? 1 : 0) + (d + k / ranked.length) / maps.length) / 3,
        );
      }
      if (scored.length === 0) return null;
      scored.sort((a, b) => a.merit - b.merit);
      layouts = scored.slice(0, 2).map(({ next }) => next);
    }
    const found = laidOut(layouts[0]);
    return { design: layouts[0], found };
  }

  const free = yield* settled(false);
  if (free) bestDb = Math.min(bestDb, free.found.meritDb);
  const middle = yield* settled(true);
  let best = free && free.found.meritDb < before.meritDb ? free : { design, found: before };
  for (const [r, radiusMm] of radii.entries()) {
    yield progress(`edges rounded by ${radiusMm} mm`, 2 / 3 + r / radii.length / 3);
    const rounded = withRadius(best.design, panel.id, radiusMm);
    if (layoutFaults(rounded).length > layoutFaults(design).length) continue;
    const found = laidOut(rounded);
    if (found.meritDb < best.found.meritDb) {
      best = { design: rounded, found };
      bestDb = found.meritDb;
    }
  }
  return { before, best: best.found, centred: middle?.found ?? null, maps };
}

/** The change that takes a layout over. */
export const layoutChange = (design: Design, { panel, places }: FoundLayout): Change => ({
  type: 'layOutBaffle',
  panels: design.panels.map((one) => (one.id === panel.id ? panel : one)),
  places,
});

/** Rms of the ripples of one driver, dB. */
const meritOf = ({ axis, window: around }: PlaceScore): number =>
  Math.sqrt((axis.rmsDb ** 2 + around.rmsDb ** 2) / 2);

const together = (all: readonly number[]): number =>
  Math.sqrt(all.reduce((sum, one) => sum + one * one, 0) / Math.max(1, all.length));

const levelOf = (energy: number): number => 10 * Math.log10(energy);

function energyToward(
  diffraction: Diffraction,
  placed: OnBaffle,
  { listeningDistanceMm }: Design,
  direction: Direction,
): Float64Array {
  const { re, im } = diffraction.toward(
    pointBefore(placed, pointToward(headingOf(direction), listeningDistanceMm)),
  );
  return re.map((value, i) => value * value + im[i] * im[i]);
}

const moved = (
  design: Design,
  { id, position }: Driver,
  place: { readonly xMm: number; readonly yMm: number },
): Design =>
  applyChange(design, { type: 'editDriver', id, set: { position: { ...position, ...place } } });

/** Whether a driver and its neighbours keep clear of each other and of the edges. */
const fitsOn = (design: Design, id: DriverId): boolean =>
  !layoutFaults(design).some(({ about }) => about === id);

/** Places at which a driver may be looked at. */
function gridOfPlaces({ panels }: Design, driver: Driver, stepMm: number) {
  const { corners } = panels.find(({ id }) => id === driver.mounting.panelId)!;
  const { leftMm, rightMm, bottomMm, topMm } = boundsOf(corners);
  const radius = frameRadiusMm(driver);
  const middle = (leftMm + rightMm) / 2;
  // From the middle outward, so that the middle itself is among them.
  const across = Math.max(0, Math.floor((rightMm - middle - radius) / stepMm));
  const xsMm = Array.from({ length: 2 * across + 1 }, (_, i) => middle + (i - across) * stepMm);
  const from = Math.max(bottomMm + radius, driver.position.yMm - mostUpMm);
  const to = Math.min(topMm - radius, driver.position.yMm + mostUpMm);
  const down = Math.max(0, Math.floor((driver.position.yMm - from) / stepMm));
  const up = Math.max(0, Math.floor((to - driver.position.yMm) / stepMm));
  const ysMm = Array.from(
    { length: down + up + 1 },
    (_, i) => driver.position.yMm + (i - down) * stepMm,
  );
  return { xsMm, ysMm };
}

/** Places of a map from the best on. */
function bestPlaces({ xsMm, ysMm, meritDb }: PlaceMap, isCentred: boolean) {
  const middle = (xsMm.length - 1) / 2;
  return ysMm
    .flatMap((yMm, row) =>
      xsMm.map((xMm, column) => ({ xMm, yMm, column, merit: meritDb[row * xsMm.length + column] })),
    )
    .filter(({ merit, column }) => Number.isFinite(merit) && (!isCentred || column === middle))
    .sort((a, b) => a.merit - b.merit)
    .slice(0, 60)
    .map(({ xMm, yMm }) => ({ xMm, yMm }));
}

function widthsOf({ corners }: Panel, { narrowestMm, widestMm }: PlaceWish): number[] {
  const { widthMm } = boundsOf(corners);
  const [from, to] = [Math.min(narrowestMm, widthMm), Math.max(widestMm, widthMm)];
  if (to - from < 1) return [widthMm];
  const even = Array.from({ length: widthCount }, (_, i) =>
    Math.round(from + ((to - from) * i) / (widthCount - 1)),
  );
  return [...new Set([widthMm, ...even])];
}

/** A front made wider or narrower about its middle. */
function withWidth(design: Design, panel: Panel, widthMm: number): Design {
  const bounds = boundsOf(panel.corners);
  const middle = (bounds.leftMm + bounds.rightMm) / 2;
  const scale = widthMm / bounds.widthMm;
  if (Math.abs(scale - 1) < 1e-9) return design;
  const corners = panel.corners.map((corner) => ({
    ...corner,
    xMm: Number((middle + (corner.xMm - middle) * scale).toFixed(2)),
  }));
  return applyChange(design, { type: 'setPanel', panel: { ...panel, corners } });
}

/** A front with every edge but the bottom one rounded. */
function withRadius(design: Design, panelId: string, sizeMm: number): Design {
  const panel = design.panels.find(({ id }) => id === panelId)!;
  const bottom = Math.min(...panel.corners.map(({ yMm }) => yMm));
  const edge: PanelEdge = { kind: 'round', sizeMm };
  const corners = panel.corners.map((corner, c) => {
    const next = panel.corners[(c + 1) % panel.corners.length];
    return corner.yMm === bottom && next.yMm === bottom ? corner : { ...corner, edge };
  });
  return applyChange(design, { type: 'setPanel', panel: { ...panel, corners } });
}
