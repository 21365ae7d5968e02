import type { DriverId, PanelId } from '@/core/fields';
import { boundsOf } from '@/core/document/baffleSchema';
import type { Design } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import type { Change, PartSetting } from '@/core/editing/change';
import { createFitter, settingsOf, type FitEffort } from '@/core/fitting/fit';
import { goalOf, type Goal, type Limit } from '@/core/fitting/goal';
import { createFitInputs } from '@/core/fitting/inputs';
import { createFitModel, roundingDb } from '@/core/fitting/model';
import { withSomeFree } from '@/core/fitting/tradeOff';
import { variablesOf } from '@/core/fitting/variables';
import { logGrid } from '@/core/grid/logGrid';
import { layoutFaults } from '@/core/layout/faults';
import { resized } from '@/core/layout/reshape';
import type { MeasurementData } from '@/core/measurement/samples';
import { meritOf } from '@/core/search/minimax';
import { seeded } from '@/core/spectrum/noise';

/** What may be moved, and how far. */
export interface JointWish {
  readonly panelId: PanelId;
  /** How far each driver may go to either side, up or down, and forward or back; mm. */
  readonly moves: readonly {
    readonly driverId: DriverId;
    readonly asideMm: number;
    readonly upMm: number;
    readonly depthMm: number;
  }[];
  readonly narrowestMm: number;
  readonly widestMm: number;
  /** Largest radius of all edges; 0 leaves them as they are. */
  readonly largestRadiusMm: number;
  readonly seed: number;
}

/** One dimension that is searched, mm. */
export interface JointVariable {
  readonly what: 'aside' | 'up' | 'depth' | 'width' | 'radius';
  readonly driverId: DriverId | null;
  readonly start: number;
  readonly least: number;
  readonly most: number;
}

/** How good a layout is with its network fitted to it, ± dB. */
export interface JointScore {
  readonly axisDb: number;
  readonly windowDb: number;
  /** Directivity index off a straight line; null where it was not worked out. */
  readonly directivityDb: number | null;
  /** What is made small: axis + window + half of the directivity, and limits that are exceeded. */
  readonly merit: number;
  readonly brokenCount: number;
  readonly values: ReadonlyMap<string, PartSetting>;
  readonly logValues: Float64Array;
}

/** A layout to be judged: its dimensions, and the network that its own is fitted from. */
export interface JointTask {
  readonly point: Float64Array;
  readonly from: Float64Array | null;
  /** Without the sphere, on a coarser grid; or all of it. */
  readonly isQuick: boolean;
}

export type ScoreAll = (tasks: readonly JointTask[]) => Promise<readonly (JointScore | null)[]>;

/** What one dimension does: the layout with it left as it was. */
export interface JointGain {
  readonly variable: JointVariable;
  readonly toMm: number;
  readonly without: JointScore;
}

export interface JointFound {
  readonly variables: readonly JointVariable[];
  readonly point: Float64Array;
  /** The layout as it is with its network fitted, and the best. */
  readonly before: JointScore;
  readonly best: JointScore;
  /** What each dimension that was moved buys, the most first. */
  readonly gains: readonly JointGain[];
  readonly tried: number;
}

export interface JointProgress {
  readonly told: string;
  readonly tried: number;
  readonly share: number;
  /** Best so far, quickly judged. */
  readonly best: Pick<JointScore, 'axisDb' | 'windowDb'> | null;
}

/** Moves that are tried first, as a share of what is allowed, and the smallest, mm. */
const firstShare = 1 / 3;
const smallestMm = 2;
/** Layouts drawn by lot before the pattern begins. */
const drawnCount = 48;
/** Of these so many are followed, and so many layouts are looked at whole in the end. */
const followed = 3;
const finalists = 5;
/** Layouts looked at quickly at the most. */
const mostTried = 700;

