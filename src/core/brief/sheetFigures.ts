import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { DriverSheet } from '@/core/design/briefSchema';
import { levelForEfficiencyDb, referenceEfficiency, sensitivityVolts } from './arithmetic';

/** What follows from the figures of a data sheet; null where a figure is missing. */
export interface SheetFigures {
  readonly qts: number | null;
  readonly mmsG: number | null;
  readonly cmsMmPerN: number | null;
  readonly blTm: number | null;
  /** η₀, a ratio. */
  readonly efficiency: number | null;
  /** For 2.83 V at 1 m in half space, dB re 20 µPa. */
  readonly sensitivityDb: number | null;
  /** Where ka = 1: below, it radiates alike in all directions, Hz. */
  readonly pistonHz: number | null;
}

/** Total Q of a driver, Qms·Qes/(Qms + Qes). */
export const totalQ = ({ qms, qes }: Pick<DriverSheet, 'qms' | 'qes'>): number | null =>
  qms === null || qes === null ? null : (qms * qes) / (qms + qes);

/**
 * Figures that follow from those of a data sheet (Small, J. Audio Eng. Soc. 20, 1972):
 * Cms = Vas/(ρc²Sd²), Mms = 1/((2πfs)²·Cms), Bl = √(2πfs·Mms·Re/Qes).
 */
export function sheetFigures(sheet: DriverSheet, temperatureC = 20): SheetFigures {
  const { fsHz, qes, vasLitres, sdCm2, reOhm } = sheet;
  const c = speedOfSoundMps(temperatureC);
  const sdM2 = sdCm2 === null ? null : sdCm2 / 1e4;
  const cms =
    vasLitres === null || sdM2 === null
      ? null
      : vasLitres / 1000 / (airDensityKgpm3(temperatureC) * c ** 2 * sdM2 ** 2);
  const mms = cms === null || fsHz === null ? null : 1 / ((2 * Math.PI * fsHz) ** 2 * cms);
  const efficiency =
    fsHz === null || vasLitres === null || qes === null
      ? null
      : referenceEfficiency(fsHz, vasLitres, qes, temperatureC);
  return {
    qts: totalQ(sheet),
    mmsG: mms && 1000 * mms,
    cmsMmPerN: cms && 1000 * cms,
    blTm:
      mms === null || fsHz === null || reOhm === null || qes === null
        ? null
        : Math.sqrt((2 * Math.PI * fsHz * mms * reOhm) / qes),
    efficiency,
    sensitivityDb:
      efficiency === null || reOhm === null
        ? null
        : levelForEfficiencyDb(efficiency, temperatureC) +
          10 * Math.log10(sensitivityVolts ** 2 / reOhm),
    pistonHz: sdM2 === null ? null : c / (2 * Math.PI * Math.sqrt(sdM2 / Math.PI)),
  };
}
