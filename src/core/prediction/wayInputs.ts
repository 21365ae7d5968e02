import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { impedanceOnGrid, responseOnGrid, type GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import { isAimed } from '@/core/radiation/direction';
import { pathCorrection, type Position } from '@/core/radiation/path';
import type { BaffleEffectOf } from './baffleEffect';
import type { UsableDriver } from './inspect';
import type { OffAxisOf } from './offAxisInputs';
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
    data: MeasurementData,
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
  offAxisOf: OffAxisOf,
): WayInputs {
  const rememberResponse = createMemory<GridSpectrum>();
  const rememberRadiation = createMemory<GridSpectrum>();
  const points = frequencyHz.length;

  function radiationOf(
    { driver, response, microphone, driveVolts }: UsableDriver & { response: Samples },
    design: Design,
    data: MeasurementData,
  ): GridSpectrum {
    const raw = rememberResponse(driver.id, [response], () =>
      responseOnGrid(response, frequencyHz),
    );
    const { position, measuredAt } = driver;
    const bent = baffleEffectOf(design, driver)?.onAxis ?? null;
    // Measured on its own axis, a driver that points elsewhere is heard from the side.
    const aside =
      isAimed(driver.aim) && microphone.placement === 'own-axis'
        ? (offAxisOf(design, driver, data)?.aside ?? null)
        : null;
    const inputs = [
      raw,
      bent,
      aside,
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
      const factors = [bent, aside].filter((factor) => factor !== null);
      const re = new Float64Array(points);
      const im = new Float64Array(points);
      for (let i = 0; i < points; i++) {
        const angle = -2 * Math.PI * frequencyHz[i] * seconds;
        const [cos, sin] = [perVolt * Math.cos(angle), perVolt * Math.sin(angle)];
        let [x, y] = [raw.re[i], raw.im[i]];
        for (const factor of factors)
          [x, y] = [x * factor.re[i] - y * factor.im[i], x * factor.im[i] + y * factor.re[i]];
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
