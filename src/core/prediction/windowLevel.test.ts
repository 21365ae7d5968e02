import { readDemo, withoutBaffle, withOffAxis } from '../../../tests/fixtures';
import { listeningWindow } from '@/core/radiation/offAxis';
import { createBaffleEffect } from './baffleEffect';
import { createConditioner } from './conditioner';
import { createOffAxis } from './offAxisInputs';
import { createPredictor } from './predict';

const demo = readDemo();
const plain = { ...demo, design: withoutBaffle(demo.design) };

test('without orbits there is no window', () => {
  expect(createPredictor()(plain.design, plain.data).window).toBeNull();
});

test('the window of one driver is its mean energy over nine directions, whatever is before it', () => {
  const { design, data } = withOffAxis(plain.design, plain.data);
  const [, midrange] = design.drivers;
  const way = design.ways.find(({ ends }) => ends[0].driverId === midrange.id)!;
  const predict = createPredictor();
  const { frequencyHz, window, sum } = predict({ ...design, ways: [way] }, data);
  const even = { re: frequencyHz.map(() => 1), im: frequencyHz.map(() => 0) };
  const toward = createOffAxis(frequencyHz, createConditioner(), createBaffleEffect(frequencyHz))(
    design,
    midrange,
    data,
  )!;
  const sent = listeningWindow.map((direction) => toward(even, direction)!);
  expect(sent).toHaveLength(8);
  const check = (windowDb: Float64Array, sumDb: Float64Array) =>
    frequencyHz.forEach((hz, i) => {
      if (hz < 100 || hz > 10_000) return;
      const energy = sent.reduce((total, { re, im }) => total + re[i] ** 2 + im[i] ** 2, 1) / 9;
      expect(windowDb[i] - sumDb[i]).toBeCloseTo(10 * Math.log10(energy), 6);
    });
  expect(window!.isModelled).toBe(false);
  check(window!.levelDb, sum!.levelDb);
  // A changed network is a changed window: nothing stale is kept.
  const bare = predict({ ...design, ways: [{ ...way, parts: [] }] }, data);
  check(bare.window!.levelDb, bare.sum!.levelDb);
  expect(bare.window!.levelDb[50]).not.toBe(window!.levelDb[50]);
});

test('curves need not wait for a window that would have to be worked out anew', () => {
  const predict = createPredictor();
  let later = 0;
  const onWindowLater = () => void later++;
  const { design, data } = demo;
  const first = predict(design, data, { onWindowLater });
  expect([later, first.window]).toEqual([1, null]);
  const whole = predict(design, data);
  expect(whole.sum!.levelDb).toEqual(first.sum!.levelDb);
  expect(whole.window!.isModelled).toBe(true);
  // From then on it comes along with the curves.
  expect(predict(design, data, { onWindowLater }).window).toEqual(whole.window);
  expect(later).toBe(1);
});
