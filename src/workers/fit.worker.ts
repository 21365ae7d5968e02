import * as comlink from 'comlink';
import { roundedToSeries } from '@/core/fitting/buyable';
import { goalOf } from '@/core/fitting/goal';
import type { PartLimits } from '@/core/fitting/limits';
import type { Buyable } from '@/core/fitting/stock';
import { withFewerParts } from '@/core/fitting/fewer';
import { fitDesign, type FitState } from '@/core/fitting/fit';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { attempt } from './result';

const service = {
  fit: (
    design: Design,
    data: MeasurementData,
    limits: PartLimits,
    seed: number,
    starts: readonly number[],
    mayTurn: boolean,
    onBetter: (state: FitState) => void,
    onFollowed: () => void,
  ) =>
    attempt(() =>
      fitDesign(
        design,
        data,
        { seed, starts, mayTurn, onBetter, onFollowed },
        goalOf(design, limits),
      ),
    ),
  round: (
    design: Design,
    data: MeasurementData,
    series: Buyable,
    limits: PartLimits,
    onBetter: (state: FitState) => void,
  ) => attempt(() => roundedToSeries(design, data, { series, onBetter }, goalOf(design, limits))),
  omit: (design: Design, data: MeasurementData, worthDb: number, limits: PartLimits) =>
    attempt(() => withFewerParts(design, data, { worthDb }, goalOf(design, limits))),
};

export type FitService = typeof service;
comlink.expose(service);
