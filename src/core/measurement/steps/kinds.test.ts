import { logGrid } from '@/core/grid/logGrid';
import { nearDistanceShare, nearFieldTopHz } from '../splice';
import { firstStep } from './kinds';

const hz = logGrid(20, 20_000, 12);
const samples = { frequencyHz: hz, magnitude: hz.map(() => 80), phaseDeg: null };
const others = [
  { id: 'b'.repeat(32), name: 'Woofer' },
  { id: 'c'.repeat(32), name: 'woofer near field' },
];

test('a near field begins with the driver’s radius, the baffle’s width, and a join under ka = 1', () => {
  const step = firstStep('splice', samples, { others, sdCm2: 335, widthMm: 300 });
  // √(335 cm²/π) = 103 mm; c/(2π·0.103 m) = 530 Hz, so the usual 300 Hz stay.
  expect(step).toMatchObject({
    nearId: 'c'.repeat(32),
    radiusMm: 103,
    atHz: 300,
    stepWidthMm: 300,
  });
  // 195 mm: 280 Hz.
  expect(firstStep('splice', samples, { others, sdCm2: 1200, widthMm: null })).toMatchObject({
    radiusMm: 195,
    atHz: 280,
    stepWidthMm: null,
  });
  expect(firstStep('splice', samples, { others, sdCm2: null, widthMm: null })).toMatchObject({
    radiusMm: 100,
  });
});

test('Keele’s limits: the microphone within 0.11 of the radius, the shape up to ka = 1', () => {
  expect(nearDistanceShare * 100).toBeCloseTo(11, 9);
  expect(nearFieldTopHz(100)).toBeCloseTo(343.2 / (2 * Math.PI * 0.1), 0);
});
