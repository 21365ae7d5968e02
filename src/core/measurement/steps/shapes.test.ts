/** Steps on a curve that is known exactly: a band-pass of Butterworth's, moved by a delay. */
import { logGrid } from '@/core/grid/logGrid';
import type { Samples } from '../samples';
import { delay } from './delay';
import { gate } from './gate';
import { interpolation } from './interpolation';
import { degreesOf, smoothPhase } from './phases';
import type { State } from './step';
import { tails } from './tails';

const setting = { commonTiming: true, microphoneDistanceMm: 1000, find: () => undefined };
const state = (samples: Samples, more: Partial<State> = {}): State => ({
  ...{ samples, holdsDelay: true, marks: [], validFromHz: 0, tails: null },
  ...more,
});

/** Second-order high-pass at 60 Hz and low-pass at 8 kHz, Q 0.707, with a flight of 2.9 ms. */
function bandPass(frequencyHz: Float64Array): Samples {
  const magnitude = new Float64Array(frequencyHz.length);
  const phaseDeg = new Float64Array(frequencyHz.length);
  frequencyHz.forEach((hz, i) => {
    const [low, high] = [hz / 60, hz / 8000];
    // −x²/(1 − x² + j·√2·x) and 1/(1 − y² + j·√2·y)
    const sizes = [(1 - low ** 2) ** 2 + 2 * low ** 2, (1 - high ** 2) ** 2 + 2 * high ** 2];
    magnitude[i] = 90 + 40 * Math.log10(low) - 10 * Math.log10(sizes[0] * sizes[1]);
    const angle =
      Math.PI -
      Math.atan2(Math.SQRT2 * low, 1 - low ** 2) -
      Math.atan2(Math.SQRT2 * high, 1 - high ** 2);
    const turns = angle / (2 * Math.PI) - hz * 0.0029;
    phaseDeg[i] = 360 * (turns - Math.round(turns));
  });
  return { frequencyHz, magnitude, phaseDeg };
}

const hz = logGrid(20, 20_000, 48);
const known = bandPass(hz);
const turnsApart = (a: number, b: number) => Math.abs((a - b) / 360 - Math.round((a - b) / 360));

describe('tails', () => {
  test('the slopes that are proposed are those of the filters, in steps of 6 dB', () => {
    const first = tails.first(known, { others: [], sdCm2: null, widthMm: null });
    expect(first).toMatchObject({ belowDbPerOctave: 12, belowHz: 40 });
    expect(first.aboveDbPerOctave).toBe(-12);
    expect(first.aboveHz).toBeLessThan(20_000);
  });

  test('inside, nothing moves; outside, straight lines go on to 10 Hz and 40 kHz', () => {
    const step = {
      ...{ kind: 'tails' as const, isOn: true, belowHz: 30, belowDbPerOctave: 12 },
      ...{ aboveHz: 16_000, aboveDbPerOctave: -12 },
    };
    const { samples, marks, tails: told } = tails.apply(step, state(known), setting);
    const { frequencyHz, magnitude, phaseDeg } = samples!;
    expect(frequencyHz[0]).toBeCloseTo(10, 6);
    const top = frequencyHz[frequencyHz.length - 1];
    expect(Math.abs(Math.log2(top / 40_000))).toBeLessThan(1 / 48);
    for (let i = 1; i < frequencyHz.length; i++)
      expect(frequencyHz[i]).toBeGreaterThan(frequencyHz[i - 1]);
    const exact = bandPass(frequencyHz);
    frequencyHz.forEach((f, i) => {
      if (f >= 30 && f <= 16_000) {
        expect(magnitude[i]).toBeCloseTo(exact.magnitude[i], 2);
        expect(turnsApart(phaseDeg![i], exact.phaseDeg![i])).toBeLessThan(2e-3);
      }
      // The filters themselves go on so; at 30 Hz the slope of the high-pass is not whole yet.
      if (f > 16_000) expect(Math.abs(magnitude[i] - exact.magnitude[i])).toBeLessThan(1);
    });
    const at = (wanted: number) =>
      magnitude[frequencyHz.findIndex((f) => Math.abs(f / wanted - 1) < 0.01)];
    expect(at(10) - at(20)).toBeCloseTo(-12, 0);
    expect(marks!.map(({ fromHz, toHz, isTail }) => [Math.round(fromHz), toHz, isTail])).toEqual([
      [10, 30, true],
      [16_000, top, true],
    ]);
    expect(told).toEqual({ belowDbPerOctave: 12, aboveDbPerOctave: -12 });
  });

  test.each([
    ['below the data', 15, 16_000],
    ['above the data', 30, 21_000],
    ['the higher first', 900, 800],
  ])('%s is refused', (_, belowHz, aboveHz) =>
    expect(() =>
      tails.apply(
        {
          ...{ kind: 'tails', isOn: true, belowHz, belowDbPerOctave: 12 },
          ...{ aboveHz, aboveDbPerOctave: 0 },
        },
        state(known),
        setting,
      ),
    ).toThrow('The tails don’t begin inside the data.'),
  );

  test('without a phase there is none after it either', () => {
    const step = {
      ...{ kind: 'tails' as const, isOn: true, belowHz: 30, belowDbPerOctave: 12 },
      ...{ aboveHz: 16_000, aboveDbPerOctave: -12 },
    };
    const { samples } = tails.apply(step, state({ ...known, phaseDeg: null }), setting);
    expect(samples!.phaseDeg).toBeNull();
  });
});

