import { readDemo } from '../../../tests/fixtures';
import { logGrid } from '../grid/logGrid';
import { passiveEquivalent, type Section } from './equivalent';

/** Impedance of the chain by the algebra of its parts alone. */
function impedanceOf(sections: readonly Section[], hz: number): [number, number] {
  let [re, im] = [0, 0];
  const w = 2 * Math.PI * hz;
  for (const { ohms, henries, farads } of sections) {
    const g = ohms === null ? 0 : 1 / ohms;
    const b = (henries === null ? 0 : -1 / (w * henries)) + (farads === null ? 0 : w * farads);
    const square = g * g + b * b;
    re += g / square;
    im -= b / square;
  }
  return [re, im];
}

test('a chain with two resonances and a ladder is found again', () => {
  const made: Section[] = [
    { ohms: 5.6, henries: null, farads: null },
    { ohms: null, henries: 2e-4, farads: null },
    { ohms: 3, henries: 3e-4, farads: null },
    { ohms: 25, henries: 0.02, farads: 3e-4 },
    { ohms: 8, henries: 0.004, farads: 4e-4 },
  ];
  const frequencyHz = logGrid(10, 20_000, 48);
  const z = [...frequencyHz].map((hz) => impedanceOf(made, hz));
  const { sections, worstPercent } = passiveEquivalent({
    frequencyHz,
    magnitude: Float64Array.from(z, ([re, im]) => Math.hypot(re, im)),
    phaseDeg: Float64Array.from(z, ([re, im]) => (Math.atan2(im, re) * 180) / Math.PI),
  });
  expect(worstPercent).toBeLessThan(0.5);
  for (const hz of [12, 57, 90, 126, 400, 3000, 18_000]) {
    const [a, b] = [impedanceOf(made, hz), impedanceOf(sections, hz)];
    expect(Math.hypot(a[0] - b[0], a[1] - b[1]) / Math.hypot(...a)).toBeLessThan(0.006);
  }
});

test('a semi-inductance, whose reactance grows as a root, is followed over three decades', () => {
  const frequencyHz = logGrid(10, 20_000, 24);
  const z = [...frequencyHz].map((hz): [number, number] => {
    const size = 0.012 * (2 * Math.PI * hz) ** 0.6;
    const angle = 0.6 * (Math.PI / 2);
    return [5.8 + size * Math.cos(angle), size * Math.sin(angle)];
  });
  const { worstPercent } = passiveEquivalent({
    frequencyHz,
    magnitude: Float64Array.from(z, ([re, im]) => Math.hypot(re, im)),
    phaseDeg: Float64Array.from(z, ([re, im]) => (Math.atan2(im, re) * 180) / Math.PI),
  });
  expect(worstPercent).toBeLessThan(1);
});

test('the demo’s drivers, noise and all, and every part is one that can be bought', () => {
  const { design, data } = readDemo();
  for (const { impedanceId } of design.drivers) {
    const { sections, worstPercent, rmsPercent } = passiveEquivalent(data.get(impedanceId!)!);
    expect(rmsPercent).toBeLessThan(0.5);
    expect(worstPercent).toBeLessThan(2);
    for (const { ohms, henries, farads } of sections)
      for (const value of [ohms, henries, farads])
        if (value !== null) expect(value).toBeGreaterThan(0);
  }
});
