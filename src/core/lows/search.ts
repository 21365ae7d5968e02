import {
  compareFound,
  createJudge,
  lackingOctaves,
  type Beyond,
  type BoxFound,
  type BoxWish,
} from './boxJudge';
import { boxCurves } from '@/core/box/response';
import { boxedDrivers } from '@/core/cabinet/enclosureOf';
import { leastDepthMm } from '@/core/cabinet/driverRoom';
import { netVolumeOf } from '@/core/cabinet/netVolume';
import { withPortClear } from '@/core/cabinet/vent';
import type { Box } from '@/core/document/boxSchema';
import type { Design, Driver } from '@/core/document/schema';
import { interpolated } from '@/core/measurement/interpolate';
import type { MeasurementData } from '@/core/measurement/samples';
import { applyChange } from '@/core/editing/applyChange';
import { cutOffHz, cutOffReferenceDb } from '@/core/prediction/figures';
import { figuresFor } from '@/core/prediction/inBox';
import { createPredictor, type Predictor } from '@/core/prediction/predict';
import { lowsSetting, type LowsSetting } from './setting';

export interface BoxSearchProgress {
  readonly told: string;
  readonly share: number;
  readonly best: BoxFound | null;
}

/** Volumes that are looked at, as shares of the largest. */
const volumeShares = [0.2, 0.27, 0.35, 0.44, 0.53, 0.62, 0.71, 0.8, 0.87, 0.94, 1];
/**
 * Looks through kinds, volumes, tunings and fills for a box. Every combination of a grid is solved
 * whole with what drives it, so that no local optimum is taken for the best; the design's sum is told
 * from the difference to the box that is in it.
 *
 * @param like gives all that is not searched: drivers, walls, losses, ends of the port
 */
export function* searchBoxes(
  design: Design,
  like: Box,
  wish: BoxWish,
  data: MeasurementData,
): Generator<BoxSearchProgress, readonly BoxFound[]> {
  const predict = createPredictor();
  const setting = lowsSetting(design, like, data, predict);
  const boxed = boxedDrivers({ ...like, kind: 'open-baffle' }, design, (driver) =>
    figuresFor(design, driver, data),
  );
  if (!boxed) return [];
  const judgeFrom = (reference: Box, asked: BoxWish) =>
    createJudge(
      beyondOf(design, reference, setting, predict, data),
      ...([design, like, asked, setting, boxed.system.driver] as const),
    );
  const judge = judgeFrom(like, tightened(wish, 0.005));
  const near = tightened(wish, 0.0005);
  const shares = sharesFor(design, like, wish);
  const tries = wish.kinds.flatMap((kind) => shares.map((share) => ({ kind, share })));
  let found: BoxFound[] = [];
  for (const [done, { kind, share }] of tries.entries()) {
    const box = judge(kind, share);
    if (box) found.push(box);
    yield {
      told: `${kind}, ${done + 1} of ${tries.length}`,
      share: (0.9 * (done + 1)) / tries.length,
      best: bestOf(found),
    };
  }
  const first = bestOf(found);
  if (first) {
    // Told from the sum with the best of them, what is like it is told exactly.
    const again = judgeFrom(first.box, near);
    const { kind } = first.box;
    const told = shares.flatMap((share) => {
      const one = again(kind, share);
      return one ? [{ share, one }] : [];
    });
    // Around the best of them the depth is looked at more closely.
    const best = told.reduce((a, b) => (compareFound(b.one, a.one) < 0 ? b : a), told[0]);
    const closer = told.length === 0 ? [] : between(shares, best.share);
    found = [
      ...found.filter(({ box }) => box.kind !== kind),
      ...told.map(({ one }) => one),
      ...closer.flatMap((share) => again(kind, share) ?? []),
    ];
  }
  const byMerit = (all: readonly BoxFound[]) => all.toSorted(compareFound);
  const [best, others] = [byMerit(found).slice(0, exactCount), byMerit(found).slice(exactCount)];
  yield { told: 'the best of them in the design', share: 0.98, best: best.at(0) ?? null };
  return [...byMerit(best.map(exactly)), ...others];

  /** With the cut-offs of the promises, from the whole prediction. */
  function exactly(one: BoxFound): BoxFound {
    const box = one.box.kind === 'vented' ? withPortClear(one.box, design) : one.box;
    const used = applyChange(design, {
      type: 'setBox',
      box: { ...box, id: like.id, isUsed: true },
    });
    const { sum, frequencyHz } = predict(used, data, { offAxis: 'known' });
    const { netLitres } = netVolumeOf(box, design);
    if (!sum) return { ...one, box, netLitres };
    const f3Hz = cutOffHz(frequencyHz, sum.levelDb, 3);
    const f10Hz = cutOffHz(frequencyHz, sum.levelDb, 10);
    const changed =
      40 * (lackingOctaves(f3Hz, near.f3Hz) - lackingOctaves(one.f3Hz, near.f3Hz)) +
      30 * (lackingOctaves(f10Hz, near.f10Hz) - lackingOctaves(one.f10Hz, near.f10Hz));
    const isUnder = (hz: number | null, asked: number | null) =>
      asked === null || (hz !== null && hz <= asked);
    return {
      ...{ ...one, box, netLitres, f3Hz, f10Hz, merit: one.merit + changed },
      isKept: one.faults.length === 0 && isUnder(f3Hz, wish.f3Hz) && isUnder(f10Hz, wish.f10Hz),
    };
  }
}

