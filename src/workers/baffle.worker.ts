import * as comlink from 'comlink';
import type { Design } from '@/core/document/schema';
import { createLayoutStudy } from '@/core/layout/study';
import { searchPlaces, type PlaceProgress, type PlaceWish } from '@/core/layout/placeSearch';
import { createBaffleViews } from '@/core/layout/view';
import type { Prediction } from '@/core/prediction/prediction';
import { attempt } from './result';
import { toldRun } from './toldRun';

const viewOf = createBaffleViews();
const studyOf = createLayoutStudy();

const service = {
  /** What a baffle does to one of its drivers; a front that can't be worked out is a problem. */
  view: (...args: Parameters<typeof viewOf>) => attempt(() => viewOf(...args)),
  study: (design: Design, prediction: Prediction | null) =>
    attempt(() => studyOf(design, prediction)),
  /** Runs to its end; ended by ending the worker. */
  search: (design: Design, wish: PlaceWish, tell: (progress: PlaceProgress) => void) =>
    attempt(() => toldRun(searchPlaces(design, wish), tell)),
};

export type BaffleService = typeof service;
comlink.expose(service);
