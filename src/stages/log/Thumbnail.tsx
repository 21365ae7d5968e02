import { linePath } from '@/ui/chart/curve';
import { levelScale } from '@/ui/chart/window';

const [width, height] = [84, 28];

/** The response of a version, small; the same proportion of decades to decibels as in the charts. */
export function Thumbnail({ levels }: { readonly levels: readonly (number | null)[] }) {
  const known = levels.filter((level) => level !== null);
  if (known.length === 0) return null;
  const { bottom, top } = levelScale(known);
  const places = levels.map((_, i) => ((width * i) / (levels.length - 1)).toFixed(1));
  const values = Float64Array.from(levels, (level) =>
    level === null ? NaN : Math.max(bottom, level),
  );
  const d = linePath(places, values, (level) => (height * (top - level)) / (top - bottom));
  return (
    <svg width={width} height={height} aria-hidden>
      <path d={d} fill="none" stroke="currentColor" strokeWidth="1.2" />
    </svg>
  );
}
