import { isUsualValue, partKinds, shownValue, usualRange } from '@/core/document/partKinds';
import type { Mark } from '@/core/measurement/steps/step';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import type { Microphone } from '@/core/radiation/path';
import { bulkDelaySeconds } from '@/core/spectrum/phase';
import { finding, type Finding } from './prediction';
import { repeatedAngles } from './repeatedAngles';
import type { Conditioner } from './conditioner';
import { boxAround, impedanceInBox, responseInBox, type DriversBox } from './inBox';
import { homesOf } from '@/core/document/networkSchema';
import {
  partsOf,
  type Design,
  type Driver,
  type Measurement,
  type NodeRef,
  type Way,
  type WayEnd,
} from '@/core/document/schema';
import { waysStoodOn, waysTakingPart } from '@/core/circuit/wiring';

/** A driver that can be solved. Without a response it loads the amplifier but is silent. */
export interface UsableDriver {
  readonly driver: Driver;
  readonly impedance: Samples;
  readonly response: Samples | null;
  /** The box in use that it is in, which response and impedance hold already; null without one. */
  readonly box: DriversBox | null;
  readonly microphone: Microphone;
  readonly driveVolts: number;
  /** Stretches of the response that were bridged. */
  readonly gaps: readonly Mark[];
  /** −1 when it is connected the other way round, by itself or with its way. */
  readonly sign: 1 | -1;
}

/** A way that can be solved: all its drivers have an impedance. */
export interface UsableWay {
  readonly way: Way;
  readonly ends: readonly UsableDriver[];
}

const fallback = {
  microphone: { placement: 'design-axis', distanceMm: 1000, commonTiming: true },
  driveVolts: 2.83,
} as const;

const statementOf = (design: Design, driver: Driver): Measurement | undefined =>
  design.measurements.find((m) => m.id === driver.responseId);

/**
 * The ways with drivers that can be solved, in the design's order, with their responses after their
 * recipes.
 */
export function usableWays(
  design: Design,
  data: MeasurementData,
  condition: Conditioner,
): UsableWay[] {
  const solvable = design.ways.flatMap((way): UsableWay[] => {
    const ends = way.ends.map((end) => usableDriver(design, data, condition, way, end));
    const isWhole = ends.length > 0 && !ends.includes(null);
    return isWhole ? [{ way, ends: ends.filter((end) => end !== null) }] : [];
  });
  const present = waysTakingPart(design, new Set(solvable.map(({ way }) => way.id)));
  return solvable.filter(({ way }) => present.includes(way));
}

function usableDriver(
  design: Design,
  data: MeasurementData,
  condition: Conditioner,
  { polarity }: Way,
  end: WayEnd,
): UsableDriver | null {
  const driver = design.drivers.find((d) => d.id === end.driverId);
  const measured = driver?.impedanceId ? data.get(driver.impedanceId) : undefined;
  if (!driver || !measured) return null;
  const statement = statementOf(design, driver);
  const response = statement ? condition(statement, data) : null;
  const impedanceStatement = design.measurements.find(({ id }) => id === driver.impedanceId);
  const { microphone, driveVolts } = statement ?? fallback;
  return {
    driver,
    impedance: impedanceInBox(design, driver, impedanceStatement, measured, data),
    response:
      statement && response
        ? responseInBox(design, driver, statement, response.samples, data)
        : null,
    box: boxAround(design, driver, data),
    microphone: response ? { ...microphone, commonTiming: response.holdsDelay } : microphone,
    driveVolts,
    gaps: response?.marks.filter(({ isTail }) => !isTail) ?? [],
    sign: polarity === end.polarity ? 1 : -1,
  };
}

/** What is missing or doubtful before anything is computed. */
export function inspectInputs(
  design: Design,
  data: MeasurementData,
  condition: Conditioner,
): Finding[] {
  return [
    ...design.ways.flatMap((way) => inspectWay(design, way, data, condition)),
    ...inspectWiring(design, data),
    ...inspectTiming(design, data, condition),
    ...inspectValues(design),
  ];
}

