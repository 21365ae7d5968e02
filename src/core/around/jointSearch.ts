import type { Design } from '@/core/document/schema';
import { seeded } from '@/core/spectrum/noise';
import { type JointWish, type JointVariable, jointVariables } from './jointLayout';
import { type JointScore, type JointTask, type ScoreAll } from './jointScore';

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

/**
 * Looks for a layout together with its network: a pattern search (Hooke and Jeeves 1961) over the
 * dimensions, from the best of some that are drawn by lot, with the network's values fitted at
 * every place.
 *
 * @param scoreAll judges many layouts at a time, as `createJointScorer` does
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
  const whole = async (
    told: string,
    all: readonly {
      readonly point: Float64Array;
      readonly score: { readonly logValues: Float64Array | null };
    }[],
  ): Promise<(JointScore | null)[]> => {
    tell({ told, tried, share: 0.96, best: seen[0].score });
    const tasks = all.map(({ point, score }): JointTask => ({
      ...{ point, from: score.logValues, isQuick: false },
    }));
    return [...(await scoreAll(tasks))];
  };
  const ends = apart(seen, variables, finalists);
  const scores = await whole('the best of them, all around', [
    { point: start, score: { ...asItIs.score, logValues: null } },
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
  // Nothing that breaks more than the layout as it is does: a promise is not sold for a decibel.
  const best = judged.reduce((a, b) => (isBetter(b.score, a.score) ? b : a));
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

/** By promises that are broken, then by merit. */
const isBetter = (a: JointScore, b: JointScore): boolean =>
  a.brokenCount !== b.brokenCount ? a.brokenCount < b.brokenCount : a.merit < b.merit;

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
