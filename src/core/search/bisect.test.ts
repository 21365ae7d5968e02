import { bisect } from './bisect';

describe('bisect', () => {
  it.each([
    ['rising', (x: number) => x * x - 2, 0, 2, Math.SQRT2],
    ['falling', (x: number) => Math.cos(x), 0, 3, Math.PI / 2],
    ['between ends in either order', (x: number) => x - 1, 5, 0, 1],
    ['at an end', (x: number) => x, -1, 0, 0],
  ])('finds a zero of what is %s', (_name, of, low, high, wanted) => {
    expect(bisect(of, low, high)).toBeCloseTo(wanted, 12);
  });

  it('refuses ends of the same sign', () => {
    expect(() => bisect((x) => x * x + 1, -1, 1)).toThrow('same sign at -1 and 1');
  });
});
