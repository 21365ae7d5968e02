import * as comlink from 'comlink';
import {
  createExploration,
  tryNetwork,
  type Effort,
  type Exploration,
} from '@/core/fitting/explore';
import type { SearchLimits } from '@/core/fitting/limits';
import type { NetworkRecipe } from '@/core/fitting/grammar';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design, Way } from '@/core/document/schema';
import { attempt } from './result';

let exploration: Exploration | null = null;

const service = {
  begin: (design: Design, data: MeasurementData, limits: SearchLimits) =>
    attempt(() => {
      exploration = createExploration(design, data, limits);
      return exploration.outlines.length;
    }),
  tryOne: (recipe: NetworkRecipe, effort: Effort, from: readonly Way[] | null) =>
    tryNetwork(exploration!, recipe, effort, from),
};

export type ExploreService = typeof service;
comlink.expose(service);
