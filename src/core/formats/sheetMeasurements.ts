import type { Driver, Measurement } from '@/core/document/schema';
import { sheetImpedance, sheetResponse, type ComputedCurve } from '@/core/driver/sheetCurves';
import type { MeasurementData } from '@/core/measurement/samples';
import { madeMeasurement } from './madeMeasurement';
import { writeTable } from './writeTable';

/** Curves of a driver that only its data sheet tells, for what it lacks. */
interface SheetMeasurements {
  readonly measurements: readonly Measurement[];
  readonly numbers: MeasurementData;
  readonly set: Partial<Pick<Driver, 'responseId' | 'impedanceId'>>;
}

/** Response and impedance that follow from a data sheet, where a driver has none; empty where figures are missing. */
export function sheetMeasurements(
  driver: Driver,
  temperatureC: number,
  madeAt: string,
): SheetMeasurements {
  const { name, sheet, responseId, impedanceId } = driver;
  const made = (curve: ComputedCurve | null, kind: 'response' | 'impedance') =>
    curve &&
    madeMeasurement(
      writeTable(curve, kind, `computed from the data sheet of ${name.replace(/\p{Cc}/gu, ' ')}`),
      `${name} ${kind} by data sheet`,
      null,
      'computed from the figures of the data sheet',
      madeAt,
    );
  const response =
    responseId === null ? made(sheetResponse(sheet, temperatureC), 'response') : null;
  const impedance = impedanceId === null ? made(sheetImpedance(sheet), 'impedance') : null;
  const all = [response, impedance].filter((one) => one !== null);
  return {
    measurements: all.map(({ measurement }) => measurement),
    numbers: new Map(all.flatMap(({ numbers }) => [...numbers])),
    set: {
      ...(response && { responseId: response.measurement.id }),
      ...(impedance && { impedanceId: impedance.measurement.id }),
    },
  };
}
