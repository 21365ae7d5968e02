/** npm run bench: diffraction and layout. */
import { micro, say, timings } from './told';
import { createBaffleDiffraction } from '@/core/baffle/diffraction/baffleDiffraction';
import { observerAt, type Plane } from '@/core/baffle/diffraction/observer';
import { rectangle, sharpEdge, type BaffleShape } from '@/core/baffle/shape';
import { searchPlaces } from '@/core/layout/placeSearch';
import { createBaffleViews } from '@/core/layout/view';
import { logGrid } from '@/core/grid/logGrid';
import { applyChange } from '@/core/editing/applyChange';
import { readDemo } from '../../tests/fixtures';

/** A driver that is dragged over a sharp box, and both its orbits. */
export function benchDiffraction(): void {
  const grid = logGrid(20, 20_000, 24);
  const shape: BaffleShape = {
    outline: rectangle(0.3, 0.71),
    edges: [sharpEdge, sharpEdge, sharpEdge, sharpEdge],
    depthM: 0.3,
  };
  let at = 0;
  const placed = () => ({ x: 0.1 + 1e-5 * (at++ % 1000), y: 0.6, radiusM: 0.0125 });
  const on = (angle: number, plane: Plane) => observerAt(placed(), plane, angle, 'far');
  const onAxis = timings(
    () => createBaffleDiffraction(shape, placed(), grid, 343).toward(on(0, 'H')),
    200,
  );
  const box = createBaffleDiffraction(shape, placed(), grid, 343);
  const orbits = timings(() => {
    for (const plane of ['H', 'V'] as const)
      for (let angle = -180; angle < 180; angle += 10) box.toward(on(angle, plane));
  }, 10);
  say(
    `diffraction of a box on axis, ${grid.length} points, from a new place, median / 95 %`,
    `${micro(onAxis.medianMs)} / ${micro(onAxis.p95Ms)}`,
  );
  say('  both orbits, 72 angles', micro(orbits.medianMs));
  benchLayout();
}

/** The demo's tweeter dragged over its front: what the screen asks for; and a search for places. */
function benchLayout(): void {
  const { design } = readDemo();
  const viewOf = createBaffleViews();
  let at = 0;
  const dragged = () =>
    applyChange(design, {
      type: 'editDriver',
      id: 'tweeter',
      set: { position: { xMm: 0.01 * (at++ % 1000), yMm: 66, zMm: -4 } },
    });
  const view = (degrees: readonly number[]) =>
    timings(
      () =>
        viewOf(dragged(), {
          driverId: 'tweeter',
          directions: degrees.map((one) => ({ plane: 'horizontal', degrees: one })),
          atHz: 1000,
        }),
      100,
    );
  say('  what the screen shows of a dragged driver: axis and edges', micro(view([]).medianMs));
  say('  the same with four angles', micro(view([0, 30, 60, 90]).medianMs));
  const began = performance.now();
  const search = searchPlaces(design, {
    panelId: 'front',
    movable: design.drivers.map(({ id }) => id),
    bands: new Map(),
    narrowestMm: 280,
    widestMm: 340,
    largestRadiusMm: 25,
  });
  for (;;) {
    const { done, value } = search.next();
    if (!done) continue;
    say(
      '  search for places: three drivers, four widths, two radii',
      `${((performance.now() - began) / 1000).toFixed(1)} s, ${value.before.meritDb.toFixed(2)} to ${value.best.meritDb.toFixed(2)} dB rms`,
    );
    break;
  }
}
