import { logGrid } from '@/core/grid/logGrid';
import { partValue } from '@/core/document/partKinds';
import { magnitudesOf, phaseDegOf, sumIfReversedDb } from '@/core/prediction/derived';
import { readDemo, measurementStatement, seededRandom } from '../../../tests/fixtures';
import type { Samples } from '../measurement/samples';
import { applyChange } from '@/core/editing/applyChange';
import { arrangeWay, type Change } from '@/core/editing/change';
import { createPredictor, predict } from './predict';
import { readSpice } from '@/core/network/spice';
import { placed } from '@/core/editing/arrange';
import { networkDeck } from '@/core/insight/networkDeck';
import {
  emptyDesign,
  emptyDriver,
  endAt,
  plainPart,
  plainWay,
  type Design,
  type Part,
} from '@/core/document/schema';

const flat = (magnitude: number, phase: number | null = 0, from = 10, to = 40_000): Samples => ({
  frequencyHz: Float64Array.of(from, to),
  magnitude: Float64Array.of(magnitude, magnitude),
  phaseDeg: phase === null ? null : Float64Array.of(phase, phase),
});
const id = (letter: string) => letter.repeat(32);

/** One or two drivers of 8 Ω and 90 dB, and any parts. */
function simple(
  wayParts: Part[][],
  response: Samples = flat(90),
): { design: Design; data: Map<string, Samples> } {
  return {
    data: new Map([
      [id('a'), response],
      [id('b'), flat(8)],
    ]),
    design: {
      ...emptyDesign('simple'),
      amplifier: { volts: 2.83, outputOhms: 0, cableOhms: 0 },
      measurements: [
        measurementStatement(id('a'), 'response'),
        measurementStatement(id('b'), 'impedance'),
      ],
      drivers: wayParts.map((_, i) => ({
        ...emptyDriver(`d${i}`, `Driver ${i}`),
        responseId: id('a'),
        impedanceId: id('b'),
      })),
      ways: wayParts.map((parts, i) => ({
        ...plainWay,
        id: `w${i}`,
        name: `Way ${i}`,
        ends: [endAt(`d${i}`)],
        parts,
      })),
    },
  };
}

const capacitor: Part = {
  ...plainPart,
  kind: 'capacitor',
  id: 'c1',
  name: 'C1',
  place: 'series',
  farads: 10e-6,
  seriesOhms: 0,
};
const at = (frequencyHz: Float64Array, hz: number) => frequencyHz.findIndex((f) => f >= hz);

test('10 µF before 8 Ω: level, voltage and impedance in closed form', () => {
  const grid = Float64Array.of(1989.436788648692, 994.718394324346);
  const { design, data } = simple([[capacitor]]);
  const { ways, sum, impedance } = createPredictor(grid)(design, data);
  // |H| = x/√(1+x²), x = 2πfRC; |Z| = √(R² + 1/(2πfC)²).
  [1, 0.5].forEach((x, i) => {
    const gain = x / Math.sqrt(1 + x * x);
    expect(sum!.levelDb[i]).toBeCloseTo(90 + 20 * Math.log10(gain), 9);
    expect(magnitudesOf(ways[0].voltage)[i]).toBeCloseTo(2.83 * gain, 9);
    expect(phaseDegOf(ways[0].voltage)[i]).toBeCloseTo((Math.atan(1 / x) * 180) / Math.PI, 9);
    expect(impedance!.ohms[i]).toBeCloseTo(8 * Math.sqrt(1 + 1 / (x * x)), 9);
    expect(impedance!.phaseDeg[i]).toBeCloseTo((-Math.atan(1 / x) * 180) / Math.PI, 9);
  });
});

test('two equal ways sum to 6.02 dB more; one reversed, they cancel', () => {
  const { design, data } = simple([[], []]);
  const { sum, ways, impedance } = predict(design, data);
  expect(sum!.levelDb[100]).toBeCloseTo(96.0206, 4);
  expect(sumIfReversedDb(sum!, ways[1])[100]).toBe(-Infinity);
  expect(impedance!.ohms[100]).toBeCloseTo(4, 12);
  const turned = predict(
    applyChange(design, { type: 'editWay', id: 'w1', set: { polarity: 'reversed' } }),
    data,
  );
  expect(turned.sum!.levelDb[100]).toBe(-Infinity);
  expect(sumIfReversedDb(turned.sum!, turned.ways[0])[100]).toBeCloseTo(96.0206, 4);
});

