/** From the brief to a box, and from the box to a network that fits it: the demo, all through. */
import { allFree, readDemo } from '../fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { fitDesign, withFit } from '@/core/fitting/fit';
import type { BoxFound } from '@/core/lows/boxJudge';
import { searchBoxes } from '@/core/lows/search';
import { createPredictor } from '@/core/prediction/predict';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';

const { design: demo, data } = readDemo();

test('F3 and F10 of the demo are kept by a box that is found here, and the network fits afterwards', () => {
  const { brief } = demo;
  const search = searchBoxes(
    demo,
    demo.boxes[0],
    {
      ...{ kinds: ['sealed', 'vented'], f3Hz: brief.reach3Hz, f10Hz: brief.reach10Hz, humpDb: 1.5, mostOutlay: null },
      ...{ widthMm: brief.widthMm!, heightMm: brief.heightMm!, deepestMm: brief.depthMm! },
    },
    data,
  );
  let found: readonly BoxFound[] | null = null;
  while (!found) {
    const { done, value } = search.next();
    if (done) found = value;
  }
  const boxed = applyChange(demo, { type: 'setBox', box: { ...found[0].box, isUsed: true } });
  const free = allFree(boxed);
  const fitted = withFit(free, fitDesign(free, data, { seed: 1, starts: [0] }));
  const judged = judgedPromisesOf(fitted, createPredictor()(fitted, data));
  const kindOf = (kind: string) => judged.find(({ promise }) => promise.kind === kind)!.verdict.isKept;
  expect(Object.fromEntries(['reach-3', 'reach-10', 'on-axis', 'port-speed'].map((kind) => [kind, kindOf(kind)]))).toEqual({
    'reach-3': true,
    'reach-10': true,
    'on-axis': true,
    'port-speed': true,
  });
});
