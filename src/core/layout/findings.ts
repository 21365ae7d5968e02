import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { coneAround } from '@/core/cabinet/neck';
import type { Design, Driver } from '@/core/document/schema';
import { crossoverReports, type CrossoverReport } from '@/core/insight/crossoverReports';
import { baffleUse } from '@/core/prediction/baffleEffect';
import { createBending, placedDriver, pointToward } from '@/core/prediction/onBaffle';
import { levelDbOf } from '@/core/prediction/derived';
import { headingOf, isAimed, straight } from '@/core/radiation/direction';
import type { Band } from '@/core/prediction/figures';
import type { Finding, Prediction } from '@/core/prediction/prediction';
import { problem } from '@/core/problem';
import { coneRadiusM, frequencyOfKa, kaTakeOver } from '@/core/radiation/piston';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { earsAboveAxisMm } from '@/core/document/seats';
import { waySpacing } from './waySpacing';

const hertz = (hz: number) => formatQuantity(Number(hz.toPrecision(2)), 'hertz');
const mm = (value: number) => formatQuantity(Math.round(value), 'millimetre');

const doubt = (about: string, ...told: Parameters<typeof problem>): Finding => ({
  ...problem(...told).problem,
  severity: 'doubt',
  about,
});

/** Under the sum by which a way still counts as used, dB. */
const usedUnderDb = 12;
const wholeBand: Band = { fromHz: 200, toHz: 10_000 };

/** Where a driver is heard: its way less than 12 dB under the sum. */
export function usedBand(design: Design, prediction: Prediction | null, driver: Driver): Band {
  const way = design.ways.find(({ ends }) => ends.some(({ driverId }) => driverId === driver.id));
  const heard = prediction?.ways.find(({ wayId }) => wayId === way?.id);
  if (!prediction?.sum || !heard) return wholeBand;
  const { frequencyHz, sum } = prediction;
  const isUsed = (_: number, i: number) => heard.levelDb[i] > sum.levelDb[i] - usedUnderDb;
  const [first, last] = [heard.levelDb.findIndex(isUsed), heard.levelDb.findLastIndex(isUsed)];
  return first < 0 ? wholeBand : { fromHz: frequencyHz[first], toHz: frequencyHz[last] };
}

/**
 * What is doubtful about where the drivers are: spacing, beaming, the floor, and what is not known of
 * how they were measured.
 */
export function layoutFindings(design: Design, prediction: Prediction | null): Finding[] {
  const reports = prediction ? crossoverReports(prediction) : [];
  const mounted = design.drivers.filter(({ mounting }) => mounting.panelId !== null);
  return [
    ...reports.flatMap((report) => [...tooWide(design, report), ...beams(design, report)]),
    ...mounted.flatMap((driver) => [
      ...nearFloor(design, prediction, driver),
      ...unknownBaffle(design, driver),
      ...withoutSize(driver),
      ...inNeck(design, driver),
    ]),
    ...design.drivers.flatMap((driver) => unknownAside(design, driver)),
  ];
}

/** A dome in the neck of a cone: its waveguide is the cone, and that is not said. */
function inNeck({ drivers, measurements }: Design, driver: Driver): Finding[] {
  const around = coneAround(driver, drivers);
  if (!around || driver.mounting.kind === 'waveguide') return [];
  const isMeasuredAround = driver.offAxisIds.length > 0;
  const statement = measurements.find(({ id }) => id === driver.responseId);
  if (isMeasuredAround && statement?.measuredOn.kind === 'baffle') return [];
  const mouthMm = around.sheet.sdCm2 === null ? null : 2000 * coneRadiusM(around.sheet.sdCm2);
  return [
    doubt(
      driver.id,
      'dome_in_neck',
      driver.name,
      `${driver.name} sits in the neck of ${around.name}, and is worked out as ${driver.mounting.kind} on the front.`,
      `The cone is its waveguide${mouthMm === null ? '' : `, with a mouth of about ${mm(mouthMm)}`}; where it was measured off the axis, that counts first.`,
      'Mount it on a waveguide as deep and as wide as the cone, and measure it off the axis in place.',
    ),
  ];
}

/** A driver that points elsewhere, of which nobody knows what it sends to the listener. */
function unknownAside(design: Design, driver: Driver): Finding[] {
  const statement = design.measurements.find(({ id }) => id === driver.responseId);
  const isKnown =
    driver.offAxisIds.length > 0 ||
    (driver.mounting.panelId !== null && driver.sheet.sdCm2 !== null);
  if (!isAimed(driver.aim) || statement?.microphone.placement !== 'own-axis' || isKnown) return [];
  return [
    doubt(
      driver.id,
      'aimed_without_orbit',
      driver.name,
      `${driver.name} points away from the listener, and it is not known what it sends there.`,
      'Its response on its own axis is used.',
      'Measure it off its axis, or put it on a panel and give its Sd.',
    ),
  ];
}

const driversOf = (design: Design, wayId: string): Driver[] => {
  const ends = design.ways.find(({ id }) => id === wayId)?.ends ?? [];
  return design.drivers.filter(({ id }) => ends.some(({ driverId }) => driverId === id));
};

