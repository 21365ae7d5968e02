import * as comlink from 'comlink';
import { createExploration, tryNetwork } from '@/core/exploration/explore';
import { type Effort, type Exploration, type Try } from '@/core/exploration/found';
import type { SearchLimits } from '@/core/fitting/limits';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { attempt } from './result';

let exploration: Exploration | null = null;

const service = {
  begin: (design: Design, data: MeasurementData, limits: SearchLimits) =>
    attempt(() => {
      exploration = createExploration(design, data, limits);
      return exploration.outlines.length;
    }),
  tryOne: (wish: Try, effort: Effort) => tryNetwork(exploration!, wish, effort),
};

export type ExploreService = typeof service;
comlink.expose(service);
