import type { DesignWithoutParts } from '@/core/document/withoutParts';
import { deviationDb } from '@/core/prediction/figures';
import type { OffAxisLevel, Prediction, SpinLevels } from '@/core/prediction/prediction';
import { lineThrough, straightnessDb } from '@/core/prediction/straightness';
import type { RadiationSource } from '@/core/radiation/direction';
import { formatNumber } from '@/core/units/quantity';
import type { DesignPromise } from '@/core/promises/promise';
import { noLevel, ofSum, type Found, type KindFacts } from './kind';
import { asked } from './response';

const needsOffAxis: Found = { needs: 'off-axis responses of all drivers (Bench)' };
const isComing: Found = { needs: 'a moment: it is being worked out' };

/** The same where seats are to the sides of the axis. */
const askedAround = ({ brief }: DesignWithoutParts) =>
  brief.spreadDeg === null ? null : asked(brief);

const withBasis = (found: Found, source: RadiationSource): Found =>
  'needs' in found || source !== 'modelled' ? found : { ...found, basis: 'modelled off the axis' };

/** What all kinds off the axis share. */
const shared = {
  unit: 'dB',
  decimals: 1,
  side: 'atMost',
  scale: 3,
  hasBand: true,
  dimension: 'decibel',
  stage: 'around',
} as const;

const bandIn = ({ conditions: { target }, band }: DesignPromise) => band ?? target;

/** How far a level strays from the target. */
const overTarget = (
  { frequencyHz }: Prediction,
  { levelDb, source }: OffAxisLevel,
  promise: DesignPromise,
): Found =>
  withBasis(
    deviationDb(frequencyHz, levelDb, promise.conditions.target, bandIn(promise)) ?? noLevel,
    source,
  );

/** A figure of a mean over the sphere. */
const ofSpin = (
  measure: (spin: SpinLevels, prediction: Prediction, promise: DesignPromise) => Found,
) =>
  ofSum((_, prediction, promise) => {
    const { spin, due } = prediction.offAxis;
    if (spin) return withBasis(measure(spin, prediction, promise), spin.source);
    return due ? isComing : needsOffAxis;
  });

/** How far a mean strays from a straight line of any slope. */
const overLine = (levelOf: (spin: SpinLevels) => Float64Array) =>
  ofSpin(
    (spin, { frequencyHz }, promise) =>
      straightnessDb(frequencyHz, levelOf(spin), bandIn(promise)) ?? noLevel,
  );

export const window: KindFacts = {
  ...shared,
  title: 'Window',
  meaning: 'Response in the listening window',
  usual: 2.5,
  measure: ofSum((_, prediction, promise) => {
    const { window: level, due } = prediction.offAxis;
    if (level) return overTarget(prediction, level, promise);
    return due ? isComing : needsOffAxis;
  }),
  derive(design) {
    const said = askedAround(design);
    return (
      said && {
        ...said,
        limit: said.limit + 0.5,
        answers: [...said.answers, 'spread of the seats'],
        arithmetic: `Seats spread ±${formatNumber(design.brief.spreadDeg!)}°, so the window counts: half a decibel more than on axis.`,
      }
    );
  },
};

export const directivity: KindFacts = {
  ...shared,
  title: 'Directivity',
  meaning: 'Directivity index of the sound power off a straight line over log frequency',
  usual: 2,
  measure: overLine(({ soundPowerIndex }) => soundPowerIndex),
  derive: (design) =>
    askedAround(design) && {
      limit: 2,
      answers: ['spread of the seats'],
      arithmetic:
        'Seats off the axis get a flat response only where directivity does not jump: ±2 dB off a straight line (common practice).',
      yields: 'evenness',
    },
};

export const directivitySlope: KindFacts = {
  ...shared,
  title: 'DI slope',
  meaning: 'Slope of the directivity index over its band',
  unit: 'dB/oct',
  decimals: 2,
  usual: 1.2,
  scale: 1,
  dimension: 'slope',
  measure: ofSpin(({ soundPowerIndex }, { frequencyHz }, promise) => {
    const line = lineThrough(frequencyHz, soundPowerIndex, bandIn(promise));
    return line ? { value: line.dbPerOctave } : noLevel;
  }),
};

export const soundPower: KindFacts = {
  ...shared,
  title: 'Sound power',
  meaning: 'Sound power off a straight line over log frequency',
  usual: 2,
  measure: overLine(({ soundPower: level }) => level),
};

export const inRoom: KindFacts = {
  ...shared,
  title: 'In the room',
  meaning: 'Predicted in-room response off a straight line over log frequency',
  usual: 1.5,
  measure: overLine(({ inRoom: level }) => level),
};

/** The worst of some places. */
function worstOf(
  prediction: Prediction,
  promise: DesignPromise,
  ids: readonly string[],
  missing: Found,
): Found {
  const { places, due } = prediction.offAxis;
  const heard = places.filter(({ id }) => ids.includes(id));
  if (heard.length === 0) return due ? isComing : missing;
  return heard
    .map((place) => overTarget(prediction, place, promise))
    .reduce((worst, found) =>
      'needs' in worst || ('value' in found && found.value > worst.value) ? found : worst,
    );
}

export const seats: KindFacts = {
  ...shared,
  title: 'Seats',
  meaning: 'Direct sound at the worst seat of the brief, against the target',
  usual: 3,
  measure: ofSum((_, prediction, promise) => {
    const ids = promise.conditions.seats.map(({ id }) => id);
    return ids.length === 0
      ? { needs: 'distances of the seats (Brief)' }
      : worstOf(prediction, promise, ids, needsOffAxis);
  }),
};

export const angle: KindFacts = {
  ...shared,
  title: 'Angle',
  meaning: 'Response in one direction, against the target',
  usual: 3,
  hasAngle: true,
  measure: ofSum((_, prediction, promise) =>
    promise.angle
      ? worstOf(prediction, promise, [promise.id], needsOffAxis)
      : { needs: 'its angle' },
  ),
};
