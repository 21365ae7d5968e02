import { heardWay, readDemo } from '../../../tests/fixtures';
import { levelDbOf, magnitudesOf, phaseDegOf, sumIfReversedDb } from './derived';
import { createPredictor } from './predict';

const spectrum = { re: Float64Array.of(3, -1, 0), im: Float64Array.of(4, 0, 0) };

test('level, phase and size of a complex curve, by hand', () => {
  expect([...magnitudesOf(spectrum)]).toEqual([5, 1, 0]);
  expect(levelDbOf(spectrum)[0]).toBeCloseTo(13.9794, 4);
  expect(levelDbOf(spectrum)[2]).toBe(-Infinity);
  expect(phaseDegOf(spectrum)[0]).toBeCloseTo(53.1301, 4);
  expect(phaseDegOf(spectrum)[1]).toBe(180);
});

test('a way turned round is taken from the sum twice', () => {
  const level = Float64Array.of(80, 80);
  const [one, other] = [heardWay('one', level, 0), heardWay('other', level, 90)];
  const pressure = {
    re: one.pressure.re.map((re, i) => re + other.pressure.re[i]),
    im: one.pressure.im.map((im, i) => im + other.pressure.im[i]),
  };
  // 90° apart, both ways round have 3 dB more than one alone.
  const reversed = sumIfReversedDb({ pressure, levelDb: level }, other);
  expect(reversed[0]).toBeCloseTo(83.0103, 4);
});

test('the demo with a way turned round is what the prediction says it would be', () => {
  const { design, data } = readDemo();
  const predict = createPredictor();
  const { sum, ways } = predict(design, data);
  ways.forEach((way, w) => {
    const turned = {
      ...design,
      ways: design.ways.map((one, k) =>
        k === w
          ? {
              ...one,
              polarity: one.polarity === 'normal' ? ('reversed' as const) : ('normal' as const),
            }
          : one,
      ),
    };
    const wanted = predict(turned, data).sum!.levelDb;
    sumIfReversedDb(sum!, way).forEach((db, i) => expect(db).toBeCloseTo(wanted[i], 6));
  });
});
