import { readDemo } from '../../../tests/fixtures';
import type { Design } from '@/core/document/schema';
import { createPredictor } from './predict';
import { repeatedAngles } from './repeatedAngles';

const { design: demo, data } = readDemo();
const turned = demo.drivers.find(({ offAxisIds }) => offAxisIds.length > 2)!;
const [first, second] = turned.offAxisIds;
const angleOf = (id: string) => demo.measurements.find((one) => one.id === id)!.angle;

test('two files at one angle are told by name, where the angles are and with the prediction', () => {
  expect(repeatedAngles(demo, turned)).toEqual([]);
  const twice: Design = {
    ...demo,
    measurements: demo.measurements.map((one) =>
      one.id === second ? { ...one, angle: angleOf(first) } : one,
    ),
  };
  const found = repeatedAngles(twice, turned);
  expect(found).toHaveLength(1);
  const names = [first, second].map((id) => demo.measurements.find((one) => one.id === id)!.name);
  for (const name of names) expect(found[0].what).toContain(name);
  const told = createPredictor()(twice, data, { offAxis: 'known' }).findings;
  expect(told.map(({ code }) => code)).toContain('angle_twice');
});