/** Dimensions that a wish lets move, in the order of a point. */
export function jointVariables(design: Design, wish: JointWish): JointVariable[] {
  const panel = design.panels.find(({ id }) => id === wish.panelId);
  if (!panel) return [];
  const { widthMm } = boundsOf(panel.corners);
  const radius = Math.max(
    0,
    ...panel.corners.map(({ edge }) => (edge.kind === 'round' ? edge.sizeMm : 0)),
  );
  const around = (
    what: JointVariable['what'],
    driverId: DriverId,
    start: number,
    byMm: number,
  ): JointVariable[] =>
    byMm <= 0 ? [] : [{ what, driverId, start, least: start - byMm, most: start + byMm }];
  return [
    ...wish.moves.flatMap(({ driverId, asideMm, upMm, depthMm }) => {
      const driver = design.drivers.find(({ id }) => id === driverId);
      if (!driver) return [];
      const { xMm, yMm, zMm } = driver.position;
      return [
        ...around('aside', driverId, xMm, asideMm),
        ...around('up', driverId, yMm, upMm),
        ...around('depth', driverId, zMm, depthMm),
      ];
    }),
    ...(wish.narrowestMm < wish.widestMm
      ? [
          {
            ...({ what: 'width', driverId: null, start: widthMm } as const),
            least: Math.min(widthMm, wish.narrowestMm),
            most: Math.max(widthMm, wish.widestMm),
          },
        ]
      : []),
    ...(wish.largestRadiusMm > radius
      ? [
          {
            ...({ what: 'radius', driverId: null, start: radius } as const),
            ...{ least: radius, most: wish.largestRadiusMm },
          },
        ]
      : []),
  ];
}

/** The change that lays a design out as a point says. */
export function jointLayout(
  design: Design,
  panelId: PanelId,
  variables: readonly JointVariable[],
  point: ArrayLike<number>,
): Change {
  let panel = design.panels.find(({ id }) => id === panelId)!;
  const places = new Map(design.drivers.map(({ id, position }) => [id, { ...position }]));
  variables.forEach(({ what, driverId }, v) => {
    const mm = Number(point[v].toFixed(1));
    const place = driverId === null ? undefined : places.get(driverId);
    if (what === 'width') panel = resized(panel, { widthMm: mm });
    if (what === 'radius' && mm > 0)
      panel = {
        ...panel,
        corners: panel.corners.map((corner) => ({
          ...corner,
          edge: { kind: 'round', sizeMm: mm },
        })),
      };
    if (place && driverId !== null) {
      if (what === 'aside') places.set(driverId, { ...place, xMm: mm });
      if (what === 'up') places.set(driverId, { ...place, yMm: mm });
      if (what === 'depth') places.set(driverId, { ...place, zMm: mm });
    }
  });
  const moved = new Set(variables.flatMap(({ driverId }) => driverId ?? []));
  return {
    type: 'layOutBaffle',
    panels: design.panels.map((one) => (one.id === panelId ? panel : one)),
    places: new Map([...places].filter(([id]) => moved.has(id))),
  };
}

const quickEffort: FitEffort = { valley: 0, greatest: 14, settledAt: 2e-3 };
const wholeEffort: FitEffort = { valley: 20, greatest: 40, settledAt: 5e-4 };

/** Penalties per decibel by which window and directivity count beside the axis. */
const shares = { window: 1, directivity: 0.5 };
/** Rate of a limit of weight 1, as the fit has it. */
const rate = 3;

/** What is made small: no limit is met by window and directivity, so that each decibel counts. */
function jointGoal(design: Design, hasDirectivity: boolean): Goal {
  const asked = goalOf(design);
  const free = { promiseId: null, withinDb: 0, band: asked.onAxis.band };
  const others = asked.limits.filter(
    (limit) =>
      limit.kind !== 'window' && !(limit.kind === 'straight' && limit.of === 'directivity'),
  );
  const more: Limit[] = [
    { ...free, kind: 'window', weight: shares.window / rate },
    ...(hasDirectivity
      ? [
          {
            ...free,
            ...({
              kind: 'straight',
              of: 'directivity',
              weight: shares.directivity / rate,
            } as const),
          },
        ]
      : []),
  ];
  return { ...asked, limits: [...others, ...more] };
}

