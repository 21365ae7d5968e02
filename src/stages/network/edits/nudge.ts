import { partKinds, partValue } from '@/core/document/partKinds';
import type { Part } from '@/core/document/schema';
import { stepPreferred, type PreferredSeries } from '@/core/units/preferredSeries';

/** The series that arrow keys walk along, and the finer one under Alt. */
export const nudgeSeries: { readonly coarse: PreferredSeries; readonly fine: PreferredSeries } = {
  coarse: 'E24',
  fine: 'E96',
};

/** The value that an arrow key makes of a part's value, within its limits. */
export function steppedValue(part: Part, steps: number, isFine: boolean): number {
  const [min, max] = partKinds[part.kind].entered;
  const stepped = stepPreferred(
    partValue(part),
    isFine ? nudgeSeries.fine : nudgeSeries.coarse,
    steps,
  );
  return Math.min(max, Math.max(min, stepped));
}
