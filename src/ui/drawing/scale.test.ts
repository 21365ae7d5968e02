import { fitted, snapped } from './scale';

test('a box is fitted into its room by its tighter side, and pointers find the way back', () => {
  const box = { leftMm: -150, rightMm: 150, bottomMm: -520, topMm: 190 };
  const scale = fitted(box, { widthPx: 400, heightPx: 400, marginX: 50, marginY: 22.5 });
  expect(scale.pxPerMm).toBeCloseTo(0.5, 9);
  expect(scale.y(190) - scale.y(-520)).toBeCloseTo(-355, 9);
  expect(scale.x(0)).toBe(200);
  for (const mm of [-150, 3, 66.5]) {
    expect(scale.mmX(scale.x(mm))).toBeCloseTo(mm, 9);
    expect(scale.mmY(scale.y(mm))).toBeCloseTo(mm, 9);
  }
});

test('what is close to a line is drawn to it, else to whole millimetres', () => {
  expect(snapped(3.4, [0, 5], 4)).toBe(5);
  expect(snapped(2.2, [0, 5], 2.5)).toBe(0);
  expect(snapped(12.6, [0, 5], 4)).toBe(13);
});
