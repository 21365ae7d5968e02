import { usualPipe } from '@/core/document/boxSchema';
import { emptyDesign, emptyDriver } from '@/core/document/schema';
import { driversInBox, leastXmaxMm } from './driversInBox';
import { lineFacts } from './line';

test('a line’s length, volume and odd quarter waves, c/4L and 3c/4L', () => {
  const segments = [
    { lengthMm: 1200, areaCm2: 400, flowResistivity: 2000 },
    { lengthMm: 500, areaCm2: 250, flowResistivity: 0 },
  ];
  const facts = lineFacts({ ...usualPipe, segments }, 343.2);
  expect(facts.lengthMm).toBe(1700);
  expect(facts.litres).toBeCloseTo(48 + 12.5, 9);
  expect(facts.quarterHz).toBeCloseTo(343.2 / (4 * 1.7), 9);
  expect(facts.threeQuartersHz / facts.quarterHz).toBeCloseTo(3, 12);
  expect(facts.thirdMm).toBeCloseTo(1700 / 3, 9);
});

test('drivers of a box in the order of the design, and the least Xmax that one of them states', () => {
  const stating = (id: string, xmaxMm: number | null) => {
    const driver = emptyDriver(id, id);
    return { ...driver, sheet: { ...driver.sheet, xmaxMm } };
  };
  const { drivers } = {
    ...emptyDesign('Three'),
    drivers: [stating('a', 6), stating('b', null), stating('c', 4)],
  };
  expect(driversInBox({ driverIds: ['c', 'a'] }, drivers).map(({ id }) => id)).toEqual(['a', 'c']);
  expect(leastXmaxMm({ driverIds: ['a', 'b', 'c'] }, drivers)).toBe(4);
  expect(leastXmaxMm({ driverIds: ['b'] }, drivers)).toBeNull();
  expect(leastXmaxMm({ driverIds: ['gone'] }, drivers)).toBeNull();
});
