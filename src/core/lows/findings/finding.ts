import type { Change } from '@/core/editing/change';
import type { Problem } from '@/core/problem';
import { formatNumber, formatQuantity } from '@/core/units/quantity';

/** Something to know about a box, and what would mend it. */
export interface BoxFinding extends Problem {
  readonly severity: 'stops' | 'doubt' | 'advice';
  /** One press that does it; null where it takes judgement. */
  readonly offer: { readonly told: string; readonly changes: readonly Change[] } | null;
}

type Told = readonly [code: string, what: string, why: string, mend: string];

export const finding =
  (severity: BoxFinding['severity'], where: string) =>
  ([code, what, why, mend]: Told, offer: BoxFinding['offer'] = null): BoxFinding => ({
    ...{ severity, code, where, what, why, mend, offer },
  });

export const hzText = (hz: number) => formatQuantity(Number(hz.toPrecision(3)), 'hertz');
export const mmText = (mm: number) => `${formatNumber(Math.round(mm))} mm`;
