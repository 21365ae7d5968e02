import { measurementStatement, readDemo } from '../../../tests/fixtures';
import { emptyDriver, type Measurement } from '@/core/document/schema';
import { timingPattern } from '../measurement/timingPattern';
import { angleInName } from './angleName';
import { centreHz, driverWords, membersInWords, proposeDrivers, slotsOf } from './proposal';

let count = 0;
const file = (name: string, kind: Measurement['kind'] = 'response'): Measurement => {
  const angle = kind === 'response' ? angleInName(`${name}.txt`) : null;
  return {
    ...measurementStatement((count++).toString(16).padStart(32, '0'), kind),
    name,
    angle: angle && { plane: angle.plane, degrees: angle.degrees },
  };
};

test.each([
  ['dome hor 30', 'dome'],
  ['dome_H_030', 'dome'],
  ['Dome impedance', 'Dome'],
  ['midwoofer Z', 'midwoofer'],
  ['Tieftöner Impedanz', 'Tieftöner'],
  ['Kalotte 30° horizontal', 'Kalotte'],
  ['hor 30', ''],
  ['woofer 2 response', 'woofer 2'],
])('%s is about “%s”', (name, words) => expect(driverWords(name)).toBe(words));

test('twenty-two files of two drivers become two drivers with orbit and impedance', () => {
  const angles = Array.from({ length: 10 }, (_, i) => 10 * i);
  const files = [
    ...angles.map((degrees) => file(`dome hor ${degrees}`)),
    file('dome impedance', 'impedance'),
    ...angles.map((degrees) => file(`midwoofer hor ${degrees}`)),
    file('midwoofer impedance', 'impedance'),
  ];
  const { drivers, ownerOf } = proposeDrivers(files, [emptyDriver('d', 'Midwoofer')]);
  expect(drivers).toEqual([
    { key: 'dome', name: 'Dome', existingId: null },
    { key: 'midwoofer', name: 'Midwoofer', existingId: 'd' },
  ]);
  const dome = files.filter(({ id }) => ownerOf.get(id) === 'dome');
  expect(membersInWords(dome)).toBe('10 responses 0–90° horizontal, 1 impedance');
  const slots = slotsOf(dome);
  expect(slots.responseId).toBe(files[0].id);
  expect(slots.impedanceId).toBe(files[10].id);
  expect(slots.offAxisIds).toHaveLength(10);
  expect(slots.leftOver).toEqual([]);
});

test('folders name drivers where files do not; a near name is the same driver; the rest is nobody’s', () => {
  const files = [
    file('hor 0'),
    file('hor 30'),
    file('Z', 'impedance'),
    file('bass'),
    file('bass 8 ohm', 'impedance'),
  ];
  const paths = new Map(files.slice(0, 3).map(({ id, name }) => [id, `kit/tweeter/${name}.txt`]));
  const { drivers, ownerOf } = proposeDrivers([...files, file('ver 10')], [], paths);
  expect(drivers.map(({ name }) => name)).toEqual(['Tweeter', 'Bass']);
  expect(files.map(({ id }) => ownerOf.get(id))).toEqual([
    'tweeter',
    'tweeter',
    'tweeter',
    'bass',
    'bass',
  ]);
  expect(
    slotsOf([files[3], file('bass again'), files[4], file('Z2', 'impedance')]).leftOver,
  ).toHaveLength(2);
});

test('negative angles and both planes are told; the nearest to the axis is the response', () => {
  const files = [-20, 10, 20].map((degrees) => file(`a hor ${degrees}`));
  expect(membersInWords([...files, file('a ver 15')])).toBe(
    '3 responses −20–20° horizontal, 1 response 15° vertical',
  );
  expect(slotsOf(files).responseId).toBe(files[1].id);
});

test('delays of one microphone position are told from responses set to their own arrival', () => {
  const { design, data } = readDemo();
  const responses = design.drivers.map(({ responseId }) => data.get(responseId!)!);
  const delayed = (extraMs: number) =>
    responses.map((samples) => ({
      ...samples,
      phaseDeg: samples.phaseDeg!.map(
        (angle, i) => angle - (samples.frequencyHz[i] * extraMs * 360) / 1000,
      ),
    }));
  const common = timingPattern(delayed(0));
  expect(common?.kind).toBe('common');
  if (common?.kind === 'common') expect(common.toMs - common.fromMs).toBeLessThan(1);
  expect(timingPattern([delayed(0)[0], delayed(20)[1]])?.kind).toBe('mixed');
  const aligned = responses.map((samples) => ({
    ...samples,
    phaseDeg: samples.phaseDeg!.map(() => 0),
  }));
  expect(timingPattern(aligned)).toEqual({ kind: 'own' });
  expect(timingPattern([{ ...responses[0], phaseDeg: null }])).toBeNull();
  const centres = responses.map(centreHz);
  expect(centres.toSorted((a, b) => a - b)).toEqual(centres);
});
