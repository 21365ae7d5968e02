import type { Goal } from '@/core/fitting/goal';
import { limitWords } from '@/core/fitting/limitWords';
import { formatNumber, formatQuantity } from '@/core/units/quantity';
import { Quiet } from '@/ui/sheets';

const hz = (value: number) => formatQuantity(value, 'hertz');

/** What a fit keeps, and what it makes small. */
export function FitAims({ goal: { onAxis, limits, tolerance } }: { readonly goal: Goal }) {
  const kept = limits.map(limitWords);
  return (
    <Quiet>
      {kept.length > 0 ? `Keeps ${kept.join('; ')}. ` : ''}
      {tolerance > 0 && limits.some(({ promiseId }) => promiseId !== null)
        ? `To what is promised it keeps a reserve, so that parts within ±${formatNumber(Number((100 * tolerance).toFixed(1)))} % break it in few builds. `
        : ''}
      Among what keeps these, makes the greatest deviation on axis from {hz(onAxis.band.fromHz)} to{' '}
      {hz(onAxis.band.toHz)} as small as it can be. Nothing that is kept now is broken for it.
    </Quiet>
  );
}
