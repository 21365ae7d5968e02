import { isUsualValue, partKinds, shownValue, usualRange } from '@/core/document/partKinds';
import type { Mark } from '@/core/measurement/steps/step';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import type { Microphone } from '@/core/radiation/path';
import { bulkDelaySeconds } from '@/core/spectrum/phase';
import type { Finding, WayPrediction } from './prediction';
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
  const found: Finding[] = inspectAngles(design, driver);
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

/** Angles this close are the same, degrees. */
const sameDeg = 0.5;

/** Measurements that say of two files that they are of one angle: one of them is never used. */
function inspectAngles(design: Design, driver: Driver): Finding[] {
  const turned = driver.offAxisIds.flatMap((id) => {
    const measurement = design.measurements.find((one) => one.id === id);
    return measurement?.angle ? [{ measurement, angle: measurement.angle }] : [];
  });
  return turned.flatMap(({ measurement, angle }, k) => {
    const first = turned
      .slice(0, k)
      .find(
        ({ angle: { plane, degrees } }) =>
          plane === angle.plane && Math.abs(degrees - angle.degrees) < sameDeg,
      );
    if (!first) return [];
    return [
      finding(
        'doubt',
        driver.id,
        'angle_twice',
        driver.name,
        `${first.measurement.name} and ${measurement.name} are both at ${angle.degrees}° ${angle.plane}.`,
        'Only the first counts; the angle that is meant may be missing.',
        'Correct one of the two angles on the Bench, or take one away.',
      ),
    ];
  });
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

/** A way that is everywhere this much under the loudest one is not heard, dB. */
const muteDb = 6;

/** How near a way comes to the loudest one, dB under it, and where; null for silence. */
export function nearestToLoudest(
  own: Float64Array,
  levels: readonly Float64Array[],
  frequencyHz: Float64Array,
): { readonly underDb: number; readonly atHz: number } | null {
  let [underDb, atHz] = [Infinity, 0];
  for (let i = 0; i < own.length; i++) {
    let loudest = -Infinity;
    for (const level of levels) if (level[i] > loudest) loudest = level[i];
    if (loudest - own[i] < underDb) [underDb, atHz] = [loudest - own[i], frequencyHz[i]];
  }
  return Number.isFinite(underDb) ? { underDb, atHz } : null;
}

/** Ways that are nowhere near the loudest one: paid for, and not heard. */
export function muteWays(
  ways: readonly Pick<WayPrediction, 'wayId' | 'levelDb'>[],
  frequencyHz: Float64Array,
): readonly { readonly wayId: string; readonly underDb: number; readonly atHz: number }[] {
  const levels = ways.map(({ levelDb }) => levelDb);
  return ways.flatMap(({ wayId, levelDb }) => {
    const nearest = nearestToLoudest(levelDb, levels, frequencyHz);
    return nearest && nearest.underDb > muteDb ? [{ wayId, ...nearest }] : [];
  });
}

function inspectMute(
  usable: readonly UsableWay[],
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
): Finding[] {
  return muteWays(ways, frequencyHz).flatMap(({ wayId, underDb, atHz }) => {
    const own = usable.find(({ way }) => way.id === wayId)!;
    // What points away from the listener is not meant to be heard on the axis.
    if (own.ends.some(({ driver: { aim } }) => Math.abs(aim.yawDeg) > 60)) return [];
    return [
      finding(
        'doubt',
        wayId,
        'way_hardly_heard',
        own.way.name,
        `${own.way.name} is nowhere within ${muteDb} dB of the loudest way.`,
        `It comes nearest at ${Math.round(atHz)} Hz, ${underDb.toFixed(0)} dB under it.`,
        'Let it play where it is meant to, or leave it out.',
      ),
    ];
  });
}

/** Ways that are not heard, and drivers whose data end where they still are. */
export function inspectSum(
  usable: readonly UsableWay[],
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
  sumDb: Float64Array,
): Finding[] {
  return [
    ...inspectMute(usable, frequencyHz, ways),
    ...inspectEnds(usable, frequencyHz, ways, sumDb),
  ];
}

function inspectEnds(
  usable: readonly UsableWay[],
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
  sumDb: Float64Array,
): Finding[] {
  return usable.flatMap(({ way, ends }, w) => {
    const { levelDb } = ways[w];
    const name = ends.length === 1 ? ends[0].driver.name : way.name;
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
          ends[0].driver.id,
          'data_end_too_early',
          name,
          `${name} has no data ${side} ${Math.round(frequencyHz[edge])} Hz and counts as silent there.`,
          `At that frequency it is ${under.toFixed(0)} dB under the sum, so the sum is incomplete ${side} it.`,
          'Measure it over a wider band.',
        ),
      ];
    });
  });
}