/** Shares of the largest volume that a search looks at, with the least depth that the drivers need. */
function sharesFor(design: Design, like: Box, { widthMm, heightMm, deepestMm }: BoxWish): number[] {
  const ofDepth = (depthMm: number) =>
    netVolumeOf(
      { ...like, kind: 'sealed', shell: { ...like.shell, widthMm, heightMm, depthMm } },
      design,
    ).netLitres;
  const least = ofDepth(leastDepthMm(like, design)) / ofDepth(deepestMm);
  return [...volumeShares.filter((share) => share > least), least]
    .filter((share) => share > 0 && share <= 1)
    .sort((a, b) => a - b);
}

/** Shares between one and its neighbours. */
function between(shares: readonly number[], share: number): number[] {
  const at = shares.indexOf(share);
  return [shares[at - 1], shares[at + 1]].flatMap((other) =>
    other === undefined ? [] : [0.25, 0.5, 0.75].map((part) => share + part * (other - share)),
  );
}

/** So many of the best are predicted whole in the end. */
const exactCount = 6;

/**
 * What the design's sum has beyond a box alone, and the level from which its cut-offs are told. Null
 * without a sum.
 */
function beyondOf(
  design: Design,
  like: Box,
  { frequencyHz, source }: LowsSetting,
  predict: Predictor,
  data: MeasurementData,
): Beyond | null {
  const figures = (driver: Driver) => figuresFor(design, driver, data);
  const boxed = boxedDrivers(like, design, figures);
  if (!boxed) return null;
  const used = applyChange(design, { type: 'setBox', box: { ...like, isUsed: true } });
  const { sum, frequencyHz: gridHz } = predict(used, data, { offAxis: 'known' });
  const referenceDb = sum && cutOffReferenceDb(gridHz, sum.levelDb);
  if (!sum || referenceDb === null) return null;
  const own = boxCurves(boxed.system, source, frequencyHz).levelDb;
  const all = interpolated(gridHz, sum.levelDb, frequencyHz);
  return { referenceDb, db: all.map((db, i) => db - own[i]) };
}

/** What is estimated is asked for a little more, so that the whole prediction keeps it too. */
const tightened = (wish: BoxWish, share: number): BoxWish => ({
  ...wish,
  f3Hz: wish.f3Hz && (1 - share) * wish.f3Hz,
  f10Hz: wish.f10Hz && (1 - share) * wish.f10Hz,
});

const bestOf = (found: readonly BoxFound[]) =>
  found.reduce<BoxFound | null>((a, b) => (a && compareFound(a, b) <= 0 ? a : b), null);
