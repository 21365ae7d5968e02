import type { WayTarget } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { denominator, prototypeLevel, prototypeTransfer } from './prototypes';

/** Further under its passband than this, a way's target counts no more. */
const countedDb = -24;

/** Shape that a way's response is to have, dB against its passband. */
export function wayTargetDb(
  { highPass, lowPass }: WayTarget,
  frequencyHz: Float64Array,
): Float64Array {
  const slopes = [
    { slope: highPass, isHighPass: true },
    { slope: lowPass, isHighPass: false },
  ].flatMap(({ slope, isHighPass }) =>
    slope
      ? [{ polynomial: denominator(slope.alignment, slope.order), hz: slope.hz, isHighPass }]
      : [],
  );
  return frequencyHz.map((hz) =>
    slopes.reduce(
      (db, { polynomial, hz: corner, isHighPass }) =>
        db + 20 * Math.log10(prototypeLevel(polynomial, hz / corner, isHighPass)),
      0,
    ),
  );
}

/** Transfer of a filter that has the slopes of a target by itself. */
export function wayTargetTransfer(
  { highPass, lowPass }: WayTarget,
  frequencyHz: Float64Array,
): GridSpectrum {
  const re = new Float64Array(frequencyHz.length).fill(1);
  const im = new Float64Array(frequencyHz.length);
  for (const slope of [highPass, lowPass]) {
    if (!slope) continue;
    const polynomial = denominator(slope.alignment, slope.order);
    for (let i = 0; i < re.length; i++) {
      const one = prototypeTransfer(polynomial, frequencyHz[i] / slope.hz, slope === highPass);
      const x = re[i] * one.re - im[i] * one.im;
      im[i] = re[i] * one.im + im[i] * one.re;
      re[i] = x;
    }
  }
  return { re, im };
}

/** A way's target is in its passband down to here. */
const passbandDb = -3;

/**
 * What a way's network takes from its driver: its mean loss in dB where its target is in its
 * passband, or its least loss within the band of the whole when it has none.
 *
 * @param transferDb level of the driver's voltage over the amplifier's
 * @returns null when nothing of the passband is in the band
 */
export function wayLossDb(
  transferDb: Float64Array,
  frequencyHz: Float64Array,
  target: WayTarget | null,
  band: { readonly fromHz: number; readonly toHz: number },
): number | null {
  const shape = target && wayTargetDb(target, frequencyHz);
  const places = [...frequencyHz.keys()].filter(
    (i) =>
      frequencyHz[i] >= band.fromHz &&
      frequencyHz[i] <= band.toHz &&
      Number.isFinite(transferDb[i]) &&
      (!shape || shape[i] >= passbandDb),
  );
  if (places.length === 0) return null;
  return shape
    ? -places.reduce((sum, i) => sum + transferDb[i] - shape[i], 0) / places.length
    : -Math.max(...places.map((i) => transferDb[i]));
}

/** On a side that is free, a target counts so far beyond the corner of the other. */
const freeFactor = 4;

/** Numbers of the frequencies at which a way's target counts, within the band of the whole. */
export function countedPlaces(
  { highPass, lowPass }: WayTarget,
  shapeDb: Float64Array,
  frequencyHz: Float64Array,
  band: { readonly fromHz: number; readonly toHz: number },
): Int32Array {
  const from = highPass || !lowPass ? band.fromHz : Math.max(band.fromHz, lowPass.hz / freeFactor);
  const to = lowPass || !highPass ? band.toHz : Math.min(band.toHz, highPass.hz * freeFactor);
  return Int32Array.from(
    [...shapeDb.keys()].filter(
      (i) => shapeDb[i] >= countedDb && frequencyHz[i] >= from && frequencyHz[i] <= to,
    ),
  );
}

/** How a way follows its target. */
interface WayTargetError {
  /** The target at the level at which it fits best. */
  readonly targetDb: Float64Array;
  readonly rmsDb: number;
  readonly worst: { readonly db: number; readonly atHz: number };
  /** Half the height of the band that it stays in around its target, and where it is worst. */
  readonly within: { readonly value: number; readonly atHz: number };
}

/** @returns null when nothing of the way is heard where its target counts */
export function wayTargetError(
  levelDb: Float64Array,
  frequencyHz: Float64Array,
  target: WayTarget,
  band: { readonly fromHz: number; readonly toHz: number },
): WayTargetError | null {
  const shape = wayTargetDb(target, frequencyHz);
  const places = countedPlaces(target, shape, frequencyHz, band).filter((i) =>
    Number.isFinite(levelDb[i]),
  );
  if (places.length === 0) return null;
  const mean = places.reduce((sum, i) => sum + levelDb[i] - shape[i], 0) / places.length;
  const error = (i: number) => levelDb[i] - shape[i] - mean;
  const worst = places.reduce((most, i) => (Math.abs(error(i)) > Math.abs(error(most)) ? i : most));
  const errors = places.reduce(
    ([low, high], i) => [Math.min(low, error(i)), Math.max(high, error(i))],
    [0, 0],
  );
  return {
    within: { value: (errors[1] - errors[0]) / 2, atHz: frequencyHz[worst] },
    targetDb: shape.map((db) => db + mean),
    rmsDb: Math.sqrt(places.reduce((sum, i) => sum + error(i) ** 2, 0) / places.length),
    worst: { db: error(worst), atHz: frequencyHz[worst] },
  };
}
