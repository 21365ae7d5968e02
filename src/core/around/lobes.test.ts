import { logGrid } from '@/core/grid/logGrid';
import { lobesOf } from './lobes';
import { orbitDegrees, type AroundView } from './orbits';

const frequencyHz = logGrid(500, 4000, 3);
const degrees = orbitDegrees(5);

/** Two points above each other that sum on the axis, as a vertical orbit. */
function pair(spacingM: number, isQuiet = false): AroundView {
  const levelDb = new Float32Array(degrees.length * frequencyHz.length);
  degrees.forEach((angle, a) =>
    frequencyHz.forEach((hz, i) => {
      const half = (Math.PI * hz * spacingM * Math.sin((angle * Math.PI) / 180)) / 343;
      const size = isQuiet ? 0.8 + 0.2 * Math.cos(half) : Math.abs(Math.cos(half));
      levelDb[a * frequencyHz.length + i] = 90 + 20 * Math.log10(Math.max(1e-3, size));
    }),
  );
  const orbit = {
    plane: 'vertical' as const,
    degrees,
    levelDb,
    sources: [],
    beamWidthDeg: frequencyHz,
  };
  return { frequencyHz, orbits: { vertical: orbit, horizontal: orbit } } as unknown as AroundView;
}

test('two points cancel where their paths differ by half a wave', () => {
  // 0.2 m at 2 kHz: sin θ = λ/2d = 0.429, 25.4°.
  const [lobe] = lobesOf(pair(0.2), [{ atHz: 2000 }]);
  expect([lobe.above!.degrees, lobe.below!.degrees]).toEqual([25, -25]);
  expect(lobe.above!.db).toBeLessThan(-20);
  // Nearer together, or lower, the null moves out.
  const [low] = lobesOf(pair(0.2), [{ atHz: 1250 }]);
  expect(low.above!.degrees).toBe(45);
});

test('what is less than 6 dB down is no null, and beyond 60° none is looked for', () => {
  expect(lobesOf(pair(0.2, true), [{ atHz: 2000 }])[0]).toMatchObject({ above: null, below: null });
  expect(lobesOf(pair(0.1), [{ atHz: 1600 }])[0]).toMatchObject({ above: null, below: null });
});