describe('interpolation', () => {
  const step = {
    ...{ kind: 'bridge' as const, isOn: true, fromHz: 700, toHz: 1500 },
    reason: 'a reflection from the floor',
  };
  /** The same with a notch and a jump of phase between 800 Hz and 1.3 kHz. */
  const spoilt: Samples = {
    ...known,
    magnitude: known.magnitude.map((db, i) => (hz[i] > 800 && hz[i] < 1300 ? db - 14 : db)),
    phaseDeg: known.phaseDeg!.map((deg, i) => (hz[i] > 800 && hz[i] < 1300 ? deg + 60 : deg)),
  };

  test('a notch is bridged by what the curve does on both sides', () => {
    const { samples, marks, note } = interpolation.apply(step, state(spoilt), setting);
    hz.forEach((f, i) => {
      if (f <= 700 || f >= 1500) expect(samples!.magnitude[i]).toBe(spoilt.magnitude[i]);
      else {
        expect(Math.abs(samples!.magnitude[i] - known.magnitude[i])).toBeLessThan(0.05);
        expect(turnsApart(samples!.phaseDeg![i], known.phaseDeg![i])).toBeLessThan(0.01);
      }
    });
    expect(marks).toEqual([{ fromHz: 700, toHz: 1500, reason: step.reason, isTail: false }]);
    expect(note).toContain('a reflection from the floor');
  });

  test.each([
    [20, 100],
    [1000, 20_000],
    [1500, 700],
    [700, 700],
  ])('from %d to %d Hz is refused: there are no points on both sides', (fromHz, toHz) =>
    expect(() => interpolation.apply({ ...step, fromHz, toHz }, state(spoilt), setting)).toThrow(
      'can’t be interpolated',
    ),
  );
});

describe('delay', () => {
  test('a millisecond later turns the phase by 360° at 1 kHz, and no level', () => {
    const step = { kind: 'delay' as const, isOn: true, addedMs: 1 };
    const { samples, note } = delay.apply(step, state(known), setting);
    expect(samples!.magnitude).toBe(known.magnitude);
    hz.forEach((f, i) =>
      expect(samples!.phaseDeg![i]).toBeCloseTo(known.phaseDeg![i] - 0.36 * f, 6),
    );
    expect(note).toBe('Later by 1.000 ms, 343 mm.');
  });

  test('there and back is nothing; earlier is said', () => {
    const there = delay.apply({ kind: 'delay', isOn: true, addedMs: -0.25 }, state(known), setting);
    expect(there.note).toMatch(/^Earlier by 0\.250 ms, 86 mm/);
    const back = delay.apply(
      { kind: 'delay', isOn: true, addedMs: 0.25 },
      state(there.samples!),
      setting,
    );
    back.samples!.phaseDeg!.forEach((deg, i) => expect(deg).toBeCloseTo(known.phaseDeg![i], 9));
  });

  test('a response without phase can’t be moved', () =>
    expect(() =>
      delay.apply(
        { kind: 'delay', isOn: true, addedMs: 1 },
        state({ ...known, phaseDeg: null }),
        setting,
      ),
    ).toThrow('This response has no phase.'));
});

describe('gate', () => {
  const even = Float64Array.from({ length: 2048 }, (_, k) => 10 * (k + 1));
  const direct = bandPass(even);
  /** With a reflection of half the size, 4 ms after the direct sound. */
  const reflected: Samples = {
    frequencyHz: even,
    magnitude: direct.magnitude.map((db, i) => {
      const turn = 2 * Math.PI * even[i] * 0.004;
      return db + 10 * Math.log10(1 + 0.25 + Math.cos(turn));
    }),
    phaseDeg: direct.phaseDeg!.map((deg, i) => {
      const turn = 2 * Math.PI * even[i] * 0.004;
      return deg + (180 / Math.PI) * Math.atan2(-0.5 * Math.sin(turn), 1 + 0.5 * Math.cos(turn));
    }),
  };

  test('what comes after it is gone: the direct sound is left above 1 over its length', () => {
    const step = { kind: 'gate' as const, isOn: true, lengthMs: 3.5 };
    const { samples, validFromHz, note } = gate.apply(step, state(reflected), setting);
    expect(validFromHz).toBeCloseTo(1000 / 3.5, 9);
    expect(note).toMatch(/^Arrival at 2\.\d+ ms/);
    const { frequencyHz, magnitude } = samples!;
    const exact = bandPass(frequencyHz);
    let worst = 0;
    frequencyHz.forEach((f, i) => {
      if (f > 2 * validFromHz! && f < 8000)
        worst = Math.max(worst, Math.abs(magnitude[i] - exact.magnitude[i]));
    });
    // The reflection alone makes it 3.5 to −6 dB wrong.
    expect(worst).toBeLessThan(0.5);
  });

  test('a gate that is longer than the way of the reflection lets it in', () => {
    const step = { kind: 'gate' as const, isOn: true, lengthMs: 12 };
    const { samples } = gate.apply(step, state(reflected), setting);
    const exact = bandPass(samples!.frequencyHz);
    const off = samples!.frequencyHz.map((f, i) =>
      f > 500 && f < 5000 ? Math.abs(samples!.magnitude[i] - exact.magnitude[i]) : 0,
    );
    expect(Math.max(...off)).toBeGreaterThan(3);
  });
});

test('bulk delay and rest put a phase together again', () => {
  const { rest, delaySeconds } = smoothPhase(known);
  expect(delaySeconds * 1000).toBeCloseTo(2.9, 1);
  for (let i = 1; i < rest.length; i++)
    expect(Math.abs(rest[i] - rest[i - 1])).toBeLessThan(Math.PI / 4);
  degreesOf(rest, hz, delaySeconds).forEach((deg, i) => {
    expect(turnsApart(deg, known.phaseDeg![i])).toBeLessThan(1e-9);
    expect(Math.abs(deg)).toBeLessThanOrEqual(180);
  });
});
