import type { Design } from '@/core/document/schema';
import type { MeasurementData } from '@/core/measurement/samples';
import { usableWays } from '@/core/prediction/inspect';
import type { Goal, Limit } from '@/core/fitting/goal';
import type { FitInputs } from '@/core/fitting/inputs';

/** What window and directivity may stray by where nobody promised anything (common practice), dB. */
const usualWindowDb = 2.5;
const usualDirectivityDb = 2;

/** Networks are told by axis, window and directivity, where these are known. */
export function withOffAxis(goal: Goal, isKnown: boolean): Goal {
  if (!isKnown) return goal;
  const { band } = goal.onAxis;
  // Nobody promised them: they give way before what was.
  const asked = { promiseId: null, weight: 0.1, band };
  const has = (isIt: (limit: Limit) => boolean) => goal.limits.some(isIt);
  const more: Limit[] = [
    ...(has(({ kind }) => kind === 'window')
      ? []
      : [{ ...asked, kind: 'window', withinDb: usualWindowDb } as const]),
    ...(has((limit) => limit.kind === 'straight' && limit.of === 'directivity')
      ? []
      : [{ ...asked, kind: 'straight', of: 'directivity', withinDb: usualDirectivityDb } as const]),
  ];
  return { ...goal, limits: [...goal.limits, ...more] };
}

/** Whether it is known of all drivers what they do off their axes. */
export function sendsAround(
  design: Design,
  data: MeasurementData,
  { condition, ofWays, sendingOf }: FitInputs,
): boolean {
  const voices = usableWays(design, data, condition).flatMap(({ ends }) =>
    ends.flatMap((end) =>
      end.response
        ? [
            {
              driver: end.driver,
              radiation: ofWays.radiationOf({ ...end, response: end.response }, design, data),
            },
          ]
        : [],
    ),
  );
  return sendingOf(design, voices, data).spinForms() !== null;
}
