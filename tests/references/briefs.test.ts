/**
 * All sentences and their arithmetic for three briefs, as they are told before anything is
 * measured. The figures that decide are worked out by hand beside them; the snapshots keep the
 * words.
 */
import type { Consequence } from '@/core/brief/consequence';
import { meaningOf } from '@/core/brief/consequences';
import type { Option } from '@/core/brief/options';
import { emptyBrief, emptySheet, type Brief } from '@/core/document/briefSchema';
import { emptyDesign, emptyDriver, type Design, type Driver } from '@/core/document/schema';
import { promisesOf } from '@/core/promises/promisesOf';

const sheet = (id: string, name: string, figures: Partial<Driver['sheet']>): Driver => ({
  ...emptyDriver(id, name),
  sheet: { ...emptySheet, ...figures },
});

const design = (brief: Partial<Brief>, drivers: Driver[], outputOhms: number): Design => ({
  ...emptyDesign('x'),
  amplifier: { volts: 2.83, outputOhms, cableOhms: 0.1 },
  brief: { ...emptyBrief, ...brief },
  drivers,
});

type Told = Consequence | Option;
const meaning = (of: Design) =>
  Object.entries(meaningOf(of, null)) as [string, readonly Told[]][];

/** Everything that is told, as lines. */
const told = (of: Design): string[] => [
  ...meaning(of).flatMap(([title, list]) => [
    `== ${title}`,
    ...list.flatMap((one) =>
      'text' in one
        ? [`[${one.tone}] ${one.text}`, ...one.arithmetic.map((line) => `    ${line}`)]
        : [
            `${one.name}: ${one.ruledOut ?? 'possible'}`,
            ...one.pros.map((line) => `  + ${line}`),
            ...one.cons.map((line) => `  - ${line}`),
            ...one.arithmetic.map((line) => `    ${line}`),
          ],
    ),
  ]),
  '== promises',
  ...promisesOf(of).map(
    ({ kind, atLeast, atMost, source }) =>
      `${kind} ${atLeast === null ? '' : `≥ ${atLeast.toFixed(2)}`}${atMost === null ? '' : `≤ ${atMost.toFixed(2)}`}: ${source.arithmetic}`,
  ),
];
const sentence = (of: Design, id: string): Told | undefined =>
  meaning(of)
    .flatMap(([, list]) => list)
    .find((one) => one.id === id);
const lines = (of: Design, id: string): string => sentence(of, id)!.arithmetic.join('\n');

const dome = sheet('dome', 'Dome', {
  ...{ fsHz: 900, qes: 1.2, qms: 2, sdCm2: 7, mmsG: 0.35, blTm: 3, xmaxMm: 0.4, reOhm: 5.5 },
  ...{ ratedWatts: 60, ratedAs: 'system', nominalOhms: 8, filterHz: 2800, filterOrder: 2 },
});

describe('a single valve, 6 W, for one listener', () => {
  const woofer = sheet('woofer', 'Woofer', {
    ...{ fsHz: 40, qes: 0.4, qms: 5, vasLitres: 80, sdCm2: 350, xmaxMm: 4, reOhm: 6 },
    ...{ ratedWatts: 50, ratedAs: 'noise', nominalOhms: 8 },
  });
  const brief: Partial<Brief> = {
    ...{ purpose: 'music', place: 'free', farthestSeatMm: 2500, nearestSeatMm: 2500 },
    ...{ speakerCount: 2, ratedWatts: 6, ratedIntoOhms: 8, lowestLoadOhms: 6, ratedOhms: 8 },
    ...{ loudnessDb: 80, headroomDb: 12, reach3Hz: 55, programme: 'music' },
    ...{ widthMm: 400, heightMm: 800, depthMm: 350, spreadDeg: 10 },
  };
  const valve = design(brief, [woofer, dome], 2.5);

  test('its words', () => expect(told(valve)).toMatchSnapshot());

  test('its figures', () => {
    // A sine of 80 + 12 − 3.01 = 88.99 dB; √48 V over √8 V: 7.78 dB; 2.5 m: −7.96; pair +3.01; room
    // 10·lg 2.5 = 3.98. 88.99 − 7.78 + 7.96 − 3.01 − 3.98 = 82.18 dB, told rounded up.
    expect(sentence(valve, 'needed-sensitivity')).toMatchObject({
      text: expect.stringContaining('at least 82.2 dB') as string,
    });
    // η₀ = 4π²/343.2³·40³·0.08/0.4 = 1.250 %; 112.16 − 19.03 + 10·lg(8/6) = 94.4 dB; step of 400
    // mm: 4.96 dB.
    expect(lines(valve, 'level')).toContain('η₀ = 1.25 %, 94.4 dB');
    expect(lines(valve, 'level')).toMatch(/Sensitivity 89\.\d dB/);
    // √48·(1 + 2.5/8)·√0.2 = 4.07 V of music at the source.
    expect(lines(valve, 'load--woofer')).toContain('Source: 4.1 V rms');
    // Qes·(6 + 2.6)/6 = 0.573, with Qms 5: 0.514. 0.85·362·762·312 mm = 73.2 l: √(1 + 80/73.2) =
    // 1.447, Q = 0.744.
    expect(lines(valve, 'driver-in-box')).toContain('Qts = 0.514');
    expect(lines(valve, 'driver-in-box')).toContain('= 0.744, fc = 57.9 Hz');
    // 20·lg(40/42.6 ÷ 6.4/9) = 2.41 dB.
    expect(lines(valve, 'swing')).toContain('= 2.41 dB');
    // Nothing of class B is promised of valves.
    expect(promisesOf(valve).map(({ kind }) => kind)).not.toContain('equivalent-resistance');
  });
});