test('half a wavelength of depth cancels two ways', () => {
  const { design, data } = simple([[], []]);
  const withoutTiming = {
    ...design,
    measurements: design.measurements.map((m) => ({
      ...m,
      microphone: { ...m.microphone, commonTiming: false },
    })),
  };
  const deeper = applyChange(withoutTiming, {
    type: 'editDriver',
    id: 'd1',
    set: { position: { xMm: 0, yMm: 0, zMm: -100 } },
  });
  const { frequencyHz, sum } = predict(deeper, data);
  // 343.2 m/s over 0.2 m.
  const notch = sum!.levelDb.indexOf(Math.min(...sum!.levelDb.subarray(0, at(frequencyHz, 3000))));
  expect(frequencyHz[notch] / 1716).toBeCloseTo(1, 1);
});

test('the amplifier’s output resistance divides the voltage but is no part of the load', () => {
  const { design, data } = simple([[]]);
  const { ways, impedance } = predict(
    applyChange(design, {
      type: 'setAmplifier',
      amplifier: { volts: 2.83, outputOhms: 2, cableOhms: 0 },
    }),
    data,
  );
  expect(magnitudesOf(ways[0].voltage)[0]).toBeCloseTo(2.83 * 0.8, 12);
  expect(impedance!.ohms[0]).toBeCloseTo(8, 12);
});

test('a bypassed series part is a wire, a bypassed shunt part is gone', () => {
  const shunt: Part = {
    ...plainPart,
    kind: 'resistor',
    id: 'r1',
    name: 'R1',
    place: 'shunt',
    ohms: 8,
  };
  const { design, data } = simple([[capacitor, shunt]]);
  expect(predict(design, data, { bypassedPartId: 'c1' }).impedance!.ohms[10]).toBeCloseTo(4, 12);
  const without = predict(design, data, { bypassedPartId: 'r1' });
  expect(without.impedance!.ohms).toEqual(
    predict(simple([[capacitor]]).design, data).impedance!.ohms,
  );
});

describe('findings', () => {
  const codes = (design: Design, data: Map<string, Samples>) =>
    predict(design, data).findings.map((f) => f.code);
  const base = simple([[], []]);

  test('none when all is there', () => expect(codes(base.design, base.data)).toEqual([]));
  test('a way without driver, a driver without impedance or response', () => {
    let { design } = base;
    design = applyChange(design, { type: 'editWay', id: 'w0', set: { ends: [] } });
    design = applyChange(design, {
      type: 'editDriver',
      id: 'd1',
      set: { impedanceId: null, responseId: null },
    });
    expect(codes(design, base.data)).toEqual([
      'way_without_driver',
      'driver_without_impedance',
      'driver_without_response',
    ]);
    expect(predict(design, base.data)).toMatchObject({ sum: null, impedance: null, ways: [] });
  });
  test('a driver that is only a load is silent, and the other one still sounds', () => {
    const design = applyChange(base.design, {
      type: 'editDriver',
      id: 'd1',
      set: { responseId: null },
    });
    const { sum, impedance } = predict(design, base.data);
    expect(sum!.levelDb[10]).toBeCloseTo(90, 9);
    expect(impedance!.ohms[10]).toBeCloseTo(4, 12);
  });
  test('no phase', () => {
    const { design, data } = simple([[], []], flat(90, null));
    expect(codes(design, data)).toEqual(['response_without_phase', 'response_without_phase']);
  });
  test('data that end where the driver is still heard', () => {
    const { design, data } = simple([[]], flat(90, 0, 200, 40_000));
    const [finding] = predict(design, data).findings;
    expect(finding).toMatchObject({ code: 'data_end_too_early', severity: 'doubt' });
    expect(finding.what).toContain('no data below 20');
  });
  test('mixed timing, and a delay that has no meaning without it', () => {
    const frequencyHz = Float64Array.from({ length: 400 }, (_, i) => 50 * (i + 1));
    const delayed: Samples = {
      frequencyHz,
      magnitude: frequencyHz.map(() => 90),
      phaseDeg: frequencyHz.map((f) => -360 * f * 0.003),
    };
    const { design, data } = simple([[], []]);
    data.set(id('c'), delayed);
    const own = {
      ...measurementStatement(id('c'), 'response'),
      microphone: { placement: 'own-axis', distanceMm: 1000, commonTiming: false } as const,
    };
    const mixed = applyChange(
      { ...design, measurements: [...design.measurements, own] },
      { type: 'editDriver', id: 'd1', set: { responseId: id('c') } },
    );
    expect(codes(mixed, data)).toContain('mixed_timing');
    const doubt = predict(mixed, data).findings.find(
      (f) => f.code === 'delay_without_common_timing',
    );
    expect(doubt!.what).toContain('3.00 ms');
  });
  test('a value that no such part has is questioned, wherever it came from', () => {
    const { design, data } = readDemo();
    const farads = applyChange(design, { type: 'setPartValue', id: 'c1', value: 4.7e-1 });
    const [found] = predict(farads, data).findings;
    expect(found).toMatchObject({ code: 'unusual_value', where: 'C1', severity: 'doubt' });
    expect(found.why).toContain('47 nF to 2000 µF');
    for (const [id, value] of [
      ['c1', 2e-3],
      ['l1', 10e-6],
      ['r1', 0.05],
    ] as const)
      expect(
        predict(applyChange(design, { type: 'setPartValue', id, value }), data).findings,
      ).toEqual([]);
  });

  test('a value that no part can have, also after a sound one', () => {
    const { design, data } = simple([[capacitor]]);
    const predictor = createPredictor();
    expect(predictor(design, data).findings).toEqual([]);
    const broken = applyChange(design, { type: 'setPartValue', id: 'c1', value: 0 });
    expect(predictor(broken, data).findings).toMatchObject([
      { code: 'value_not_positive', where: 'C1', severity: 'stops' },
    ]);
    expect(predictor(design, data).findings).toEqual([]);
  });
  test('a network that can’t be solved', () => {
    const coil: Part = {
      ...plainPart,
      kind: 'coil',
      id: 'l1',
      name: 'L1',
      place: 'shunt',
      henries: 1e-3,
      seriesOhms: 0,
    };
    const { design, data } = simple([[coil]]);
    expect(predict(design, data).findings).toMatchObject([
      { code: 'ideal_loop', severity: 'stops', what: expect.stringContaining('L1') as string },
    ]);
  });
});