/** Wider than a wave apart at the crossover: lobes come near to the axis (common practice). */
function tooWide(design: Design, report: CrossoverReport): Finding[] {
  const spacing = waySpacing(design, report)?.vertical;
  if (!spacing || spacing.waves <= 1) return [];
  const [below, above] = spacing.nullsDeg.map((deg) => deg && `${formatFixed(Math.abs(deg), 0)}°`);
  const upper = driversOf(design, report.upperId).at(0)!;
  const nulls = [below && `${below} below`, above && `${above} above`].filter(Boolean);
  return [
    doubt(
      upper.id,
      'spacing_too_wide',
      upper.name,
      `${driversOf(design, report.lowerId)
        .map(({ name }) => name)
        .join(
          ' and ',
        )} and ${upper.name} are ${formatFixed(spacing.waves, 2)} wavelengths apart at ${hertz(report.atHz)}.`,
      nulls.length === 0 ? '' : `They cancel first ${nulls.join(' and ')} the axis.`,
      'Mount them nearer to each other, or cross over lower.',
    ),
  ];
}

/** A crossover beyond the frequency from which the lower driver beams (ka = 2). */
function beams(design: Design, { lowerId, atHz }: CrossoverReport): Finding[] {
  return driversOf(design, lowerId).flatMap((driver) => {
    const { sdCm2 } = driver.sheet;
    if (sdCm2 === null) return [];
    const fromHz = frequencyOfKa(kaTakeOver, sdCm2, speedOfSoundMps(design.airTemperatureC));
    if (atHz <= fromHz) return [];
    return [
      doubt(
        driver.id,
        'beams_at_crossover',
        driver.name,
        `${driver.name} beams from ${hertz(fromHz)} on, and crosses over at ${hertz(atHz)}.`,
        `That is ${formatFixed(Math.log2(atHz / fromHz), 1)} octaves beyond ka = 2: off the axis the next driver takes over from a narrower one.`,
        'Cross over lower, or take a smaller driver.',
      ),
    ];
  });
}

/** Nearer to the floor than this its reflection is worth a word, mm. */
const nearFloorMm = 700;

function nearFloor(design: Design, prediction: Prediction | null, driver: Driver): Finding[] {
  if (design.axisHeightMm === null) return [];
  const above = design.axisHeightMm + driver.position.yMm;
  const ears = design.axisHeightMm + earsAboveAxisMm(design);
  if (above > nearFloorMm) return [];
  const distance = design.listeningDistanceMm;
  const longer = (Math.hypot(distance, ears + above) - Math.hypot(distance, ears - above)) / 1000;
  const hz = speedOfSoundMps(design.airTemperatureC) / (2 * longer);
  const band = usedBand(design, prediction, driver);
  if (hz < band.fromHz || hz > band.toHz) return [];
  return [
    doubt(
      driver.id,
      'near_floor',
      driver.name,
      `${driver.name} is ${mm(above)} above the floor: its reflection there cancels first at ${hertz(hz)} at the seat.`,
      'That is within the band that it plays; the prediction has no room in it.',
      'Cross over lower, or count on it when the room is judged.',
    ),
  ];
}

function unknownBaffle(design: Design, driver: Driver): Finding[] {
  const statement = design.measurements.find(({ id }) => id === driver.responseId);
  const use = baffleUse(design, driver, statement);
  if (use === 'in-recipe')
    return [
      doubt(
        driver.id,
        'baffle_step_in_recipe',
        driver.name,
        `The baffle step of ${driver.name} is in its response already: a near-field step adds it.`,
        'So its edges are not added as well.',
        'Take the width out of that step on the Bench to have step and edges from the drawing.',
      ),
    ];
  if (use !== 'not-said' || !statement) return [];
  return [
    doubt(
      driver.id,
      'baffle_not_said',
      driver.name,
      `The baffle that ${driver.name} was measured on is not stated.`,
      'Its response is used as it is: moving it or changing the front alters neither edges nor baffle step.',
      'State what it was measured on.',
    ),
  ];
}

const withoutSize = (driver: Driver): Finding[] =>
  driver.sheet.sdCm2 !== null
    ? []
    : [
        doubt(
          driver.id,
          'cone_size_not_known',
          driver.name,
          `The cone area of ${driver.name} is not known; it counts as a point.`,
          'What it does off the axis can’t be modelled so.',
          'State its cone area.',
        ),
      ];

/** What a frame that stands proud, or a recess, does on the axis. */
interface StepEffect {
  readonly byDb: number;
  readonly atHz: number;
}

/** A step that changes less than this is not told, dB. */
export const tellStepFromDb = 0.5;

/**
 * How much it changes on the axis that a driver is not flush; null for one that is.
 *
 * @param frequencyHz where it is looked at
 */
export function createStepEffect(frequencyHz: Float64Array) {
  const bend = createBending(frequencyHz);
  return (design: Design, driver: Driver): StepEffect | null => {
    const placed = placedDriver(design, driver);
    const flat = placedDriver(design, {
      ...driver,
      mounting: { ...driver.mounting, kind: 'flush', byMm: 0 },
    });
    const { kind, byMm } = driver.mounting;
    if (!placed || !flat || kind === 'flush' || kind === 'waveguide' || byMm === 0) return null;
    const speed = speedOfSoundMps(design.airTemperatureC);
    const at = pointToward(headingOf(straight), design.listeningDistanceMm);
    const [now, flush] = [placed, flat].map((one) => levelDbOf(bend(one, speed).at(at)));
    return now.reduce<StepEffect>(
      (most, db, i) =>
        Math.abs(db - flush[i]) > Math.abs(most.byDb)
          ? { byDb: db - flush[i], atHz: frequencyHz[i] }
          : most,
      { byDb: 0, atHz: frequencyHz[0] },
    );
  };
}