describe('two small woofers close to a wall', () => {
  const figures = {
    ...{ fsHz: 48, qes: 0.45, qms: 4, vasLitres: 14, sdCm2: 95, xmaxMm: 5, mechanicalMm: 9 },
    ...{ reOhm: 6.2, ratedWatts: 60 },
  };
  const brief: Partial<Brief> = {
    ...{ purpose: 'film', place: 'near-wall', farthestSeatMm: 3500, nearestSeatMm: 3000 },
    ...{ speakerCount: 2, ratedWatts: 80, ratedIntoOhms: 8, lowestLoadOhms: 3.2, ratedOhms: 4 },
    ...{ loudnessDb: 88, headroomDb: 14, reach3Hz: 50, roomSquareMetres: 25 },
    ...{ widthMm: 180, heightMm: 600, depthMm: 240 },
  };
  const wall = design(
    brief,
    [sheet('w1', 'Lower woofer', figures), sheet('w2', 'Upper woofer', figures), dome],
    0.05,
  );

  test('its words', () => expect(told(wall)).toMatchSnapshot());

  test('its figures', () => {
    // η₀ = 4π²/343.2³·48³·0.014/0.45 = 0.336 %; 112.16 − 24.74 + 10·lg(8/6.2) = 88.5 dB; two in
    // parallel + 6.0.
    expect(lines(wall, 'level')).toContain('η₀ = 0.336 %, 88.5 dB');
    expect(lines(wall, 'level')).toContain('2 of them in parallel: + 6.0 dB');
    // Step of 180 mm: 5.75 dB by numpy, half of it close to a wall.
    expect(lines(wall, 'level')).toContain('5.8 dB; close to a surface, half of it is lost: 2.9 dB');
    // Room: 10·lg(3.5/√1.25) = 4.96 dB.
    expect(lines(wall, 'level')).toContain('+ 5.0 (room)');
    // Four cones in the lows: + 12.0 dB as pressure. 0.0095 m², ±5 mm at 50 Hz:
    // 20·lg(1.204·ω²·Sd·x/(2π√2)/20 µPa) = 90.0 dB.
    expect(lines(wall, 'bass')).toContain('90.0 dB at 1 m');
    expect(lines(wall, 'bass')).toContain('4 at low frequencies add as pressure: + 12.0 dB');
    // Nobody said which power, or by which impedance: 6.2 Ω speak for 8 Ω; 60·8 = 480 V².
    expect(lines(wall, 'load--w1')).toContain('taken as the data sheet does not say which');
    expect(lines(wall, 'load--w1')).toContain('8 Ω (assumed) = 480 V²');
    // 0.8·4 Ω.
    expect(promisesOf(wall).find(({ kind }) => kind === 'lowest-impedance')!.atLeast).toBe(3.2);
  });
});

describe('the open air', () => {
  const woofer = sheet('woofer', 'Woofer', {
    ...{ fsHz: 38, qes: 0.3, qms: 6, vasLitres: 180, sdCm2: 530, xmaxMm: 6, reOhm: 5.4 },
    ...{ ratedWatts: 500, ratedAs: 'programme', nominalOhms: 8 },
  });
  const brief: Partial<Brief> = {
    ...{ purpose: 'outdoors', place: 'free', farthestSeatMm: 12_000, nearestSeatMm: 4000 },
    ...{ speakerCount: 2, ratedWatts: 200, ratedIntoOhms: 8, lowestLoadOhms: 4, ratedOhms: 8 },
    ...{ loudnessDb: 92, headroomDb: 10, reach3Hz: 45, programme: 'full' },
    ...{ widthMm: 500, heightMm: 900, depthMm: 450, spreadDeg: 40 },
  };
  const air = design(brief, [woofer, dome], 0.03);

  test('its words', () => expect(told(air)).toMatchSnapshot());

  test('its figures', () => {
    // No room: 12 m are −21.58 dB. A sine of 98.99 − 23.01 (√1600/√8) + 21.58 − 3.01 = 94.55 dB,
    // up: 94.6.
    expect(sentence(air, 'needed-sensitivity')).toMatchObject({
      text: expect.stringContaining('at least 94.6 dB') as string,
    });
    // η₀ = 4π²/343.2³·38³·0.18/0.3 = 3.215 %; 112.16 − 14.93 + 10·lg(8/5.4) = 98.9 dB.
    expect(lines(air, 'level')).toContain('98.9 dB');
    // Programme of 500 W is noise of 250 W: 2000 V². Half the power of 200 W at the source:
    // √(1600·0.5)·1.00375 = 28.4 V.
    expect(lines(air, 'load--woofer')).toContain('programme, twice that of noise: 250 W of noise');
    expect(lines(air, 'load--woofer')).toContain('= 2000 V²');
    expect(lines(air, 'load--woofer')).toContain('Source: 28.4 V rms');
    // Seats at 40°: −6 dB from ka = 2.215/sin 40° = 3.446 on, 530 cm²: 3.446·343.2/(2π·0.12989) =
    // 1449 Hz.
    expect(sentence(air, 'one-way')).toMatchObject({
      ruledOut: expect.stringContaining('1450 Hz') as string,
    });
    // The dome starts above 1800 Hz (2·fs), the woofer narrows at ka = 2: 841 Hz.
    expect(sentence(air, 'crossing-woofer-dome')).toMatchObject({ tone: 'conflict' });
    expect(lines(air, 'crossing-woofer-dome')).toContain('841 Hz');
  });
});
