import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { levelForEfficiencyDb, referenceEfficiency, sensitivityVolts } from './efficiency';
import { motorOf, totalQ, type DriverFigures } from './motor';
import { frequencyOfKa } from '@/core/radiation/piston';

/** What follows from the figures of a data sheet; null where a figure is missing. */
interface SheetFigures {
  readonly qts: number | null;
  readonly vasLitres: number | null;
  readonly mmsG: number | null;
  readonly cmsMmPerN: number | null;
  readonly blTm: number | null;
  /** η₀, a ratio. */
  readonly efficiency: number | null;
  /** For 2.83 V at 1 m in half space, dB re 20 µPa. */
  readonly sensitivityDb: number | null;
  /** Where ka = 1: below, it radiates nearly alike over the front, Hz. */
  readonly evenUpToHz: number | null;
}

/**
 * Figures that follow from those of a data sheet (Small, J. Audio Eng. Soc. 20, 1972); see {@link
 * motorOf}.
 */
export function sheetFigures(sheet: DriverFigures, temperatureC = 20): SheetFigures {
  const { fsHz, qes, sdCm2, reOhm } = sheet;
  const { mmsKg, cmsMPerN, blTm, vasLitres } = motorOf(sheet, temperatureC);
  const efficiency =
    fsHz === null || vasLitres === null || qes === null
      ? null
      : referenceEfficiency(fsHz, vasLitres, qes, temperatureC);
  return {
    qts: totalQ(sheet),
    vasLitres,
    mmsG: mmsKg && 1000 * mmsKg,
    cmsMmPerN: cmsMPerN && 1000 * cmsMPerN,
    blTm,
    efficiency,
    sensitivityDb:
      efficiency === null || reOhm === null
        ? null
        : levelForEfficiencyDb(efficiency, temperatureC) +
          10 * Math.log10(sensitivityVolts ** 2 / reOhm),
    evenUpToHz: sdCm2 === null ? null : frequencyOfKa(1, sdCm2, speedOfSoundMps(temperatureC)),
  };
}
