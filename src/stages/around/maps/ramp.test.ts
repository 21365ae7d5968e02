import { rampOf } from './ramp';

test('a ramp goes from its first colour to its last, in steps that look alike', () => {
  const ramp = rampOf(['#f4f1e6', '#0d4a40'], 11);
  expect([...ramp.slice(0, 3)]).toEqual([0xf4, 0xf1, 0xe6]);
  expect([...ramp.slice(30)]).toEqual([0x0d, 0x4a, 0x40]);
  // Luminance falls all the way.
  const luminance = Array.from({ length: 11 }, (_, k) => {
    const [r, g, b] = ramp.slice(3 * k, 3 * k + 3);
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  });
  luminance.slice(1).forEach((value, k) => expect(value).toBeLessThan(luminance[k]));
});

test('a ramp over three colours passes the middle one', () => {
  expect([...rampOf(['#000000', '#808080', '#ffffff'], 3).slice(3, 6)]).toEqual([128, 128, 128]);
});
