import { strToU8 } from 'fflate';
import { readTarget } from './readTarget';

const read = (text: string) => readTarget(strToU8(text), 'house.txt');

test('the shape counts, not its level: 0 dB nearest to 1 kHz', () => {
  expect(read('Hz dB\n2000 78\n20 84\n900 80\n')).toEqual([
    { hz: 20, db: 4 },
    { hz: 900, db: 0 },
    { hz: 2000, db: -2 },
  ]);
});

test('of a long table two hundred points are kept, ends included', () => {
  const rows = Array.from({ length: 5000 }, (_, i) => `${20 + i} ${80 + Math.sin(i / 500)}`);
  const points = read(rows.join('\n'));
  expect(points).toHaveLength(200);
  expect([points[0].hz, points.at(-1)!.hz]).toEqual([20, 5019]);
});

test('a driver’s response is no target', () => {
  expect(() => read('20 30\n1000 90\n20000 80\n')).toThrow(/At 20 Hz it is -60 dB away from 1 kHz/);
  expect(() => read('no table')).toThrow(/house.txt/);
});