/** Judges layouts one after the other; what edges do is kept from one to the next. */
export function createJointScorer(given: Design, data: MeasurementData, wish: JointWish) {
  const design = withSomeFree(given);
  const variables = jointVariables(design, wish);
  const quick = createFitInputs(logGrid(60, 16_000, 10));
  const whole = createFitInputs(logGrid(20, 20_000, 24));
  /** @returns null where the layout can't be built, or nothing is known off the axis */
  return ({ point, from, isQuick }: JointTask): JointScore | null => {
    const laidOut = applyChange(design, jointLayout(design, wish.panelId, variables, point));
    const stops = layoutFaults(laidOut).filter(({ severity }) => severity === 'stops');
    const before = layoutFaults(design).filter(({ severity }) => severity === 'stops');
    if (stops.length > before.length) return null;
    const network = variablesOf(laidOut);
    const fitter = createFitter(
      createFitModel(laidOut, data, jointGoal(laidOut, !isQuick), network, isQuick ? quick : whole),
    );
    const { model } = fitter;
    const effort = isQuick ? quickEffort : wholeEffort;
    const start = from ?? fitter.valley(model.start, wholeEffort);
    const { logValues, merit } = fitter.settle(start, effort, model);
    if (!Number.isFinite(merit)) return null;
    model.evaluate(logValues, false);
    const figures = model.figures();
    if (figures.windowDb === null) return null;
    const excesses = model.excesses();
    const at = (kind: Limit['kind']) => model.limits.findIndex(({ limit }) => limit.kind === kind);
    const own = new Set([at('window'), isQuick ? -1 : at('straight')]);
    return {
      axisDb: figures.deviationDb,
      windowDb: figures.windowDb,
      directivityDb: isQuick ? null : excesses[directivityAt(model.limits.map((one) => one.limit))],
      merit: meritOf(model),
      brokenCount: excesses.filter((excess, k) => !own.has(k) && excess > roundingDb).length,
      values: settingsOf(network, logValues),
      logValues,
    };
  };
}

const directivityAt = (limits: readonly Limit[]): number =>
  limits.findLastIndex((limit) => limit.kind === 'straight' && limit.of === 'directivity');

/**
 * Looks for a layout together with its network: a pattern search (Hooke and Jeeves 1961) over the
 * dimensions, from the best of some that are drawn by lot, with the network's values fitted at
 * every place.
 *
 * @param scoreAll judges many layouts at a time, as {@link createJointScorer} does
 * @param tell how far it is
 * @param shouldStop asked between batches; the best so far is finished then
 * @returns null where nothing is known off the axis, or nothing may be moved
 */
