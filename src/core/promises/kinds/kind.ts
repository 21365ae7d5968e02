import type { StageId } from '@/core/document/stageId';
import type { Yielding } from '@/core/document/briefSchema';
import type { DesignWithoutParts } from '@/core/document/withoutParts';
import type { Prediction } from '@/core/prediction/prediction';
import type { Dimension } from '@/core/units/quantity';
import type { DesignPromise } from '../promise';

/** What is always true of a kind of promise. */
export interface KindFacts {
  /** Short name for the strip. */
  readonly title: string;
  /** What is promised, for a sentence. */
  readonly meaning: string;
  /** Unit written after the figure. */
  readonly unit: string;
  readonly decimals: number;
  /** Side on which a figure of this kind is usually limited. */
  readonly side: 'atMost' | 'atLeast';
  /** Limit that a promise of this kind made by hand begins with. */
  readonly usual: number;
  /** How far from the limit the little scale of the strip reaches, in the unit. */
  readonly scale: number;
  /** Whether the promise is about a band of frequency. */
  readonly hasBand?: boolean;
  /** Whether it is about one direction. */
  readonly hasAngle?: boolean;
  /** Dimension of its limits where a field reads one. */
  readonly dimension: Dimension;
  /** Stage where the matter is mended. */
  readonly stage: StageId;
  /** How the figure is found: whoever needs it, verdict, fit or screen, takes it from here. */
  readonly measure: Measure;
  /** The promise of this kind that follows from a brief; null where nothing is asked. */
  derive?(design: DesignWithoutParts): Derived | null;
}

/** A limit that follows from a brief, before anything is changed by hand. */
export interface Derived {
  readonly limit: number;
  readonly answers: readonly string[];
  readonly arithmetic: string;
  /** What must give way for it; null for what does not. */
  readonly yields: Yielding | null;
}

/** A figure and where it was found, or what is missing for it, as "needs …" goes on. */
export type Found =
  | {
      readonly value: number;
      readonly atHz?: number | null;
      /** What it rests on besides measurements, as “…, modelled off the axis”. */
      readonly basis?: string;
    }
  | { readonly needs: string };

export type Measure = (prediction: Prediction | null, promise: DesignPromise) => Found;

export const noLevel: Found = { needs: 'a response in this band' };
const needsDrivers: Found = { needs: 'drivers' };

/** A kind whose inputs no stage makes yet. */
export const waitsFor =
  (needs: string): Measure =>
  () => ({ needs });

/** A figure of what was predicted; without drivers there is none. */
export const ofPrediction =
  (measure: (prediction: Prediction, promise: DesignPromise) => Found): Measure =>
  (prediction, promise) =>
    prediction && prediction.ways.length > 0 ? measure(prediction, promise) : needsDrivers;

type Sum = NonNullable<Prediction['sum']>;

/** The same of the sum on the axis. */
export const ofSum = (
  measure: (sum: Sum, prediction: Prediction, promise: DesignPromise) => Found,
): Measure =>
  ofPrediction((prediction, promise) =>
    prediction.sum ? measure(prediction.sum, prediction, promise) : needsDrivers,
  );
