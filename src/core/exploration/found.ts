import type { SearchLimits } from '@/core/fitting/limits';
import type { Predictor } from '@/core/prediction/predict';
import type { NetworkReport } from './report';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Goal } from '@/core/fitting/goal';
import type { FitInputs } from '@/core/fitting/inputs';
import type { FitFigures } from '@/core/fitting/fitFigures';
import type { Design, Way } from '@/core/document/schema';
import type { Ancestor, DriverOutline, NetworkRecipe } from '@/core/filters/grammar';
/** A network that was found, with its values. */
export interface FoundNetwork {
  readonly recipe: NetworkRecipe;
  readonly emphasis: Emphasis;
  readonly ways: readonly Way[];
  readonly partCount: number;
  /** Deviation on axis, and decibels over limits times what they cost. */
  readonly merit: number;
  readonly figures: FitFigures;
  /** What parts within ±5 % of their values make of the response on axis, rms dB. */
  readonly scatterDb: number;
  /**
   * Share of builds from parts within the tolerance of the search that keep every promise which the
   * network keeps; null until it was finished.
   */
  readonly keptShare: number | null;
  /** Each way in words. */
  readonly words: readonly string[];
  /**
   * Set when one of its parts does nothing or ends where a search may not go on: it is a smaller network,
   * and makes way for that.
   */
  readonly hasIdlePart?: true;
  /** Its verdicts and crossovers; null until it was finished. */
  readonly report: NetworkReport | null;
  /** Whether its values are such as one can have. */
  readonly isOfStock: boolean;
}

/**
 * How much work a network is worth: a first look, a step of growth, a fit to its end, or values that
 * one can have.
 */
export type Effort = 'look' | 'grow' | 'finish' | 'stock';

/** Everything that trying networks needs. Made once for a design. */
export interface Exploration {
  readonly design: Design;
  readonly data: MeasurementData;
  readonly goal: Goal;
  readonly outlines: readonly DriverOutline[];
  readonly limits: SearchLimits;
  readonly inputs: Readonly<Record<'look' | 'fit' | 'last', FitInputs>>;
  /** On the grid of a fit, and on that by which designs are judged. */
  readonly predictors: Readonly<Record<'fit' | 'last', Predictor>>;
}

/** A network to be tried, from the textbook's values or from some that were found. */
export interface Try {
  readonly recipe: NetworkRecipe;
  readonly from: Ancestor | null;
  readonly emphasis: Emphasis;
  /** Merit above which a valley is not worth being settled in: others of its size are far below. */
  readonly bar: number | null;
}

/**
 * What a network is finished for. The same parts make different networks: with the low end as a
 * limit like any other, or left to the box; and with the response on axis before the phase of the
 * ways, which small networks can't have both.
 */
export type Emphasis = 'usual' | 'lows' | 'axis';
