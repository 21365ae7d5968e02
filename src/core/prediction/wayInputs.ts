import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { impedanceOnGrid, responseOnGrid, type GridSpectrum } from '@/core/measurement/onGrid';
import type { Samples } from '@/core/measurement/samples';
import { pathCorrection, type Position } from '@/core/radiation/path';
import type { BaffleEffectOf } from './baffleEffect';
import type { UsableDriver } from './inspect';
import { createMemory } from './memory';
import type { Design } from '@/core/document/schema';

/**
 * What a driver brings to a prediction, on one grid; worked out anew only when its inputs change.
 */
export interface WayInputs {
  /**
   * Pressure at the observation point per volt at the driver (1 is 0 dB), path and distance
   * included.
   */
  readonly radiationOf: (
    heard: UsableDriver & { response: Samples },
    design: Design,
  ) => GridSpectrum;
  /** Impedance of the driver, ohms. */
  readonly loadOf: (end: UsableDriver) => GridSpectrum;
}

// A document from another thread is made of new objects: only numbers can be recognised.
const coordinates = ({ xMm, yMm, zMm }: Position) => [xMm, yMm, zMm];

/** @param frequencyHz rising frequencies in Hz */
export function createWayInputs(
  frequencyHz: Float64Array,
  baffleEffectOf: BaffleEffectOf,
): WayInputs {
  const rememberResponse = createMemory<GridSpectrum>();
  const rememberRadiation = createMemory<GridSpectrum>();
  const points = frequencyHz.length;

  function radiationOf(
    { driver, response, microphone, driveVolts }: UsableDriver & { response: Samples },
    design: Design,
  ): GridSpectrum {
    const raw = rememberResponse(driver.id, [response], () =>
      responseOnGrid(response, frequencyHz),
    );
    const { position, measuredAt } = driver;
    const bent = baffleEffectOf(design, driver)?.onAxis ?? null;
    const inputs = [
      raw,
      bent,
      ...coordinates(position),
      ...coordinates(measuredAt ?? position),
      microphone.placement,
      microphone.distanceMm,
      microphone.commonTiming,
      driveVolts,
      design.listeningDistanceMm,
      design.airTemperatureC,
    ];
    return rememberRadiation(driver.id, inputs, () => {
      const { addedPathMm, gain } = pathCorrection(
        position,
        measuredAt ?? position,
        microphone,
        design.listeningDistanceMm,
      );
      const seconds = addedPathMm / 1000 / speedOfSoundMps(design.airTemperatureC);
      const perVolt = gain / driveVolts;
      const re = new Float64Array(points);
      const im = new Float64Array(points);
      for (let i = 0; i < points; i++) {
        const angle = -2 * Math.PI * frequencyHz[i] * seconds;
        const [cos, sin] = [perVolt * Math.cos(angle), perVolt * Math.sin(angle)];
        const [x, y] = bent
          ? [
              raw.re[i] * bent.re[i] - raw.im[i] * bent.im[i],
              raw.re[i] * bent.im[i] + raw.im[i] * bent.re[i],
            ]
          : [raw.re[i], raw.im[i]];
        re[i] = x * cos - y * sin;
        im[i] = x * sin + y * cos;
      }
      return { re, im };
    });
  }

  return { radiationOf, ...createLoads(frequencyHz) };
}

/** The electrical half alone, for whoever hears nothing. */
export function createLoads(frequencyHz: Float64Array): Pick<WayInputs, 'loadOf'> {
  const remember = createMemory<GridSpectrum>();
  return {
    loadOf: ({ driver, impedance }) =>
      remember(driver.id, [impedance], () => impedanceOnGrid(impedance, frequencyHz)),
  };
}
