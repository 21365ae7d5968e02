import {
  elementKinds,
  elementLoss,
  elementValue,
  isPassive,
  makeElement,
  passiveKinds,
  reactanceSlope,
  seriesFormOf,
  squaredOhms,
} from './immittance';

const branch = { name: 'X1', a: 'in', b: '0' };
const omega = 2 * Math.PI * 1000;

test('an element has the value and the loss that it was made with', () => {
  for (const kind of passiveKinds) {
    const element = makeElement(branch, kind, 2, 0.5);
    expect(elementValue(element)).toBe(2);
    expect(elementLoss(element)).toBe(elementKinds[kind].hasLoss ? 0.5 : 0);
    expect(isPassive(element)).toBe(true);
    expect(element).toMatchObject(branch);
    expect('where' in element).toBe(false);
  }
  expect(makeElement({ ...branch, where: 'a.cir:3' }, 'coil', 1, 0).where).toBe('a.cir:3');
  expect(isPassive({ ...branch, kind: 'source', voltsRe: 1, voltsIm: 0 })).toBe(false);
  expect(isPassive({ ...branch, kind: 'oneport' })).toBe(false);
});

test('|Z| in closed form: 1 mH with 0.4 Ω, 10 µF with 0.1 Ω, 8 Ω', () => {
  const ohms = (kind: 'resistor' | 'coil' | 'capacitor', value: number, loss: number) =>
    Math.sqrt(squaredOhms(seriesFormOf(makeElement(branch, kind, value, loss)), omega));
  expect(ohms('coil', 1e-3, 0.4)).toBeCloseTo(Math.hypot(0.4, 2 * Math.PI), 12);
  expect(ohms('capacitor', 10e-6, 0.1)).toBeCloseTo(Math.hypot(0.1, 1 / (omega * 10e-6)), 12);
  expect(ohms('resistor', 8, 0)).toBe(8);
});

test('slopes for a factor of e in the value are those of small steps', () => {
  const step = 1e-6;
  for (const [kind, value] of [
    ['resistor', 8],
    ['coil', 1e-3],
    ['capacitor', 10e-6],
  ] as const) {
    const form = (v: number) => seriesFormOf(makeElement(branch, kind, v, 0.2));
    const reactance = (v: number) => omega * form(v).henries - form(v).elastance / omega;
    const [up, down] = [value * Math.exp(step), value * Math.exp(-step)];
    expect(reactanceSlope(form(value), omega)).toBeCloseTo(
      (reactance(up) - reactance(down)) / (2 * step),
      6,
    );
    expect(form(value).ohmsSlope).toBeCloseTo((form(up).ohms - form(down).ohms) / (2 * step), 6);
  }
});

test('each kind has a letter of its own in a deck', () => {
  const letters = passiveKinds.map((kind) => elementKinds[kind].spice);
  expect(new Set(letters).size).toBe(letters.length);
  expect(letters.join('')).toBe('rlc');
});
