import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';

/** Figures of a driver in free air, from a data sheet or a fit; null where they are not known. */
export interface DriverFigures {
  readonly fsHz: number | null;
  readonly qes: number | null;
  readonly qms: number | null;
  readonly vasLitres: number | null;
  readonly sdCm2: number | null;
  readonly mmsG: number | null;
  readonly blTm: number | null;
  readonly reOhm: number | null;
}

/** What moves and what drives it; null where the figures do not tell. */
interface Motor {
  readonly mmsKg: number | null;
  readonly cmsMPerN: number | null;
  readonly blTm: number | null;
  readonly vasLitres: number | null;
}

/** Total Q of a driver, Qms·Qes/(Qms + Qes). */
export const totalQ = ({ qms, qes }: Pick<DriverFigures, 'qms' | 'qes'>): number | null =>
  qms === null || qes === null ? null : (qms * qes) / (qms + qes);

/**
 * Moving mass, compliance, force factor and Vas (Small, J. Audio Eng. Soc. 20, 1972): Cms =
 * Vas/(ρc²Sd²), Mms = 1/((2πfs)²·Cms), Bl = √(2πfs·Mms·Re/Qes). What is stated counts; the rest
 * follows from it, the mass from Vas or, without that, from Bl.
 */
export function motorOf(figures: DriverFigures, temperatureC = 20): Motor {
  const { fsHz, qes, vasLitres, sdCm2, mmsG, blTm, reOhm } = figures;
  const omega = fsHz === null ? null : 2 * Math.PI * fsHz;
  const air =
    sdCm2 === null
      ? null
      : airDensityKgpm3(temperatureC) * speedOfSoundMps(temperatureC) ** 2 * (sdCm2 / 1e4) ** 2;
  const damping = qes === null || reOhm === null ? null : reOhm / qes;
  let mmsKg = mmsG === null ? null : mmsG / 1000;
  if (omega !== null) {
    if (mmsKg === null && vasLitres !== null && air !== null)
      mmsKg = air / (omega ** 2 * (vasLitres / 1000));
    if (mmsKg === null && blTm !== null && damping !== null) mmsKg = blTm ** 2 / (omega * damping);
  }
  const cmsMPerN = omega === null || mmsKg === null ? null : 1 / (omega ** 2 * mmsKg);
  const force =
    omega === null || mmsKg === null || damping === null ? null : omega * mmsKg * damping;
  return {
    mmsKg,
    cmsMPerN,
    blTm: blTm ?? (force === null ? null : Math.sqrt(force)),
    vasLitres: vasLitres ?? (cmsMPerN === null || air === null ? null : 1000 * cmsMPerN * air),
  };
}
