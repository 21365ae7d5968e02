import { partValue } from '@/core/document/partKinds';
import { allFree, readDemo } from '../../../tests/fixtures';
import { mantissas } from '@/core/units/preferredSeries';
import { roundedToSeries } from './buyable';
import { goalOf } from './goal';
import { usualSeries } from './stock';
import { fitDesign, withFit } from './fit';

const { design: demo, data } = readDemo();
const freed = allFree(demo);
const fitted = withFit(
  freed,
  fitDesign(freed, data, { seed: 1, starts: [0] }, { ...goalOf(freed), tolerance: 0 }),
);

test('every value is one of the series, at little cost, and for less than plain rounding', () => {
  const exact = { ...goalOf(fitted), tolerance: 0 };
  const found = roundedToSeries(fitted, data, { series: usualSeries }, exact);
  for (const part of withFit(fitted, found).ways.flatMap((way) => way.parts)) {
    const value = partValue(part);
    const mantissa = value / 10 ** Math.floor(Math.log10(value) + 1e-9);
    const nearest = mantissas[usualSeries[part.kind]].some(
      (one) => Math.abs(mantissa / one - 1) < 1e-9,
    );
    expect([part.name, nearest]).toEqual([part.name, true]);
  }
  expect(found.merit).toBeGreaterThan(found.before.merit * 0.8);
  expect(found.figures.deviationDb).toBeLessThan(found.before.figures.deviationDb * 1.3);
  // Each value by itself to its nearest neighbour: stopped before anything was done.
  const plain = roundedToSeries(
    fitted,
    data,
    { series: usualSeries, shouldStop: () => true },
    exact,
  );
  expect(found.merit).toBeLessThan(plain.merit);
});

test('a coarser series costs more', () => {
  const coarse = roundedToSeries(fitted, data, {
    series: { resistor: 'E6', coil: 'E6', capacitor: 'E6' },
  });
  const fine = roundedToSeries(fitted, data, {
    series: { resistor: 'E24', coil: 'E24', capacitor: 'E24' },
  });
  expect(coarse.merit).toBeGreaterThan(fine.merit);
});

test('two parts together cost less than one; what one owns is all that is taken', () => {
  const two = { twoOf: 'E12' } as const;
  const single = roundedToSeries(fitted, data, { series: usualSeries });
  const paired = roundedToSeries(fitted, data, {
    series: { resistor: 'E24', coil: two, capacitor: two },
  });
  expect(paired.merit).toBeLessThan(single.merit * 1.001);
  const owned = [2.2e-6, 4.7e-6, 4.7e-6, 10e-6, 22e-6, 47e-6, 68e-6];
  const own = roundedToSeries(fitted, data, { series: { ...usualSeries, capacitor: { owned } } });
  const left = [...owned];
  for (const part of withFit(fitted, own).ways.flatMap((way) => way.parts)) {
    if (part.kind !== 'capacitor') continue;
    const at = left.findIndex((value) => Math.abs(part.farads / value - 1) < 1e-9);
    expect([part.name, at >= 0]).toEqual([part.name, true]);
    left.splice(at, 1);
  }
  expect(() =>
    roundedToSeries(fitted, data, { series: { ...usualSeries, capacitor: { owned: [1e-6] } } }),
  ).toThrow('4 capacitors are free, and 1 are owned');
}, 60_000);

test('coils and resistors in steps', () => {
  const found = roundedToSeries(fitted, data, {
    series: { resistor: { stepOf: 0.5 }, coil: { stepOf: 0.1e-3 }, capacitor: 'E12' },
  });
  for (const part of withFit(fitted, found).ways.flatMap((way) => way.parts)) {
    if (part.kind === 'capacitor') continue;
    const steps = partValue(part) / (part.kind === 'coil' ? 0.1e-3 : 0.5);
    expect([part.name, Math.abs(steps - Math.round(steps)) < 1e-6]).toEqual([part.name, true]);
  }
});
