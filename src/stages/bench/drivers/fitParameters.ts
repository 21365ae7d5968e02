import type { DriverSheet } from '@/core/document/briefSchema';
import type { Driver } from '@/core/document/schema';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { fittedMagnitude } from '@/core/driver/curve';
import type { DriverParameters, ParameterFit, SecondRun } from '@/core/driver/thieleSmall';
import { frequencyOfKa } from '@/core/radiation/piston';
import { thinnedForDisplay } from '@/core/measurement/display';
import { problem } from '@/core/problem';
import type { Desk } from '@/desk/desk';

export interface FittedDriver {
  readonly fit: ParameterFit;
  /** The impedance in free air and the model's, ohms. */
  readonly curves: {
    readonly frequencyHz: Float64Array;
    readonly measured: Float64Array;
    readonly modelled: Float64Array;
  };
  /** Where ka = 1. */
  readonly evenUpToHz: number;
}

/**
 * Fits the parameters of a driver as its setup says.
 *
 * @throws ProblemError naming what is missing, or why nothing fits
 */
export async function fitParameters(desk: Desk, driver: Driver): Promise<FittedDriver> {
  const { impedanceId, fitting, sheet, name } = driver;
  const free = impedanceId === null ? undefined : desk.samples(impedanceId);
  const missing = (what: string, mend: string) => problem('fit_incomplete', name, what, '', mend);
  if (!free) throw missing('Its impedance is not here yet.', 'Wait until it is loaded.');
  if (sheet.sdCm2 === null)
    throw missing(
      'The effective area of the cone is not known.',
      'Write it into the sentence above.',
    );
  const sdM2 = sheet.sdCm2 / 1e4;
  const { airTemperatureC } = desk.store.getState().design;
  const fit = await desk.workbench().fitDriver(free, secondRun(desk, fitting, missing), {
    sdM2,
    reOhm: fitting.reOhm,
    leadOhm: fitting.leadOhm,
    airTemperatureC,
  });
  const { frequencyHz, magnitude } = thinnedForDisplay(free);
  return {
    fit,
    curves: {
      frequencyHz,
      measured: magnitude,
      modelled: fittedMagnitude(fit, frequencyHz, fitting.leadOhm),
    },
    evenUpToHz: frequencyOfKa(1, sheet.sdCm2, speedOfSoundMps(airTemperatureC)),
  };
}

function secondRun(
  desk: Desk,
  { second, secondId, addedMassG, boxLitres }: Driver['fitting'],
  missing: (what: string, mend: string) => Error,
): SecondRun | null {
  if (second === 'none') return null;
  const samples = secondId === null ? undefined : desk.samples(secondId);
  if (!samples)
    throw missing('The second impedance is not selected.', 'Select it in the sentence above.');
  if (second === 'added-mass') {
    if (addedMassG === null) throw missing('The added mass is not known.', 'Weigh it.');
    return { kind: second, samples, massKg: addedMassG / 1000 };
  }
  if (boxLitres === null) throw missing('The volume of the box is not known.', 'Measure it.');
  return { kind: second, samples, volumeM3: boxLitres / 1000 };
}

/** Fitted parameters as a data sheet has them; what was not found is left as it is. */
export const sheetOf = (p: DriverParameters): Partial<DriverSheet> => ({
  fsHz: Number(p.fsHz.toPrecision(4)),
  qms: Number(p.qms.toPrecision(4)),
  qes: Number(p.qes.toPrecision(4)),
  reOhm: Number(p.reOhm.toPrecision(4)),
  ...(p.vasM3 === null ? {} : { vasLitres: Number((p.vasM3 * 1000).toPrecision(4)) }),
  ...(p.mmsKg === null ? {} : { mmsG: Number((p.mmsKg * 1000).toPrecision(4)) }),
  ...(p.blTm === null ? {} : { blTm: Number(p.blTm.toPrecision(4)) }),
});
