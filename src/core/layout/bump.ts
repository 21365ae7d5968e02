import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { piecesActing } from '@/core/baffle/diffraction/acting';
import { frontSeenFrom } from '@/core/baffle/dents';
import type { PanelEdge } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import type { DriverId } from '@/core/fields';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import { createBending, placedDriver, pointBefore, pointToward } from '@/core/prediction/onBaffle';
import { levelDbOf } from '@/core/prediction/derived';
import { headingOf, straight } from '@/core/radiation/direction';
import type { Band } from '@/core/prediction/figures';
import { edgeDistances, edgeName } from './edges';
import { layoutFaults } from './faults';

/** The highest that a baffle lifts a driver on the axis. */
interface Bump {
  readonly atHz: number;
  /** Over the same driver in an infinite wall, dB. */
  readonly db: number;
}

/** Something that makes a bump smaller. */
export interface Mend {
  readonly change: Change;
  /** In words: “22 mm to the left”. */
  readonly told: string;
  readonly bump: Bump;
}

/** Edges that act together on a driver. */
export interface BumpFinding {
  readonly driverId: DriverId;
  readonly bump: Bump;
  /** Edges that add to it, the strongest first. */
  readonly edges: readonly { readonly edge: number; readonly name: string; readonly mm: number }[];
  readonly mends: readonly Mend[];
}

/** A bump from here on is worth telling (common practice), dB. */
export const tellBumpFromDb = 2;
/** An edge that adds this share of the strongest is named beside it. */
const alongShare = 0.5;
/** A mend must take at least this much away, dB. */
const leastGainDb = 0.5;
const steps = [5, 10, 15, 22, 30, 40, 55];
const radii = [6, 12, 18, 25, 40];

/** The highest level within a band. */
export function bumpOf(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  { fromHz, toHz }: Band,
): Bump {
  let bump: Bump = { atHz: fromHz, db: -Infinity };
  frequencyHz.forEach((hz, i) => {
    if (hz >= fromHz && hz <= toHz && levelDb[i] > bump.db) bump = { atHz: hz, db: levelDb[i] };
  });
  return bump;
}

/** Looks for bumps; what was worked out for a place is kept. */
export function createBumpSearch(frequencyHz: Float64Array) {
  const bend = createBending(frequencyHz);

  /** Highest bump of a driver in a band, where the sum is predicted; null while it is on no box. */
  function bumpIn(design: Design, driver: Driver, band: Band): Bump | null {
    const placed = placedDriver(design, driver);
    if (placed?.kind !== 'box') return null;
    const bending = bend(placed, speedOfSoundMps(design.airTemperatureC));
    const heard = bending.at(pointToward(headingOf(straight), design.listeningDistanceMm));
    return bumpOf(frequencyHz, levelDbOf(heard), band);
  }

  /**
   * The bump that edges make for a driver, which edges these are, and what takes most of it away.
   *
   * @param band in which the driver is used
   * @returns null where there is none worth a word
   */
  return (design: Design, driverId: DriverId, band: Band): BumpFinding | null => {
    const driver = design.drivers.find(({ id }) => id === driverId);
    const bump = driver && bumpIn(design, driver, band);
    if (!driver || !bump || bump.db < tellBumpFromDb) return null;
    const edges = edgesAdding(design, driver, bump.atHz);
    const after = (change: Change): Bump | null => {
      const next = applyChange(design, change);
      if (layoutFaults(next).length > layoutFaults(design).length) return null;
      return bumpIn(
        next,
        next.drivers.find(({ id }) => id === driverId)!,
        band,
      );
    };
    const mends = [
      bestMove(driver, bump, after),
      bestRounding(
        design,
        driver,
        edges.map(({ edge }) => edge),
        bump,
        after,
      ),
    ].filter((mend) => mend !== null);
    return { driverId, bump, edges, mends };
  };
}

const panelOf = ({ panels }: Design, { mounting }: Driver) =>
  panels.find(({ id }) => id === mounting.panelId)!;

/** Edges that add to the level at a frequency, strongest first. */
function edgesAdding(design: Design, driver: Driver, atHz: number): BumpFinding['edges'] {
  const { shape, x, y, radiusM, setBackM } = placedDriver(design, driver)!;
  const { corners } = panelOf(design, driver);
  const observer = pointBefore(
    { setBackM },
    pointToward(headingOf(straight), design.listeningDistanceMm),
  );
  const adds = corners.map(() => 0);
  const { solid, edgeOf } = frontSeenFrom(shape, { x, y });
  const speed = speedOfSoundMps(design.airTemperatureC);
  for (const { edge, re } of piecesActing(solid, { x, y, radiusM }, observer, atHz, speed))
    adds[edgeOf[edge]] += re;
  const strongest = Math.max(...adds);
  const distances = edgeDistances(corners, driver.position);
  return adds
    .map((add, edge) => ({ add, edge, name: edgeName(corners, edge), mm: distances[edge].mm }))
    .filter(({ add }) => add > 0 && add >= alongShare * strongest)
    .sort((a, b) => b.add - a.add)
    .map(({ edge, name, mm }) => ({ edge, name, mm }));
}

type After = (change: Change) => Bump | null;

/** The shortest move that takes most of what moves take away. */
function bestMove({ id, position }: Driver, bump: Bump, after: After): Mend | null {
  const ways = [
    { told: 'to the left', x: -1, y: 0 },
    { told: 'to the right', x: 1, y: 0 },
    { told: 'up', x: 0, y: 1 },
    { told: 'down', x: 0, y: -1 },
  ];
  const moves = ways.flatMap(({ told, x, y }) =>
    steps.flatMap((mm): (Mend & { readonly mm: number })[] => {
      const moved = { ...position, xMm: position.xMm + x * mm, yMm: position.yMm + y * mm };
      const change: Change = { type: 'editDriver', id, set: { position: moved } };
      const left = after(change);
      return left ? [{ change, told: `${mm} mm ${told}`, bump: left, mm }] : [];
    }),
  );
  return cheapest(moves, bump, ({ mm }) => mm);
}

/** The smallest radius on the edges concerned that takes most of what rounding takes away. */
function bestRounding(
  design: Design,
  driver: Driver,
  edges: readonly number[],
  bump: Bump,
  after: After,
): Mend | null {
  const panel = panelOf(design, driver);
  const rounded = radii.flatMap((mm): (Mend & { readonly mm: number })[] => {
    const edge: PanelEdge = { kind: 'round', sizeMm: mm };
    const corners = panel.corners.map((corner, c) =>
      edges.includes(c) && corner.edge.sizeMm < mm ? { ...corner, edge } : corner,
    );
    const change: Change = { type: 'setPanel', panel: { ...panel, corners } };
    const left = after(change);
    return left
      ? [
          {
            change,
            told: `round ${edges.length === 1 ? 'that edge' : 'these edges'} by ${mm} mm`,
            bump: left,
            mm,
          },
        ]
      : [];
  });
  return cheapest(rounded, bump, ({ mm }) => mm);
}

/** Of what helps the one that costs least for at least half of what is to be gained. */
function cheapest<T extends Mend>(all: readonly T[], { db }: Bump, costOf: (one: T) => number) {
  const most = Math.max(0, ...all.map((one) => db - one.bump.db));
  if (most < leastGainDb) return null;
  return all
    .filter((one) => db - one.bump.db >= most / 2)
    .reduce((best, one) =>
      costOf(one) < costOf(best) || (costOf(one) === costOf(best) && one.bump.db < best.bump.db)
        ? one
        : best,
    );
}
