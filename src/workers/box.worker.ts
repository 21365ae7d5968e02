import * as comlink from 'comlink';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { builtBoxOf } from '@/core/lows/builtBox';
import type { BoxFinding } from '@/core/lows/findings/finding';
import { boxFindings } from '@/core/lows/findings/findings';
import type { BoxWish } from '@/core/lows/boxJudge';
import { searchBoxes, type BoxSearchProgress } from '@/core/lows/search';
import { createBoxViews, type BoxViews } from '@/core/lows/view';
import type { Samples } from '@/core/measurement/samples';
import { attempt } from './result';
import { toldRun } from './toldRun';

const viewsOf = createBoxViews();
const data = new Map<string, Samples>();

/** What is looked at, and what is found about the first of it. */
export interface BoxesLookedAt extends BoxViews {
  readonly findings: readonly BoxFinding[];
}

const service = {
  load(id: string, samples: Samples): void {
    data.set(id, samples);
  },
  /** Curves and figures of boxes, and findings about the first. */
  look: (design: Design, boxes: readonly Box[]) =>
    attempt((): BoxesLookedAt => {
      const views = viewsOf(design, boxes, data);
      const [box] = boxes;
      return {
        ...views,
        findings: box ? boxFindings(design, box, views, views.views[0]) : [],
      };
    }),
  built: (design: Design, box: Box, portMm: number, impedance: Samples) =>
    attempt(() => builtBoxOf(design, box, portMm, impedance, data)),
  /** Runs to its end; ended by ending the worker. */
  search: (design: Design, like: Box, wish: BoxWish, tell: (now: BoxSearchProgress) => void) =>
    attempt(() => toldRun(searchBoxes(design, like, wish, data), tell)),
};

export type BoxService = typeof service;
comlink.expose(service);
