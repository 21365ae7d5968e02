import { emptyBrief, emptySheet, type Brief } from '@/core/document/briefSchema';
import { createPredictor } from '@/core/prediction/predict';
import { emptyDesign, emptyDriver, type Design } from '@/core/document/schema';
import { inOrder, targetDb } from '@/core/document/target';
import { readDemo } from '../../../tests/fixtures';
import { amplifierPresets } from './answers';
import { meaningOf } from './consequences';

const answered = (set: Partial<Brief>): Design => ({
  ...emptyDesign('x'),
  brief: { ...emptyBrief, ...set },
});
const everything: Partial<Brief> = {
  purpose: 'music',
  nearestSeatMm: 2000,
  farthestSeatMm: 4000,
  speakerCount: 2,
  ratedWatts: 60,
  ratedIntoOhms: 8,
  lowestLoadOhms: 4,
  loudnessDb: 85,
  headroomDb: 15,
  reach3Hz: 35,
  widthMm: 200,
  heightMm: 300,
  depthMm: 250,
  ratedOhms: 8,
};

test('without answers it says what it waits for, and contradicts nothing', () => {
  const meaning = meaningOf(emptyDesign('x'), null);
  const sentences = [...meaning.loudness, ...meaning.trade, ...meaning.load, ...meaning.spacing];
  expect(sentences.filter(({ tone }) => tone === 'conflict')).toEqual([]);
  expect(sentences.filter(({ tone }) => tone === 'waits')).toHaveLength(2);
  expect([...meaning.enclosures, ...meaning.ways].every(({ ruledOut }) => ruledOut === null)).toBe(
    true,
  );
});

test('a box too small for reach and loudness is called a contradiction, with what each would have to give', () => {
  const asked = { ...everything, loudnessDb: 95, givesWay: ['reach', 'size'] as const };
  const design = answered({ ...asked, givesWay: [...asked.givesWay] });
  const [trade] = meaningOf(design, null).trade;
  expect(trade.tone).toBe('conflict');
  // (162·262·212 mm)·0.85 net.
  expect(trade.arithmetic.join(' ')).toContain('7.65 litres');
  const found =
    /grows to ([\d.]+) to ([\d.]+) litres inside, or F3 rises to ([\d.]+) to ([\d.]+) Hz, or the loudness falls by ([\d.]+) to ([\d.]+) dB/.exec(
      trade.text,
    )!;
  const [, ...numbers] = found;
  const [least, most, from, to, fewest, greatest] = numbers.map(Number);
  expect(trade.text).toContain('no closed box can have all three');
  expect(trade.text).toContain('Of these F3 gives way first');
  // Small's law: at one efficiency V·f³ is constant, and the level goes with the volume.
  expect(from).toBeCloseTo(35 * Math.cbrt(least / 7.65), 0);
  expect(to).toBeCloseTo(35 * Math.cbrt(most / 7.65), 0);
  expect(fewest).toBeCloseTo(10 * Math.log10(least / 7.65), 1);
  expect(greatest).toBeCloseTo(10 * Math.log10(most / 7.65), 1);
  // α of 4 and of 2 lie 10·log((2/3)/(4/5)) apart.
  expect(greatest - fewest).toBeCloseTo(10 * Math.log10(0.8 / (2 / 3)), 1);
  expect(meaningOf(design, null).enclosures.find(({ id }) => id === 'sealed')!.ruledOut).toContain(
    'litres',
  );
});

test('what differs by less than is written is no contradiction', () => {
  const small = answered({ ...everything, loudnessDb: 95 });
  const [conflict] = meaningOf(small, null).trade;
  const needed = Number(/grows to [\d.]+ to ([\d.]+)/.exec(conflict.text)![1]);
  const net = (depthMm: number) => {
    const { widthMm, heightMm } = small.brief;
    return ((widthMm! - 38) * (heightMm! - 38) * (depthMm - 38) * 0.85) / 1e6;
  };
  let depthMm = 300;
  while (net(depthMm) < needed) depthMm++;
  const [trade] = meaningOf({ ...small, brief: { ...small.brief, depthMm } }, null).trade;
  expect(trade.tone).toBe('fine');
  expect(trade.text).not.toContain('0.0 dB');
});

