import * as comlink from 'comlink';
import { roundedToSeries, type Buyable } from '@/core/fitting/buyable';
import { fitDesign, type FitState } from '@/core/fitting/fit';
import type { MeasurementData } from '@/core/design/predict';
import type { Design } from '@/core/design/schema';
import { attempt } from './result';

const service = {
  fit: (
    design: Design,
    data: MeasurementData,
    seed: number,
    starts: readonly number[],
    onBetter: (state: FitState) => void,
    onFollowed: () => void,
  ) => attempt(() => fitDesign(design, data, { seed, starts, onBetter, onFollowed })),
  round: (
    design: Design,
    data: MeasurementData,
    series: Buyable,
    onBetter: (state: FitState) => void,
  ) => attempt(() => roundedToSeries(design, data, { series, onBetter })),
};

export type FitService = typeof service;
comlink.expose(service);