export async function jointSearch(
  design: Design,
  wish: JointWish,
  scoreAll: ScoreAll,
  tell: (progress: JointProgress) => void,
  shouldStop: () => boolean = () => false,
): Promise<JointFound | null> {
  const variables = jointVariables(design, wish);
  const start = Float64Array.from(variables, (one) => one.start);
  let tried = 0;
  let seen: readonly Judged[] = [];
  const ask = async (told: string, points: readonly Float64Array[], from: Float64Array | null) => {
    const scores = await scoreAll(points.map((point) => ({ point, from, isQuick: true })));
    tried += points.length;
    const found = points.flatMap((point, k): Judged[] => {
      const score = scores[k];
      return score ? [{ point, score }] : [];
    });
    seen = [...seen, ...found].sort((a, b) => a.score.merit - b.score.merit);
    const best = seen.at(0)?.score ?? null;
    tell({ told, tried, share: Math.min(0.95, tried / mostTried), best });
    return found;
  };

  const [asItIs] = await ask('the layout as it is', [start], null);
  if (!asItIs || variables.length === 0) return null;
  const { uniform } = seeded(wish.seed);
  const drawn = Array.from({ length: drawnCount }, () =>
    Float64Array.from(variables, ({ least, most }) => least + uniform() * (most - least)),
  );
  if (!shouldStop()) await ask('layouts drawn by lot', drawn, asItIs.score.logValues);

  const beginnings = apart(seen, variables, followed);
  for (const beginning of beginnings) await follow(beginning);

  /** Moves one dimension at a time as long as that helps, by smaller and smaller steps. */
  async function follow(beginning: Judged): Promise<void> {
    let centre = beginning;
    let share = firstShare;
    const stepOf = ({ least, most }: JointVariable) => share * (most - least);
    const isDone = () =>
      tried >= mostTried || shouldStop() || !variables.some((one) => stepOf(one) >= smallestMm);
    while (!isDone()) {
      const from = centre.score.logValues;
      const at = centre.point;
      const polled = variables.flatMap((one, v) =>
        [1, -1].flatMap((sign) => {
          const next = Math.min(one.most, Math.max(one.least, at[v] + sign * stepOf(one)));
          return Math.abs(next - at[v]) < 0.5 ? [] : [at.with(v, next)];
        }),
      );
      const found = await ask('one dimension at a time', polled, from);
      const better = found
        .filter(({ score }) => score.merit < centre.score.merit - leastGainDb)
        .sort((a, b) => b.score.merit - a.score.merit);
      if (better.length === 0) {
        share /= 2;
        continue;
      }
      // What helped by itself may help together.
      const joined = at.slice();
      for (const { point } of better)
        point.forEach((mm, v) => {
          if (mm !== at[v]) joined[v] = mm;
        });
      const together =
        better.length > 1 && !shouldStop()
          ? await ask('what helped, together', [joined], from)
          : [];
      centre = [...better, ...together].reduce((a, b) => (b.score.merit < a.score.merit ? b : a));
    }
  }

  /** Judged whole, each with its network fitted from what it had. */
  const whole = async (told: string, all: readonly Judged[]): Promise<(JointScore | null)[]> => {
    tell({ told, tried, share: 0.96, best: seen[0].score });
    const tasks = all.map(({ point, score }): JointTask => ({
      ...{ point, from: score.logValues, isQuick: false },
    }));
    return [...(await scoreAll(tasks))];
  };
  const ends = apart(seen, variables, finalists);
  const scores = await whole('the best of them, all around', [
    { point: start, score: asItIs.score },
    ...ends,
  ]);
  const [before, ...others] = scores;
  if (!before) return null;
  const judged = [
    { point: start, score: before },
    ...ends.flatMap(({ point }, k): Judged[] => {
      const score = others[k];
      return score ? [{ point, score }] : [];
    }),
  ];
  const best = judged.reduce((a, b) => (b.score.merit < a.score.merit ? b : a));
  const moved = variables.flatMap((variable, v) =>
    Math.abs(best.point[v] - variable.start) >= 0.5 ? [{ variable, v }] : [],
  );
  const without = await whole(
    'what each millimetre buys',
    moved.map(({ variable, v }) => ({
      ...{ point: best.point.with(v, variable.start), score: best.score },
    })),
  );
  tell({ told: 'done', tried, share: 1, best: best.score });
  return {
    ...{ variables, point: best.point, before, best: best.score, tried },
    gains: moved
      .flatMap(({ variable, v }, k): JointGain[] => {
        const other = without[k];
        return other ? [{ variable, toMm: best.point[v], without: other }] : [];
      })
      .sort((a, b) => b.without.merit - a.without.merit),
  };
}

interface Judged {
  readonly point: Float64Array;
  readonly score: JointScore;
}

/** A step that gains less is none, dB. */
const leastGainDb = 1e-3;
/** Layouts that differ by less than this share of what is allowed are one. */
const apartShare = 0.08;

/** The best of some that are not beside a better one. */
function apart(all: readonly Judged[], variables: readonly JointVariable[], count: number) {
  const isBeside = (a: Float64Array, b: Float64Array) =>
    variables.every(({ least, most }, v) => Math.abs(a[v] - b[v]) < apartShare * (most - least));
  const kept: Judged[] = [];
  for (const one of all)
    if (kept.length < count && !kept.some(({ point }) => isBeside(point, one.point)))
      kept.push(one);
  return kept;
}
