import { seeded } from '@/core/spectrum/noise';
import { added, bandPass, delayed, measured } from '../../../tests/responses';
import { depthOffset } from './depthOffset';

const speed = 343.2;
const tails = { belowDbPerOctave: 12, aboveDbPerOctave: -12 };
const a = bandPass(10, 60, 3500);
const b = bandPass(8, 900, 9000);
const withNoise = (samples: ReturnType<typeof measured>, db: number, seed: number) => {
  const { gaussian } = seeded(seed);
  return { ...samples, magnitude: samples.magnitude.map((level) => level + db * gaussian()) };
};

test.each([-35, 0, 23, 60])('an offset of %d mm is found in noise of 0.1 dB', (mm) => {
  const sum = measured(added(a, delayed(b, mm / 1000 / speed)));
  const found = depthOffset(
    { samples: withNoise(measured(a), 0.1, 1), tails },
    { samples: withNoise(measured(b), 0.1, 2), tails },
    withNoise(sum, 0.1, 3),
    speed,
  );
  expect(Math.abs(found.offsetMm - mm)).toBeLessThan(0.5);
  expect(found.standardErrorMm).toBeGreaterThan(0.02);
  expect(found.standardErrorMm).toBeLessThan(0.5);
  expect(found.isAmbiguous).toBe(false);
  expect(found.isReversed).toBe(false);
  expect(found.landscape).toHaveLength(401);
});

test('one driver wired the other way round is noticed, and the offset is still right', () => {
  const turned = (hz: number) => {
    const [re, im] = delayed(b, 0.02 / speed)(hz);
    return [-re, -im] as const;
  };
  const found = depthOffset(
    { samples: measured(a), tails },
    { samples: measured(b), tails },
    measured(added(a, turned)),
    speed,
  );
  expect(found.isReversed).toBe(true);
  expect(found.offsetMm).toBeCloseTo(20, 0);
});

test('a narrow overlap is periodic: the other candidates are named', () => {
  const narrow = depthOffset(
    { samples: withNoise(measured(a), 0.3, 1), tails },
    { samples: withNoise(measured(b), 0.3, 2), tails },
    withNoise(measured(added(a, delayed(b, 0.02 / speed))), 0.3, 3),
    speed,
    { fromHz: 2700, toHz: 3300 },
  );
  expect(narrow.isAmbiguous).toBe(true);
  const spacing = Math.abs(narrow.alternatives[0].offsetMm - narrow.offsetMm);
  expect(Math.abs(spacing - 114) < 8 || spacing < 60).toBe(true);
});

test('drivers that do not overlap are refused', () => {
  const quiet = measured(bandPass(1e-5, 900, 9000));
  expect(() =>
    depthOffset({ samples: measured(a), tails }, { samples: quiet, tails }, measured(a), speed),
  ).toThrow('within 20 dB');
});
