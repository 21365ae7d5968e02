/** Directivity of a rigid piston against scipy's Bessel functions: see piston/SOURCE.md. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { besselJ1, pistonDirectivity } from '@/core/radiation/piston';

const [head, ...rows] = readFileSync(join(import.meta.dirname, 'piston/directivity.csv'), 'utf8')
  .trim()
  .split('\n')
  .map((line) => line.split(','));

test.each(head.slice(1).map((name, column) => [name, column + 1] as const))(
  '%s: every angle to 1e-12',
  (name, column) => {
    const ka = Number(name.replace('ka_', ''));
    for (const row of rows) {
      const x = ka * Math.sin((Number(row[0]) * Math.PI) / 180);
      expect(Math.abs(pistonDirectivity(x) - Number(row[column]))).toBeLessThan(1e-12);
    }
  },
);

test('J₁ is odd and passes through its first zero at 3.8317 (Abramowitz and Stegun, table 9.5)', () => {
  expect(besselJ1(-1.5)).toBeCloseTo(-besselJ1(1.5), 14);
  expect(Math.abs(besselJ1(3.8317059702075125))).toBeLessThan(1e-14);
});