function inspectWay(
  design: Design,
  way: Way,
  data: MeasurementData,
  condition: Conditioner,
): Finding[] {
  if (way.ends.length === 0) return inspectOpenWay(design, way);
  const drivers = way.ends.map(({ driverId }) => design.drivers.find((d) => d.id === driverId)!);
  return [...new Set(drivers)].flatMap((driver) =>
    inspectDriver(design, way, driver, data, condition),
  );
}

/**
 * A way without drivers that starts at the terminals, and that neither others start from nor is a
 * mere load.
 */
function inspectOpenWay(design: Design, way: Way): Finding[] {
  const isMeant = way.parts.length > 0 && way.parts.every(({ place }) => place === 'shunt');
  if (way.from.kind !== 'terminals' || isMeant || waysStoodOn(design).has(way.id)) return [];
  const isLoad = way.parts.some(({ place }) => place === 'shunt');
  return [
    isLoad
      ? finding(
          'doubt',
          way.id,
          'way_without_driver',
          way.name,
          'This way has no driver, but what hangs on it loads the amplifier.',
          '',
          'Choose a driver for it, or remove it.',
        )
      : finding(
          'stops',
          way.id,
          'way_without_driver',
          way.name,
          'This way has no driver and is excluded.',
          '',
          'Choose a driver for it.',
        ),
  ];
}

/** Parts whose values no such part has: a unit that was misread, wherever it came from. */
function inspectValues(design: Design): Finding[] {
  return partsOf(design)
    .filter((part) => !isUsualValue(part))
    .map((part) =>
      finding(
        'doubt',
        part.id,
        'unusual_value',
        part.name,
        `${part.name} has ${shownValue(part)}.`,
        `For crossovers a ${partKinds[part.kind].word} has ${usualRange(part.kind)}; its unit may have been misread.`,
        'Correct its value, if it is not meant.',
      ),
    );
}

/** Ways and bridges that start from one that is left out, and are left out with it. */
function inspectWiring(design: Design, data: MeasurementData): Finding[] {
  const hasLoads = ({ ends }: Way) =>
    ends.length > 0 &&
    ends.every(({ driverId }) => {
      const id = design.drivers.find((d) => d.id === driverId)?.impedanceId;
      return typeof id === 'string' && data.has(id);
    });
  const sound = design.ways.filter(hasLoads);
  const homeOf = homesOf(design.ways, design.terminals);
  const present = waysTakingPart(design, new Set(sound.map(({ id }) => id)), homeOf);
  const stranded = (node: NodeRef) => {
    const home = homeOf(node);
    return home && !present.includes(home) ? home : null;
  };
  return [
    ...[...sound, ...design.ways.filter(({ ends }) => ends.length === 0)].flatMap((way) => {
      const home = stranded(way.from);
      return home ? [{ about: way.id, name: way.name, home }] : [];
    }),
    ...design.bridges.flatMap(({ part, a, b }) => {
      const home = stranded(a) ?? stranded(b);
      return home ? [{ about: part.id, name: part.name, home }] : [];
    }),
  ].map(({ about, name, home }) =>
    finding(
      'stops',
      about,
      'stands_on_left_out_way',
      name,
      `${name} is connected to ${home.name}, which is excluded.`,
      'So it is excluded too.',
      `Give ${home.name} what it lacks, or connect ${name} elsewhere.`,
    ),
  );
}

function inspectDriver(
  design: Design,
  way: Way,
  driver: Driver,
  data: MeasurementData,
  condition: Conditioner,
): Finding[] {
  const found: Finding[] = repeatedAngles(design, driver);
  if (!driver.impedanceId || !data.has(driver.impedanceId))
    found.push(
      finding(
        'stops',
        way.id,
        'driver_without_impedance',
        driver.name,
        `${driver.name} has no impedance, so its way is excluded.`,
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
  else if (!response.samples.phaseDeg && design.ways.flatMap(({ ends }) => ends).length > 1)
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
        `A step was skipped: ${what}`,
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
      d.responseId &&
      data.has(d.responseId) &&
      design.ways.some(({ ends }) => ends.some(({ driverId }) => driverId === d.id)),
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
    // A minimum-phase response may look delayed by a tenth of a millisecond; a flight path is ten
    // times that.
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
