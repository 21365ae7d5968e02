import { cornerOverResonance } from '@/core/box/alignments';
import type { DriverId } from '@/core/fields';
import type { Brief } from '@/core/document/briefSchema';
import { sourceOhmsOf } from '@/core/prediction/figures';
import type { Design, Driver } from '@/core/document/schema';
import { motorOf } from '@/core/driver/motor';

/**
 * Thickness of the panels assumed while there is no box, mm, and share of the inside left by
 * drivers and braces.
 */
export const panelMm = 19;
export const netShare = 0.85;

/** Net volume that an outside size leaves, litres. */
export function netLitres(widthMm: number, heightMm: number, depthMm: number): number {
  const inside = [widthMm, heightMm, depthMm].map((mm) => Math.max(0, mm - 2 * panelMm));
  return (netShare * inside[0] * inside[1] * inside[2]) / 1e6;
}

/** The same of the size that a brief allows; null while it does not say. */
export const netLitresOf = ({ widthMm, heightMm, depthMm }: Brief): number | null =>
  widthMm === null || heightMm === null || depthMm === null
    ? null
    : netLitres(widthMm, heightMm, depthMm);

/** A driver in a closed box, without fill. */
interface ClosedBox {
  readonly litres: number;
  /**
   * Resistance of amplifier, cable and coils before the driver, Ω, and what it makes of the
   * driver's Q.
   */
  readonly seriesOhms: number;
  readonly qts: number;
  readonly qtc: number;
  readonly fcHz: number;
  readonly f3Hz: number;
}

/** Resistance of the coils in series on the way to a driver, Ω; parts that are off do not count. */
export function coilOhmsBefore({ ways }: Pick<Design, 'ways'>, driverId: DriverId): number {
  let ohms = 0;
  for (const { ends, parts } of ways)
    if (ends.some((end) => end.driverId === driverId))
      for (const part of parts)
        if (part.kind === 'coil' && part.place === 'series' && !part.isOff) ohms += part.seriesOhms;
  return ohms;
}

/**
 * A driver in a closed box (Small, J. Audio Eng. Soc. 20, 1972): resistance before it weakens its
 * damping, Qes' = Qes·(Re + R)/Re; fc/fs = Qtc/Qts = √(1 + Vas/V).
 *
 * @returns null while a figure is missing
 */
export function closedBoxOf(
  design: Design,
  { id, sheet }: Driver,
  litres: number,
): ClosedBox | null {
  const { fsHz, qes, qms, reOhm } = sheet;
  const { vasLitres } = motorOf(sheet, design.airTemperatureC);
  if (fsHz === null || qes === null || qms === null || reOhm === null || vasLitres === null)
    return null;
  const seriesOhms = sourceOhmsOf(design.amplifier) + coilOhmsBefore(design, id);
  const electrical = (qes * (reOhm + seriesOhms)) / reOhm;
  const qts = (qms * electrical) / (qms + electrical);
  const stretch = Math.sqrt(1 + vasLitres / litres);
  const [qtc, fcHz] = [qts * stretch, fsHz * stretch];
  return { litres, seriesOhms, qts, qtc, fcHz, f3Hz: fcHz * cornerOverResonance(qtc) };
}
