/** npm run bench: boxes. */
import { logGrid } from '@/core/grid/logGrid';
import { behindResistance } from '@/core/box/source';
import { boxCurves } from '@/core/box/response';
import { searchBoxes } from '@/core/lows/search';
import { createBoxViews } from '@/core/lows/view';
import { applyChange } from '@/core/editing/applyChange';
import { usualAir, type BoxDriver, type Enclosure, type Port } from '@/core/box/enclosure';
import { readDemo } from '../../tests/fixtures';
import { micro, say, timings } from './told';

/** One driver in a box, everything that is worked out of it. */
export function benchBox(): void {
  const grid = logGrid(10, 1000, 36).slice(0, 240);
  const source = behindResistance(2.83, 0.3, grid.length);
  const driver: BoxDriver = {
    ...{ fsHz: 32, qms: 4.5, qes: 0.42, vasM3: 0.08, sdM2: 0.033, reOhm: 5.7, leHenry: 0.9e-3 },
    second: { henry: 0.5e-3, ohm: 8 },
  };
  const port: Port = {
    ...{ count: 1, diameterM: 0.07, lengthM: 0.12, qp: 80 },
    ends: ['flanged', 'free'],
  };
  const segments = Array.from({ length: 8 }, () => ({
    ...{ lengthM: 0.2, areaM2: 0.02, flowResistivity: 500 },
  }));
  const boxes: readonly Enclosure[] = [
    { kind: 'sealed', volumeM3: 0.045, ql: 20, qa: 30 },
    { kind: 'vented', volumeM3: 0.045, ql: 7, qa: 50, port },
    { kind: 'line', segments, driverAtM: 0.5, end: 'open' },
  ];
  for (const enclosure of boxes) {
    const system = { driver, enclosure, air: usualAir };
    const { medianMs, p95Ms } = timings(() => boxCurves(system, source, grid), 400);
    say(
      `box, ${enclosure.kind}, ${grid.length} points, median / 95 %`,
      `${micro(medianMs)} / ${micro(p95Ms)}`,
    );
  }
  benchBoxSearch();
}

/** The demo's box: what the screen asks for while a wall is dragged, and a search over two kinds. */
function benchBoxSearch(): void {
  const { design, data } = readDemo();
  const [box] = design.boxes;
  const viewsOf = createBoxViews();
  let at = 0;
  const dragged = timings(() => {
    const shell = { ...box.shell, depthMm: 380 + 0.01 * (at++ % 1000) };
    const moved = { ...box, shell };
    viewsOf(applyChange(design, { type: 'setBox', box: moved }), [moved], data);
  }, 40);
  say('  what the screen shows of a dragged box', micro(dragged.medianMs));
  const began = performance.now();
  const search = searchBoxes(
    design,
    box,
    {
      ...{ kinds: ['sealed', 'vented'], f3Hz: 48, f10Hz: 32, humpDb: 1.5, mostOutlay: null },
      ...{ widthMm: 300, heightMm: 710, deepestMm: 380 },
    },
    data,
  );
  while (!search.next().done);
  say('  search over two kinds (aim: 2 s)', `${((performance.now() - began) / 1000).toFixed(2)} s`);
}
