import { nothingOffAxis } from '@/core/prediction/offAxisLevels';
import { emptyBrief, flatTarget, type PromiseEntry } from '@/core/document/briefSchema';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import type { Prediction, WayPrediction } from '@/core/prediction/prediction';
import { emptyDesign, plainWay, type Design, type Way } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { heardWay, readDemo } from '../../../tests/fixtures';
import { judge, type Verdict } from './judge';
import { kinds } from './kinds/kinds';
import { leversOf } from './levers';
import type { DesignPromise } from './promise';
import { promisesOf } from './promisesOf';

/** A made-up prediction whose figures are known exactly. */
function made(
  level: (hz: number) => number,
  impedance: (hz: number) => [ohms: number, degrees: number] = () => [8, 0],
  ways: readonly WayPrediction[] = [],
): Prediction {
  const frequencyHz = logGrid(20, 20_480, 48);
  const over = (of: (hz: number) => number) => Float64Array.from(frequencyHz, of);
  const whole = heardWay('w', over(level), 0);
  return {
    frequencyHz,
    ways: ways.length > 0 ? ways : [whole],
    offAxis: nothingOffAxis,
    sum: { levelDb: over(level), pressure: whole.pressure },
    loads: [],
    strains: [],
    impedance: {
      ohms: over((hz) => impedance(hz)[0]),
      phaseDeg: over((hz) => impedance(hz)[1]),
    },
    findings: [],
    summary: { lowestImpedance: null, onAxis: null },
  };
}

/** A promise as somebody would make it by hand. */
function promised(
  kind: PromiseEntry['kind'],
  set: Partial<PromiseEntry> = {},
  design: Partial<Design> = {},
) {
  const entry: PromiseEntry = {
    id: 'own',
    kind,
    isOff: false,
    atLeast: null,
    atMost: null,
    fromHz: null,
    toHz: null,
    angle: null,
    weight: null,
    ...set,
  };
  const amplifier = { ...emptyDesign('x').amplifier, outputOhms: 0 };
  return promisesOf({ ...emptyDesign('x'), amplifier, ...design, promises: [entry] });
}

const verdictOf = (prediction: Prediction | null, promises: readonly DesignPromise[]): Verdict =>
  judge(prediction, promises)[0];

