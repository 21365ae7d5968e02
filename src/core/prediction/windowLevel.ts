import type { GridSpectrum } from '@/core/measurement/onGrid';
import { listeningWindow } from '@/core/radiation/offAxis';
import { createMemory } from './memory';
import type { OffAxisOf } from './offAxisInputs';
import type { WindowLevel } from './prediction';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design, Driver } from '@/core/document/schema';

/**
 * A driver that is heard: what it sends along the axis per volt, and the voltage at it in its
 * polarity.
 */
export interface HeardDriver {
  readonly driver: Driver;
  readonly radiation: GridSpectrum;
  readonly volts: GridSpectrum;
  readonly sign: number;
}

/**
 * Level of the mean energy over the listening window.
 */
type WindowLevelOf = (
  design: Design,
  heard: readonly HeardDriver[],
  data: MeasurementData,
  /** Asks for what is known already only; called when that is not enough. */
  onLater: (() => void) | null,
) => WindowLevel | null;

/**
 * Null when it is not known of some driver that is heard what it does off its axis. What the drivers send in each
 * direction is kept: a changed network asks for sums only.
 *
 * @param points of the frequency grid
 */
export function createWindowLevel(offAxisOf: OffAxisOf, points: number): WindowLevelOf {
  const remember = createMemory<readonly (GridSpectrum | null)[]>();
  return (design, heard, data, onLater) => {
    if (heard.length === 0) return null;
    const rows: (readonly GridSpectrum[])[] = [];
    let isModelled = false;
    for (const { driver, radiation } of heard) {
      const toward = offAxisOf(design, driver, data);
      if (!toward) return null;
      if (onLater && !remember.has(driver.id, [toward, radiation])) {
        onLater();
        return null;
      }
      const row = remember(driver.id, [toward, radiation], () =>
        listeningWindow.map((direction) => toward(radiation, direction)),
      ).filter((there) => there !== null);
      if (row.length < listeningWindow.length) return null;
      isModelled ||= listeningWindow.some(toward.isModelled);
      rows.push([radiation, ...row]);
    }
    const energy = new Float64Array(points);
    const [re, im] = [new Float64Array(points), new Float64Array(points)];
    for (let d = 0; d <= listeningWindow.length; d++) {
      re.fill(0);
      im.fill(0);
      heard.forEach(({ volts, sign }, h) => {
        const there = rows[h][d];
        for (let i = 0; i < points; i++) {
          re[i] += sign * (there.re[i] * volts.re[i] - there.im[i] * volts.im[i]);
          im[i] += sign * (there.re[i] * volts.im[i] + there.im[i] * volts.re[i]);
        }
      });
      for (let i = 0; i < points; i++) energy[i] += re[i] * re[i] + im[i] * im[i];
    }
    const levelDb = energy.map((sum) => 10 * Math.log10(sum / (listeningWindow.length + 1)));
    return { levelDb, isModelled };
  };
}
