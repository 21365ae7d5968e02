import type { Prediction } from '@/core/prediction/prediction';
import type { Design } from '@/core/document/schema';
import type { Consequence } from './consequence';
import { crossingConsequences } from './crossing';
import { levelConsequences } from './levels';
import { loadConsequences } from './load';
import { enclosureOptions, wayOptions, type Option } from './options';
import { spacingConsequences } from './spacing';
import { tradeConsequences } from './trade';

/** What a brief means, as far as it was answered. */
export interface Meaning {
  readonly loudness: readonly Consequence[];
  readonly trade: readonly Consequence[];
  readonly load: readonly Consequence[];
  readonly crossing: readonly Consequence[];
  readonly spacing: readonly Consequence[];
  readonly enclosures: readonly Option[];
  readonly ways: readonly Option[];
}

/**
 * Works out what the answers mean. Figures come from the prediction where there is one, else from
 * data sheets, else from usual values that are named as such.
 */
export function meaningOf(design: Design, prediction: Prediction | null): Meaning {
  return {
    loudness: levelConsequences(design, prediction),
    trade: tradeConsequences(design),
    load: loadConsequences(design, prediction),
    crossing: crossingConsequences(design),
    spacing: spacingConsequences(design, prediction),
    enclosures: enclosureOptions(design),
    ways: wayOptions(design),
  };
}