describe('judging curves whose figures are known', () => {
  test('± is half of what lies between the highest and the lowest, in the band only', () => {
    const bump = made((hz) => 80 + (hz > 990 && hz < 1010 ? 3 : 0) - (hz > 16_000 ? 20 : 0));
    const verdict = verdictOf(bump, promised('on-axis', { atMost: 2 }));
    expect(verdict).toMatchObject({ value: 1.5, margin: 0.5, isKept: true });
    expect(verdict.atHz).toBeGreaterThan(990);
    expect(verdict.atHz).toBeLessThan(1010);
    expect(verdictOf(bump, promised('on-axis', { atMost: 2, toHz: 20_000 }))).toMatchObject({
      value: 11.5,
      isKept: false,
    });
  });

  test('a response that follows a tilted target strays by nothing', () => {
    const tilted = made((hz) => 85 - 0.5 * Math.log2(hz));
    const target = { kind: 'tilt', dbPerOctave: -0.5, fromHz: 100, toHz: 10_000 } as const;
    expect(verdictOf(tilted, promised('on-axis', {}, { target })).value).toBeCloseTo(0, 9);
    // Against a flat one it strays by half of its fall over the band: log2(100)·0.5/2.
    const flat = { ...flatTarget, fromHz: 100, toHz: 10_000 };
    expect(verdictOf(tilted, promised('on-axis', {}, { target: flat })).value).toBeCloseTo(
      0.25 * Math.log2(100),
      1,
    );
  });

  test('reach of a second-order high pass is where the formula says', () => {
    // |H|² of a second-order Butterworth high pass: 10·log(1 + (f₀/f)⁴) down.
    const box = made((hz) => 90 - 10 * Math.log10(1 + (50 / hz) ** 4));
    const reference = 90;
    const at = (fall: number) => 50 / (10 ** (fall / 10) - 1) ** 0.25;
    expect(verdictOf(box, promised('reach-3')).value).toBeCloseTo(at(3), 1);
    expect(verdictOf(box, promised('reach-10')).value).toBeCloseTo(at(10), 1);
    expect(verdictOf(box, promised('sensitivity')).value).toBeCloseTo(
      reference - 20 * Math.log10(2.83 / Math.sqrt(8)),
      2,
    );
  });

  test('a level that never falls reaches the end of the data', () => {
    expect(
      verdictOf(
        made(() => 90),
        promised('reach-3'),
      ).value,
    ).toBe(20);
  });

  test('a dip far below the reach does not hide it, and silence is not taken for level', () => {
    const dip = made((hz) => (hz < 30 ? -Infinity : hz < 60 ? 70 : 90));
    expect(verdictOf(dip, promised('reach-10')).value).toBeCloseTo(60, 0);
  });

  test('the lowest impedance and the worst equivalent are found with their places', () => {
    const load = made(
      () => 90,
      (hz) => (hz > 95 && hz < 105 ? [3.5, 0] : hz > 1900 && hz < 2100 ? [4, -60] : [8, 0]),
    );
    expect(verdictOf(load, promised('lowest-impedance', { atLeast: 3.2 }))).toMatchObject({
      value: 3.5,
      isKept: true,
    });
    const worst = verdictOf(load, promised('equivalent-resistance', { atLeast: 2 }));
    expect(worst.isKept).toBe(false);
    expect(worst.atHz).toBeGreaterThan(1900);
  });

  test('crossover loss is what an angle costs where two are equal, and fades with their difference', () => {
    const frequencyHz = logGrid(20, 20_480, 48);
    const way = (wayId: string, slope: number, phase: number): WayPrediction => {
      const over = (of: (hz: number) => number) => Float64Array.from(frequencyHz, of);
      return heardWay(
        wayId,
        over((hz) => 90 - 3 + slope * Math.log2(hz / 1000)),
        phase,
      );
    };
    const apart = (degrees: number) =>
      made(() => 90, undefined, [way('high', 12, 340 + degrees), way('low', -12, -20)]);
    // Two alike that are φ apart make 2·cos(φ/2) of two.
    const loss = (degrees: number) => -20 * Math.log10(Math.cos((degrees * Math.PI) / 360));
    for (const degrees of [0, 30, 60, 150]) {
      const { value, atHz } = verdictOf(apart(degrees), promised('phase-tracking'));
      // The crossover lies on the grid within 1/96 octave, where two are a quarter decibel apart.
      expect(value).toBeCloseTo(loss(degrees), 2);
      if (degrees > 0) expect(atHz! / 1000).toBeCloseTo(1, 1);
    }
    expect(verdictOf(apart(29), promised('phase-tracking')).isKept).toBe(true);
    expect(verdictOf(apart(32), promised('phase-tracking')).isKept).toBe(false);
    expect(
      verdictOf(
        made(() => 90),
        promised('phase-tracking'),
      ).needs,
    ).toMatch(/two ways/);
  });

  test('a limit on either side holds, and the nearer one makes the margin', () => {
    const both = promised('sensitivity', { atLeast: 85, atMost: 90 });
    const at = (db: number) =>
      verdictOf(
        made(() => db + 20 * Math.log10(2.83 / Math.sqrt(8))),
        both,
      );
    expect(at(86).margin).toBeCloseTo(1, 9);
    expect(at(89.5).margin).toBeCloseTo(0.5, 9);
    expect(at(91)).toMatchObject({ isKept: false });
  });
});