test('the demo has something to do: a bump on axis and a load under 4.8 Ω', () => {
  const { design, data } = readDemo();
  const { summary, findings } = predict(design, data);
  expect(findings).toEqual([]);
  expect(summary.lowestImpedance!.ohms).toBeLessThan(4.8);
  expect(summary.lowestImpedance!.ohms).toBeGreaterThan(3);
  expect(summary.onAxis!.highestDb).toBeGreaterThan(2.5);
  expect(summary.onAxis!.highestDb).toBeLessThan(6);
});

test.each([1, 2])(
  'a predictor that remembers gives what one from scratch gives, seed %i',
  (seed) => {
    const { design: start, data } = readDemo();
    const random = seededRandom(seed);
    // Coarse, as what is compared is what is remembered.
    const coarse = logGrid(50, 15_000, 3);
    const remembering = createPredictor(coarse);
    let design = start;
    for (let i = 0; i < 25; i++) {
      const way = design.ways[Math.floor(random() * design.ways.length)];
      const part = way.parts[Math.floor(random() * way.parts.length)];
      const changes: Change[] = [
        { type: 'setPartValue', id: part.id, value: partValue(part) * (0.5 + random()) },
        arrangeWay(way.id, placed(way, part.id, part.place === 'series' ? 'shunt' : 'series')),
        {
          type: 'editWay',
          id: 'way-midrange',
          set: { polarity: random() < 0.5 ? 'normal' : 'reversed' },
        },
        {
          type: 'editDriver',
          id: 'tweeter',
          set: { position: { xMm: 0, yMm: 60, zMm: -50 * random() } },
        },
        { type: 'setListeningDistance', distanceMm: 1000 + 1000 * random() },
      ];
      design = applyChange(design, changes[Math.floor(random() * changes.length)]);
      expect(remembering(design, data)).toEqual(createPredictor(coarse)(design, data));
    }
  },
);

test('coupled coils: two in series aid or oppose each other, L₁ + L₂ ± 2M', () => {
  const coil = (name: string): Part => ({
    ...plainPart,
    kind: 'coil',
    id: name,
    name: name.toUpperCase(),
    place: 'series',
    henries: 1e-3,
    seriesOhms: 0.1,
  });
  const { design, data } = simple([[coil('l1'), coil('l2')]]);
  const hz = Float64Array.of(1000);
  for (const coefficient of [0.2, -0.2]) {
    const coupled = { ...design, couplings: [{ partA: 'l1', partB: 'l2', coefficient }] };
    const { impedance } = createPredictor(hz)(coupled, data);
    const reactance = 2 * Math.PI * 1000 * (2e-3 + 2 * coefficient * 1e-3);
    expect(impedance!.ohms[0]).toBeCloseTo(Math.hypot(8.2, reactance), 9);
  }
});

test('the network is written as a SPICE deck with a passive chain for each driver', () => {
  const { design, data } = readDemo();
  const text = networkDeck(design, data)!;
  const { netlist, warnings } = readSpice(text, 'demo.cir');
  expect(warnings).toEqual([]);
  const count = (kind: string) =>
    netlist.elements.filter((element) => element.kind === kind).length;
  expect(count('source')).toBe(1);
  expect(text.match(/^l\d /gm)).toHaveLength(4);
  expect(text).toMatch(
    /within \d\.\d % \(rms \d\.\d\d %\) of what was measured from 10 to 20000 Hz/,
  );
  expect(networkDeck({ ...design, drivers: [], ways: [] }, data)).toBeNull();
});
