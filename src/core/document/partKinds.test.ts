import { readDemo } from '../../../tests/fixtures';
import {
  followedLoss,
  forEveryKind,
  hasStatedLoss,
  isUsualValue,
  kindsOfParts,
  lettersOf,
  makePart,
  partKinds,
  partLoss,
  partValue,
  shownValue,
  takeFreeName,
  usualRange,
  withPartValue,
  withStatedLoss,
} from './partKinds';
import { plainPart, type Part } from './schema';

const base = { ...plainPart, id: 'x', name: 'X1', place: 'series' } as const;
const made = (kind: Part['kind'], value: number, loss = 0.3) => makePart(base, kind, value, loss);

test('every kind keeps its value, whatever else is changed', () => {
  for (const kind of kindsOfParts) {
    const part = made(kind, partKinds[kind].first.value);
    expect(partValue(withPartValue(part, 1e-3))).toBe(1e-3);
    expect(withPartValue(part, 1e-3)).toMatchObject({ id: 'x', name: 'X1', kind });
    expect(isUsualValue(part)).toBe(true);
  }
});

test('the table is sound: ranges hold each other, letters differ, what is owned can be entered', () => {
  for (const kind of kindsOfParts) {
    const { first, usual, entered, fitted, owned, step, price } = partKinds[kind];
    expect(entered[0]).toBeLessThanOrEqual(fitted[0]);
    expect(entered[1]).toBeGreaterThanOrEqual(fitted[1]);
    expect(first.value).toBeGreaterThanOrEqual(fitted[0]);
    expect(first.value).toBeLessThanOrEqual(fitted[1]);
    for (const value of owned) expect(value >= usual[0] && value <= usual[1]).toBe(true);
    expect(step).toBeGreaterThan(0);
    expect(price).toBeGreaterThan(0);
  }
  expect(new Set(kindsOfParts.map((kind) => partKinds[kind].letter)).size).toBe(
    kindsOfParts.length,
  );
  expect(forEveryKind((kind) => partKinds[kind].letter)).toEqual({
    resistor: 'R',
    coil: 'L',
    capacitor: 'C',
  });
});

test('a loss follows its value as the kind does, and not when it was stated', () => {
  // Four times the inductance of the same wire: 4^0.6; of a capacitor a quarter.
  expect(followedLoss(made('coil', 1e-3), 4)).toBeCloseTo(0.3 * 4 ** 0.6, 12);
  expect(followedLoss(made('capacitor', 1e-5), 4)).toBeCloseTo(0.075, 12);
  expect(followedLoss(made('resistor', 8), 4)).toBe(0);
  const core = { ...made('coil', 1e-3), core: 'magnetic' } as Part;
  expect(followedLoss(core, 4)).toBeCloseTo(0.6, 12);
  const stated = withStatedLoss(made('coil', 1e-3), 0.2);
  expect(hasStatedLoss(stated)).toBe(true);
  expect(followedLoss(stated, 4)).toBe(0.2);
  expect(hasStatedLoss(withStatedLoss(stated, null))).toBe(false);
  expect(partLoss(withStatedLoss(made('resistor', 8), 0.2))).toBe(0);
});

test('a misread unit is seen, and told with the usual range', () => {
  expect(isUsualValue(made('capacitor', 4.7))).toBe(false);
  expect(isUsualValue(made('coil', 4.7e-9))).toBe(false);
  // Nothing at all is said elsewhere.
  expect(isUsualValue(made('coil', 0))).toBe(true);
  expect(usualRange('coil')).toBe('10 µH to 50 mH');
  expect(shownValue(made('capacitor', 6.8e-6))).toBe('6.8 µF');
});

test('free names are the lowest, and are used from then on', () => {
  const { design } = readDemo();
  const used = new Set(design.ways.flatMap(({ parts }) => parts.map(({ name }) => name)));
  const first = takeFreeName(used, 'C');
  expect(used.has(first)).toBe(true);
  expect(takeFreeName(used, 'C')).not.toBe(first);
  expect(lettersOf('C12')).toBe('C');
});
