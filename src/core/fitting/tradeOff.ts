import type { PartSetting } from '@/core/editing/change';
import { partsOf, type Design } from '@/core/document/schema';
import { designGridHz } from '@/core/grid/logGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { meritOf } from '@/core/search/minimax';
import { seeded } from '@/core/spectrum/noise';
import { createFitter, fitGridHz, settingsOf } from './fit';
import { goalOf, type Goal, type Limit } from './goal';
import { createFitInputs } from './inputs';
import { createFitModel, roundingDb } from './model';
import { variablesOf, type Variable } from './variables';

/** A fitted network between a flat axis and a flat window. */
export interface TradePlace {
  /** By part id, tied parts included. */
  readonly values: ReadonlyMap<string, PartSetting>;
  /** Half the height of the band that holds the response on the axis, and the window, dB. */
  readonly axisDb: number;
  readonly windowDb: number;
  /** Limits that are not kept, those of axis and window apart. */
  readonly brokenCount: number;
}

interface TradeSettings {
  readonly seed: number;
  /** Networks from one end to the other. */
  readonly count: number;
}

/** Wide enough for any window: its figure is told, and nothing is asked of it. */
const anyDb = 60;
/** So that nothing is flat enough. */
const noDb = 0.05;
/** Starts from which each end is looked for. */
const endStarts = 4;
const scatter = Math.log(3);
const effort = { valley: 60, greatest: 60, settledAt: 2e-4 } as const;
const last = { valley: 0, greatest: 40, settledAt: 2e-5 } as const;

/** A design with all values free when none is: what is locked or left out stays. */
export function withSomeFree(design: Design): Design {
  if (partsOf(design).some(({ fit, isLocked, isOff }) => fit.isFree && !isLocked && !isOff))
    return design;
  return {
    ...design,
    ways: design.ways.map((way) => ({
      ...way,
      parts: way.parts.map((part) => ({ ...part, fit: { ...part.fit, isFree: true } })),
    })),
  };
}

/**
 * Networks between the flattest axis and the flattest listening window that the free values allow:
 * each makes the deviation on axis as small as it can be with the window within a limit (the method
 * of ε-constraints, Haimes 1971). All other limits of the goal hold for each.
 *
 * @returns from the flattest axis to the flattest window, none worse than another in both; null
 *   where nothing is known off the axis; each step tells how many are there
 * @throws ProblemError as {@link createFitModel}
 */
export function* tradeOff(
  given: Design,
  data: MeasurementData,
  { seed, count }: TradeSettings,
): Generator<readonly TradePlace[], readonly TradePlace[] | null> {
  const design = withSomeFree(given);
  const variables = variablesOf(design);
  const asked = goalOf(design);
  const window = asked.limits.find((one) => one.kind === 'window');
  const base: Limit = window ?? {
    ...{ promiseId: null, weight: 1, kind: 'window', withinDb: anyDb },
    band: asked.onAxis.band,
  };
  const goalWith = (withinDb: number): Goal => ({
    ...asked,
    limits: [
      ...asked.limits.filter(({ kind }) => kind !== 'window'),
      { ...base, weight: Math.max(3, base.weight), withinDb },
    ],
  });
  const [coarse, fine] = [createFitInputs(fitGridHz()), createFitInputs(designGridHz())];
  const modelOn = (inputs: typeof coarse, withinDb: number) =>
    createFitter(createFitModel(design, data, goalWith(withinDb), variables, inputs));

  /** From several beginnings the best. */
  const solved = (withinDb: number, froms: readonly Float64Array[]): Solved | null => {
    const rough = modelOn(coarse, withinDb);
    const exact = modelOn(fine, withinDb);
    const ends = froms
      .map((from) => {
        const valley = rough.valley(from, effort);
        const [a, b] = [valley, from].map((start) => rough.settle(start, effort, rough.model));
        return a.merit <= b.merit || !Number.isFinite(b.merit) ? a : b;
      })
      .filter(({ merit }) => Number.isFinite(merit))
      .sort((a, b) => a.merit - b.merit);
    if (ends.length === 0) return null;
    const { logValues } = exact.settle(ends[0].logValues, last, exact.model);
    exact.model.evaluate(logValues, false);
    const figures = exact.model.figures();
    if (figures.windowDb === null) return null;
    return {
      logValues,
      merit: meritOf(exact.model),
      place: placeOf(variables, logValues, {
        axisDb: figures.deviationDb,
        windowDb: figures.windowDb,
        brokenCount: exact.model
          .excesses()
          .filter(
            (excess, k) => exact.model.limits[k].limit.kind !== 'window' && excess > roundingDb,
          ).length,
      }),
    };
  };

  const model = modelOn(coarse, anyDb).model;
  const { uniform } = seeded(seed);
  const starts = Array.from({ length: endStarts }, (_, k) =>
    model.start.map((value, v) =>
      k === 0
        ? value
        : Math.min(model.upper[v], Math.max(model.lower[v], value + scatter * (2 * uniform() - 1))),
    ),
  );
  const axisEnd = solved(anyDb, starts);
  if (!axisEnd) return null;
  let found: Solved[] = [axisEnd];
  yield told(found);
  const windowEnd = solved(noDb, [axisEnd.logValues, ...starts]);
  if (!windowEnd) return told(found);
  found = [...found, windowEnd];
  yield told(found);
  const [from, to] = [axisEnd.place.windowDb, windowEnd.place.windowDb];
  let before = axisEnd.logValues;
  for (let k = 1; k < count - 1; k++) {
    const withinDb = from + ((to - from) * k) / (count - 1);
    const next = solved(withinDb, [before, windowEnd.logValues]);
    if (!next) continue;
    before = next.logValues;
    found = [...found, next];
    yield told(found);
  }
  return told(found);
}

interface Solved {
  readonly logValues: Float64Array;
  readonly merit: number;
  readonly place: TradePlace;
}

const placeOf = (
  variables: readonly Variable[],
  logValues: Float64Array,
  figures: Omit<TradePlace, 'values'>,
): TradePlace => ({
  ...figures,
  values: settingsOf(variables, logValues),
});

/** What differs by less in either is not told as another place, dB. */
const leastApartDb = 0.005;

/** From the flattest axis to the flattest window, without what another beats in both. */
function told(found: readonly Solved[]): TradePlace[] {
  const places = found.map(({ place }) => place).sort((a, b) => a.axisDb - b.axisDb);
  return places.reduce<TradePlace[]>((kept, place) => {
    const flattest = kept.at(-1);
    return !flattest || place.windowDb < flattest.windowDb - leastApartDb ? [...kept, place] : kept;
  }, []);
}
