import { emptyBrief, type Brief } from '@/core/document/briefSchema';
import { emptyDesign, emptyDriver, type Design } from '@/core/document/schema';
import { enclosureOptions, wayOptions } from './options';
import { netLitres } from './box';

const asked = (set: Partial<Brief>, sdCm2: number | null = null): Design => ({
  ...emptyDesign('x'),
  brief: {
    ...emptyBrief,
    loudnessDb: 80,
    headroomDb: 10,
    farthestSeatMm: 3000,
    ratedWatts: 50,
    ratedIntoOhms: 8,
    reach3Hz: 40,
    widthMm: 250,
    heightMm: 400,
    depthMm: 300,
    ...set,
  },
  drivers:
    sdCm2 === null
      ? []
      : [{ ...emptyDriver('w', 'Woofer'), sheet: { ...emptyDriver('w', 'x').sheet, sdCm2 } }],
});
const enclosure = (id: string, set: Partial<Brief>) =>
  enclosureOptions(asked(set)).find((option) => option.id === id)!;
const ways = (id: string, set: Partial<Brief>, sdCm2: number) =>
  wayOptions(asked(set, sdCm2)).find((option) => option.id === id)!;
const text = ({ pros, cons }: { pros: readonly string[]; cons: readonly string[] }) =>
  [...pros, ...cons].join(' ');

test('net volume leaves panels, drivers and braces out, and is never negative', () => {
  expect(netLitres(250, 400, 300)).toBeCloseTo((0.85 * 212 * 362 * 262) / 1e6, 9);
  expect(netLitres(30, 400, 300)).toBe(0);
});

test('a vented box needs about half of what a sealed one needs', () => {
  const litres = (id: string) => Number(/takes? ([\d.]+) to/.exec(text(enclosure(id, {})))![1]);
  expect(litres('sealed') / litres('vented')).toBeCloseTo(3.9 / 2.05, 1);
});

test('loudness that no box of the size can give rules both out, with the litres it would take', () => {
  for (const id of ['sealed', 'vented', 'passive-radiator'])
    expect(enclosure(id, { loudnessDb: 110 }).ruledOut).toMatch(
      /would take [\d.]+ to [\d.]+ litres/,
    );
});

test.each<[string, string, Partial<Brief>, RegExp]>([
  ['a wall behind', 'sealed', { place: 'near-wall' }, /wall lifts the low end/],
  ['a wall behind', 'vented', { place: 'near-wall' }, /put it in front/],
  ['a cabinet around', 'vented', { place: 'in-cabinet' }, /face forward/],
  ['mixing', 'sealed', { purpose: 'mixing' }, /which helps to judge the lows/],
  ['films', 'vented', { purpose: 'film' }, /Least excursion/],
  ['straight cuts', 'lined-pipe', { carpentry: 'straight-cuts' }, /inner panels/],
  ['a deep reach', 'vented', { reach3Hz: 25 }, /port becomes long/],
  ['little money', 'passive-radiator', { money: 100 }, /Money is limited/],
])('%s counts for the %s', (_, id, set, expected) =>
  expect(text(enclosure(id, set))).toMatch(expected),
);

test('the rear wave of an open baffle takes what two sources a path apart cancel', () => {
  // 2·sin(π·f·D/c) of the front alone, D half the width (closed form of a dipole).
  const loss = -20 * Math.log10(2 * Math.sin((Math.PI * 40 * 0.4) / 343.2));
  const open = enclosure('open-baffle', { widthMm: 800 });
  expect(open.cons[0]).toContain(`takes away ${loss.toFixed(0)} dB`);
  expect(open.ruledOut).toBeNull();
  // By itself the loss rules nothing out; what it takes of a woofer's excursion does.
  expect(enclosure('open-baffle', { widthMm: 100 }).ruledOut).toBeNull();
  const small = asked({ widthMm: 200, loudnessDb: 95 }, 60);
  const woofer = { ...small.drivers[0], sheet: { ...small.drivers[0].sheet, xmaxMm: 3 } };
  const ruled = enclosureOptions({ ...small, drivers: [woofer] }).find(
    ({ id }) => id === 'open-baffle',
  )!.ruledOut;
  expect(ruled).toMatch(/would be ±[\d.]+ mm, and the woofers allow ±3 mm/);
  expect(enclosure('open-baffle', { place: 'in-cabinet', widthMm: 900 }).ruledOut).toMatch(
    /cabinet/,
  );
});

test('a pipe is a quarter wave long and may not fold too often', () => {
  expect(enclosure('lined-pipe', {}).pros[0]).toContain('2.15 m');
  expect(enclosure('lined-pipe', { heightMm: 1100 }).cons[0]).toContain('the pipe folds once');
  expect(enclosure('lined-pipe', { reach3Hz: 22, heightMm: 400 }).ruledOut).toMatch(/fold 9 times/);
});

test('how far a woofer spreads decides between two ways and three', () => {
  // ka = 2 by hand: 86 cm² (52.3 mm radius) at 2089 Hz, 530 cm² (129.9 mm) at 841 Hz.
  expect(text(ways('two-way', {}, 86))).toMatch(/still wide at 2000 Hz/);
  expect(text(ways('two-way', {}, 530))).toMatch(/has narrowed, and the directivity index jumps/);
  expect(text(ways('three-way', {}, 530))).toMatch(/from 841 Hz to 2000 Hz/);
  // 220 cm² at 2 kHz have a directivity index of 9.4 dB (Beranek's closed form, scipy) against a
  // dome's 3.2.
  expect(text(ways('two-way', {}, 220))).toMatch(/jumps by 6 dB/);
  // −6 dB at the seats' own angle, ka = 2.215/sin θ: 12.0 kHz at 10.0°, 4.6 kHz at 30°.
  expect(ways('one-way', { spreadDeg: 30 }, 86).ruledOut).toMatch(
    /Above 4630 Hz the seats at ±30°/,
  );
  expect(ways('one-way', { spreadDeg: 11 }, 86).ruledOut).toBeNull();
  expect(ways('one-way', { spreadDeg: 5 }, 86).ruledOut).toBeNull();
});

test('figures show how they were found', () => {
  const out = (id: string) => enclosure(id, { widthMm: 800 }).arithmetic.join(' ');
  expect(out('sealed')).toMatch(/1\.38·10⁻⁶·f³.*f = 40 Hz/);
  expect(out('vented')).toContain('3.9 to 2.05');
  expect(out('open-baffle')).toContain('D = half the width, 0.4 m, at 40 Hz');
  expect(out('lined-pipe')).toMatch(/c\/\(4·f\) = 343\.2\/\(4·40\) = 2\.15 m/);
  expect(ways('two-way', { spreadDeg: 30 }, 86).arithmetic.join(' ')).toContain('4.43');
  expect(enclosure('sealed', { loudnessDb: null }).arithmetic).toEqual([]);
});