test('what can’t be judged yet says what it needs', () => {
  for (const kind of Object.keys(kinds) as PromiseEntry['kind'][]) {
    const verdict = verdictOf(null, promised(kind));
    expect(verdict.value).toBeNull();
    expect(verdict.isKept).toBeNull();
    expect(verdict.needs!.length).toBeGreaterThan(5);
  }
  expect(verdictOf(null, promised('on-axis')).needs).toBe('drivers');
  expect(
    verdictOf(
      made(() => 90),
      promised('seat-level'),
    ).needs,
  ).toMatch(/seats/);
});

describe('promises from the brief', () => {
  const brief = {
    ...emptyBrief,
    purpose: 'music',
    ratedOhms: 6,
    lowestLoadOhms: 4,
    loudnessDb: 80,
    headroomDb: 10,
    farthestSeatMm: 2000,
    ratedWatts: 8,
    ratedIntoOhms: 8,
    givesWay: ['reach', 'evenness', 'loudness'],
    reach3Hz: 45,
  } as const;
  const design: Design = {
    ...emptyDesign('x'),
    brief: { ...brief, givesWay: [...brief.givesWay] },
  };
  const kept = (of: Design) => new Map(promisesOf(of).map((promise) => [promise.id, promise]));

  test('an empty brief promises nothing while there are no drivers', () =>
    expect(promisesOf(emptyDesign('x'))).toEqual([]));

  test('limits follow from the answers, with their arithmetic', () => {
    const promises = kept(design);
    expect(promises.get('lowest-impedance')).toMatchObject({
      atLeast: 4.8,
      atMost: null,
      weight: 5,
    });
    expect(promises.get('lowest-impedance')!.source.arithmetic).toContain('IEC 60268-5');
    expect(promises.get('on-axis')!.atMost).toBe(2);
    // Peaks of 90 dB are those of a sine of 86.99, told as 87; − 9.03 (8 W) + 6.02 (2 m) − 3.01 (a
    // pair) − 3.01 (room at 2 m).
    expect(promises.get('seat-level')!.atLeast).toBe(87);
    // 86.99 − 9.03 + 6.02 − 3.01 − 3.01 = 77.96, to the safe side.
    expect(promises.get('sensitivity')!.atLeast).toBe(78);
    expect(promises.has('travel')).toBe(false);
  });

  test('what a class-B stage fears is not promised of valves', () => {
    const asked = { ...design, brief: { ...design.brief, lowestLoadOhms: 4 } };
    expect(kept(asked).get('equivalent-resistance')!.atLeast).toBe(2);
    const valve = { ...asked, amplifier: { ...asked.amplifier, outputOhms: 2.5 } };
    expect(kept(valve).has('equivalent-resistance')).toBe(false);
  });

  test('slopes that are meant to be 90° apart are promised to be, and judged so', () => {
    const slope = { alignment: 'butterworth', order: 3, hz: 2000 } as const;
    const way = { ...plainWay, parts: [], groups: [], ends: [] };
    const odd: Design = {
      ...design,
      ways: [
        { ...way, id: 'low', name: 'Low', target: { highPass: null, lowPass: slope } },
        { ...way, id: 'high', name: 'High', target: { highPass: slope, lowPass: null } },
      ],
    };
    const tracking = kept(odd).get('phase-tracking')!;
    expect(tracking.source.arithmetic).toContain('Low and High are meant to be 90° apart');
    expect(kept(design).get('phase-tracking')!.source.arithmetic).not.toContain('90°');
    // BW3 at 2 kHz: equal there, 90° apart at every frequency.
    const level = (hz: number, isHigh: boolean) =>
      -10 * Math.log10(1 + (isHigh ? 2000 / hz : hz / 2000) ** 6);
    const part = (wayId: string, isHigh: boolean, degrees: number): WayPrediction => {
      const frequencyHz = logGrid(20, 20_480, 48);
      const over = (of: (hz: number) => number) => Float64Array.from(frequencyHz, of);
      return heardWay(
        wayId,
        over((hz) => level(hz, isHigh)),
        degrees,
      );
    };
    const whole = made(() => 0, undefined, [part('low', false, 0), part('high', true, -90)]);
    expect(judge(whole, [tracking])[0]).toMatchObject({ isKept: true });
    expect(judge(whole, [tracking])[0].value).toBeCloseTo(0, 6);
    expect(judge(whole, [kept(design).get('phase-tracking')!])[0].isKept).toBe(false);
  });

  test('a nudge of a part asks for the same promises; whatever else changes makes them anew', () => {
    const { design } = readDemo();
    const { parts, ...way } = design.ways[0];
    const first = promisesOf(design);
    const nudged = applyChange(design, { type: 'setPartValue', id: parts[0].id, value: 1e-3 });
    expect(promisesOf(nudged)).toBe(first);
    const wayOf = (set: Partial<Way>): Design => ({
      ...design,
      ways: [{ ...way, parts, ...set }, ...design.ways.slice(1)],
    });
    const named = { ...design, drivers: design.drivers.map((one) => ({ ...one, name: 'Horn' })) };
    const others: readonly Design[] = [
      named,
      wayOf({ name: 'Lows' }),
      wayOf({ target: { highPass: null, lowPass: null } }),
      { ...design, ways: design.ways.slice(1) },
      { ...design, brief: { ...design.brief, evennessDb: 0.5 } },
      { ...design, amplifier: { ...design.amplifier, outputOhms: 3 } },
    ];
    for (const other of others) {
      const made = promisesOf(other);
      expect(made).not.toBe(first);
      expect(promisesOf({ ...other })).toBe(made);
    }
    expect(JSON.stringify(promisesOf(named))).toContain('Horn');
  });

  test('what gives way first weighs least', () => {
    const promises = kept(design);
    expect(['reach-3', 'on-axis', 'seat-level'].map((id) => promises.get(id)!.weight)).toEqual([
      1, 3, 5,
    ]);
  });

  test('an adjusted promise keeps its source; one that is off is gone; the brief still moves the others', () => {
    const entry: PromiseEntry = {
      id: 'on-axis',
      kind: 'on-axis',
      isOff: false,
      atLeast: null,
      atMost: 1,
      fromHz: 300,
      toHz: null,
      angle: null,
      weight: null,
    };
    const adjusted = kept(applyChange(design, { type: 'setPromise', entry })).get('on-axis')!;
    expect(adjusted).toMatchObject({
      atMost: 1,
      band: { fromHz: 300, toHz: 15_000 },
      source: { isAdjusted: true },
    });
    const off = applyChange(design, { type: 'setPromise', entry: { ...entry, isOff: true } });
    expect(kept(off).has('on-axis')).toBe(false);
    expect(
      kept(applyChange(off, { type: 'answer', set: { reach3Hz: 40 } })).get('reach-3')!.atMost,
    ).toBe(40);
    expect(
      kept(applyChange(off, { type: 'removePromise', id: 'on-axis' })).get('on-axis')!.atMost,
    ).toBe(2);
  });
});

test('a broken promise names the parts that move it, and moving them helps', () => {
  const { design, data } = readDemo();
  const predict = createPredictor();
  const margin = (of: Design) =>
    judge(predict(of, data), promisesOf(of)).find(({ kind }) => kind === 'lowest-impedance')!
      .margin!;
  expect(margin(design)).toBeLessThan(0);
  const [strongest, second] = leversOf(design, data, predict).get('lowest-impedance')!;
  expect(strongest.gain).toBeGreaterThanOrEqual(second.gain);
  const part = design.ways.flatMap((way) => way.parts).find(({ id }) => id === strongest.partId)!;
  const value =
    ('henries' in part ? part.henries : 'farads' in part ? part.farads : part.ohms) *
    (strongest.direction === 'larger' ? 1.1 : 1 / 1.1);
  const after = margin(applyChange(design, { type: 'setPartValue', id: part.id, value }));
  expect(after - margin(design)).toBeCloseTo(strongest.gain, 9);
});
