import { linePath } from './curve';
import { levelScale } from './window';

interface ThumbnailProps {
  /** Levels in dB, evenly spaced over log frequency; null where there is none. */
  readonly levels: readonly (number | null)[];
  readonly width?: number;
  readonly height?: number;
}

/** A response, small; the same proportion of decades to decibels as in the charts. */
export function Thumbnail({ levels, width = 84, height = 28 }: ThumbnailProps) {
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
