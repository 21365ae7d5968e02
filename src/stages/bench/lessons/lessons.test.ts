import { emptyDesign, emptyDriver, type Design, type Measurement } from '@/core/document/schema';
import { withStep } from '@/core/measurement/recipe';
import { measurementStatement } from '../../../../tests/fixtures';
import { lessons, nextStep } from './lessons';

const practice = (name: string, kind: Measurement['kind'], letter: string): Measurement => {
  const statement = measurementStatement(letter.repeat(32), kind);
  return { ...statement, name, origin: { ...statement.origin, fileName: `${name}.wav` } };
};
const lesson = (id: string) => lessons.find((one) => one.id === id)!;
const number = (id: string, design: Design) => nextStep(lesson(id), design)?.number ?? null;

test('every lesson begins at its first step in an empty project', () => {
  for (const { id, steps } of lessons) {
    expect(number(id, emptyDesign('new'))).toBe(1);
    for (const { task, why } of steps) expect(`${task} ${why}`).toMatch(/^[A-Z].*\.$/);
  }
});

test('what is measured elsewhere does not count as practice', () => {
  const measurements = [practice('woofer hor +0', 'response', 'a')];
  expect(number('sweep', { ...emptyDesign('new'), measurements })).toBe(1);
});

test('the first lesson goes on with what the document holds, and ends', () => {
  let response = practice('practice woofer hor +0', 'response', 'a');
  const impedance = practice('practice woofer impedance', 'impedance', 'b');
  const driver = { ...emptyDriver('w', 'Woofer'), responseId: response.id };
  let design: Design = { ...emptyDesign('new'), measurements: [response] };
  expect(number('sweep', design)).toBe(2);
  design = { ...design, measurements: [response, impedance], drivers: [driver] };
  expect(number('sweep', design)).toBe(3);
  design = { ...design, drivers: [{ ...driver, impedanceId: impedance.id }] };
  expect(number('sweep', design)).toBe(4);
  const put = (step: Measurement['recipe'][number]) => {
    response = { ...response, recipe: withStep([], step) };
    design = { ...design, measurements: [response, impedance] };
  };
  put({ kind: 'gate', isOn: true, lengthMs: 4 });
  expect(number('sweep', design)).toBe(5);
  put({ kind: 'gate', isOn: false, lengthMs: 4 });
  expect(number('sweep', design)).toBe(4);
});

test('the lesson on depth ends when a position was taken over', () => {
  const names = ['practice midrange hor +0', 'practice tweeter hor +0'];
  const measurements = [...names, 'practice midrange and tweeter hor +0'].map((name, i) =>
    practice(name, 'response', 'abc'[i]),
  );
  const drivers = measurements
    .slice(0, 2)
    .map(({ id, name }) => ({ ...emptyDriver(id.slice(0, 4), name), responseId: id }));
  const design = { ...emptyDesign('new'), measurements, drivers };
  expect(number('depth', { ...design, measurements: measurements.slice(0, 2) })).toBe(3);
  expect(number('depth', design)).toBe(5);
  const moved = { ...drivers[1], position: { xMm: 0, yMm: 0, zMm: 18 } };
  expect(number('depth', { ...design, drivers: [drivers[0], moved] })).toBeNull();
});
