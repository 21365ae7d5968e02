import type { Mark } from '@/core/measurement/condition';
import type { Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import type { Microphone } from '@/core/radiation/path';
import { bulkDelaySeconds } from '@/core/spectrum/phase';
import type { Finding, WayPrediction } from './prediction';
import type { Conditioner } from './conditioner';
import type { MeasurementData } from './predict';
import type { Design, Driver, Measurement, Way } from './schema';

/** A way that can be solved: its driver has an impedance. Without a response it loads the amplifier but is silent. */
export interface UsableWay {
  readonly way: Way;
  readonly driver: Driver;
  readonly impedance: Samples;
  readonly response: Samples | null;
  readonly microphone: Microphone;
  readonly driveVolts: number;
  /** Stretches of the response that were bridged. */
  readonly bridges: readonly Mark[];
}

const fallback = {
  microphone: { placement: 'design-axis', distanceMm: 1000, commonTiming: true },
  driveVolts: 2.83,
} as const;

const statementOf = (design: Design, driver: Driver): Measurement | undefined =>
  design.measurements.find((m) => m.id === driver.responseId);

/** The ways that can be solved, in the design's order, with their responses after their recipes. */
export function usableWays(
  design: Design,
  data: MeasurementData,
  condition: Conditioner,
): UsableWay[] {
  return design.ways.flatMap((way): UsableWay[] => {
    const driver = design.drivers.find((d) => d.id === way.driverId);
    const impedance = driver?.impedanceId ? data.get(driver.impedanceId) : undefined;
    if (!driver || !impedance) return [];
    const statement = statementOf(design, driver);
    const response = statement ? condition(statement, data) : null;
    const { microphone, driveVolts } = statement ?? fallback;
    return [
      {
        way,
        driver,
        impedance,
        response: response?.samples ?? null,
        microphone: response ? { ...microphone, commonTiming: response.holdsDelay } : microphone,
        driveVolts,
        bridges: response?.marks.filter(({ isTail }) => !isTail) ?? [],
      },
    ];
  });
}

const finding = (
  severity: Finding['severity'],
  about: string,
  ...told: Parameters<typeof problem>
): Finding => ({ ...problem(...told).problem, severity, about });

/** What is missing or doubtful before anything is computed. */
export function inspectInputs(
  design: Design,
  data: MeasurementData,
  condition: Conditioner,
): Finding[] {
  return [
    ...design.ways.flatMap((way) => inspectWay(design, way, data, condition)),
    ...inspectTiming(design, data, condition),
  ];
}

function inspectWay(
  design: Design,
  way: Way,
  data: MeasurementData,
  condition: Conditioner,
): Finding[] {
  const driver = design.drivers.find((d) => d.id === way.driverId);
  if (!driver)
    return [
      finding(
        'stops',
        way.id,
        'way_without_driver',
        way.name,
        'This way has no driver and is left out.',
        '',
        'Choose a driver for it.',
      ),
    ];
  const found: Finding[] = [];
  if (!driver.impedanceId || !data.has(driver.impedanceId))
    found.push(
      finding(
        'stops',
        way.id,
        'driver_without_impedance',
        driver.name,
        `${driver.name} has no impedance, so its way is left out.`,
        'The network can’t be solved without its load.',
        'Assign an impedance to it on the Bench.',
      ),
    );
  const statement = statementOf(design, driver);
  const response = statement && condition(statement, data);
  if (!response)
    found.push(
      finding(
        'stops',
        way.id,
        'driver_without_response',
        driver.name,
        `${driver.name} has no response and counts as silent.`,
        '',
        'Assign a response to it on the Bench.',
      ),
    );
  else if (!response.samples.phaseDeg && design.ways.length > 1)
    found.push(
      finding(
        'doubt',
        driver.id,
        'response_without_phase',
        driver.name,
        `The response of ${driver.name} has no phase; it is taken as 0°.`,
        'Where drivers overlap, the sum is a guess.',
        'Measure with phase, or add a minimum phase on the Bench.',
      ),
    );
  for (const { what, why, mend } of response?.troubles.values() ?? [])
    found.push(
      finding(
        'doubt',
        driver.id,
        'step_left_out',
        driver.name,
        `A step was left out: ${what}`,
        why,
        mend,
      ),
    );
  return found;
}

/** Responses can be summed if all share one time reference, or if none holds a delay. */
function inspectTiming(design: Design, data: MeasurementData, condition: Conditioner): Finding[] {
  const drivers = design.drivers.filter(
    (d) =>
      d.responseId && data.has(d.responseId) && design.ways.some((way) => way.driverId === d.id),
  );
  const responseOf = (driver: Driver) => condition(statementOf(design, driver)!, data)!;
  const isCommon = (driver: Driver) => responseOf(driver).holdsDelay;
  const own = drivers.filter((d) => !isCommon(d));
  if (own.length === 0) return [];
  const found: Finding[] = [];
  if (own.length < drivers.length)
    found.push(
      finding(
        'doubt',
        own[0].id,
        'mixed_timing',
        own.map((d) => d.name).join(', '),
        'Some responses share a common timing and some do not.',
        'Their delays can’t be compared, so the sum is a guess.',
        'State the same timing for all, or measure the set again in one session.',
      ),
    );
  for (const driver of own) {
    const { frequencyHz, phaseDeg } = responseOf(driver).samples;
    if (!phaseDeg) continue;
    const delay = bulkDelaySeconds(
      frequencyHz,
      phaseDeg.map((degrees) => (degrees * Math.PI) / 180),
    );
    // A minimum-phase response may look delayed by a tenth of a millisecond; a flight path is ten times that.
    if (Math.abs(delay) > 0.0003)
      found.push(
        finding(
          'doubt',
          driver.id,
          'delay_without_common_timing',
          driver.name,
          `The response of ${driver.name} holds a delay of ${(delay * 1000).toFixed(2)} ms.`,
          'Without common timing it has no meaning, and the path from its position is added to it.',
          'State common timing, or give it a minimum phase without the delay on the Bench.',
        ),
      );
  }
  return found;
}

/** A driver whose data end where it is still heard. */
export function inspectSum(
  design: Design,
  usable: readonly UsableWay[],
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
  sumDb: Float64Array,
): Finding[] {
  return usable.flatMap(({ driver }, w) => {
    const { levelDb } = ways[w];
    const first = levelDb.findIndex(Number.isFinite);
    const last = levelDb.findLastIndex(Number.isFinite);
    const edges = [
      { edge: first, isInside: first > 0, side: 'below' },
      { edge: last, isInside: last >= 0 && last < levelDb.length - 1, side: 'above' },
    ];
    return edges.flatMap(({ edge, isInside, side }) => {
      const under = isInside ? sumDb[edge] - levelDb[edge] : Infinity;
      // 30 dB under the sum changes it by less than 0.3 dB.
      if (under > 30) return [];
      return [
        finding(
          'doubt',
          driver.id,
          'data_end_too_early',
          driver.name,
          `${driver.name} has no data ${side} ${Math.round(frequencyHz[edge])} Hz and counts as silent there.`,
          `At that frequency it is ${under.toFixed(0)} dB under the sum, so the sum is incomplete ${side} it.`,
          'Measure it over a wider band.',
        ),
      ];
    });
  });
}
