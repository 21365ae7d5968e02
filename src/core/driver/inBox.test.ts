import { measuredInBox } from './inBox';

const sheet = { fsHz: 28, qms: 4, qes: 0.4, vasLitres: 140 };

test('a woofer in its closed box is known by fs and Q rising together, and tells the box', () => {
  // α = 140/70 = 2: fs and Q rise by √3 (Small 1972).
  const by = Math.sqrt(3);
  const found = measuredInBox({ fsHz: 28 * by, qms: 4 * by, qes: 0.4 * by }, sheet)!;
  expect(found.ratio).toBeCloseTo(by, 12);
  expect(found.litres).toBeCloseTo(70, 9);
  expect(
    measuredInBox({ fsHz: 28 * by, qms: 4, qes: 0.4 * by }, { ...sheet, vasLitres: null }),
  ).toEqual({
    ratio: by,
    litres: null,
  });
});

test('another fs alone, scatter, or missing figures are no box', () => {
  expect(measuredInBox({ fsHz: 47, qms: 4, qes: 0.4 }, sheet)).toBeNull();
  expect(measuredInBox({ fsHz: 31, qms: 4.3, qes: 0.44 }, sheet)).toBeNull();
  expect(measuredInBox({ fsHz: 20, qms: 3, qes: 0.3 }, sheet)).toBeNull();
  expect(measuredInBox({ fsHz: null, qms: null, qes: null }, sheet)).toBeNull();
  expect(measuredInBox({ fsHz: 48, qms: 6, qes: 0.7 }, { ...sheet, fsHz: null })).toBeNull();
});