test('a valve amplifier bends the response, transistors do not', () => {
  const swing = (outputOhms: number) =>
    meaningOf(
      { ...answered(everything), amplifier: { volts: 2.83, outputOhms, cableOhms: 0 } },
      null,
    ).load.find(({ id }) => id === 'swing')!;
  expect(swing(0.05).tone).toBe('plain');
  expect(swing(2.5).tone).toBe('conflict');
  expect(swing(2.5).text).toContain('impedance compensation');
});

test('a load that the rated impedance allows but the amplifier does not', () => {
  const [rated] = meaningOf(answered({ ratedOhms: 4, lowestLoadOhms: 4 }), null).load;
  expect(rated).toMatchObject({ tone: 'conflict' });
  expect(rated.text).toContain('3.2 Ω');
});

test('data sheets speak where nothing was measured; a small woofer is asked too much', () => {
  const woofer = {
    ...emptyDriver('w', 'Woofer'),
    sheet: {
      ...emptySheet,
      fsHz: 45,
      qes: 0.4,
      qms: 4,
      vasLitres: 12,
      sdCm2: 90,
      xmaxMm: 3,
      reOhm: 6,
      ratedWatts: 30,
    },
  };
  const { loudness, ways } = meaningOf(
    { ...answered({ ...everything, spreadDeg: 30 }), drivers: [woofer] },
    null,
  );
  const level = loudness.find(({ id }) => id === 'level')!;
  expect(level.arithmetic[0]).toContain('Data sheet');
  expect(loudness.find(({ id }) => id === 'load--w')!.tone).toBe('conflict');
  expect(loudness.find(({ id }) => id === 'bass')!.text).toContain('35 Hz');
  expect(loudness.find(({ id }) => id === 'power')!.tone).toBe('conflict');
  expect(ways.find(({ id }) => id === 'one-way')!.ruledOut).toContain('±30°');
});

test('the Reading Room: figures from the prediction, its midrange and tweeter too far apart for their crossover', () => {
  const { design, data } = readDemo();
  const { loudness, spacing, enclosures } = meaningOf(design, createPredictor()(design, data));
  expect(loudness.find(({ id }) => id === 'level')!.arithmetic[0]).toContain('predicted sum');
  expect(spacing.map(({ tone }) => tone)).toEqual(['fine', 'conflict']);
  // 18 dB of loss are no reason by themselves: what they take of the excursion is.
  expect(enclosures.find(({ id }) => id === 'open-baffle')!.cons.join()).toMatch(/peaks at 48 Hz/);
  for (const list of [loudness, spacing])
    for (const { arithmetic } of list) expect(arithmetic.length).toBeGreaterThan(0);
});

test('presets are whole', () => {
  expect(new Set(amplifierPresets.map(({ id }) => id)).size).toBe(amplifierPresets.length);
});

test('targets have the shapes that they are named after', () => {
  const band = { fromHz: 100, toHz: 10_000 };
  expect(targetDb({ kind: 'tilt', dbPerOctave: -1, ...band }, 4000)).toBeCloseTo(-2, 12);
  const shelf = { kind: 'shelf', stepHz: 200, lowsDb: 6, ...band } as const;
  expect(targetDb(shelf, 1)).toBeCloseTo(6, 2);
  expect(targetDb(shelf, 20_000)).toBeCloseTo(0, 2);
  const points = {
    kind: 'points',
    points: [
      { hz: 100, db: 3 },
      { hz: 400, db: 1 },
    ],
    ...band,
  } as const;
  const drawn = { ...points, points: [...points.points] };
  expect([50, 100, 200, 400, 800].map((hz) => targetDb(drawn, hz))).toEqual([
    3,
    3,
    expect.closeTo(2, 9),
    1,
    1,
  ]);
  expect(
    inOrder([
      { hz: 400, db: 1 },
      { hz: 100, db: 2 },
      { hz: 400, db: 5 },
    ]),
  ).toEqual([
    { hz: 100, db: 2 },
    { hz: 400, db: 5 },
  ]);
});
