import { partValue } from '@/core/document/partKinds';
import { readDemo } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import { applyChange } from '@/core/editing/applyChange';
import { partInsight } from './insight';
import { partsActingAt } from './influence';
import { createPredictor } from '@/core/prediction/predict';
import { programmeShares } from '@/core/spectrum/programme';

const { design, data } = readDemo();
const grid = logGrid(30, 18_000, 12);
const parts = design.ways.flatMap((way) => way.parts);

test('influence is what making the value a tenth larger does, for small steps', () => {
  const predict = createPredictor(grid);
  for (const name of ['L1', 'C2', 'L4', 'R3']) {
    const part = parts.find((one) => one.name === name)!;
    const { influenceDb, strongest } = partInsight(design, data, part.id, grid)!;
    const at = (factor: number) =>
      predict(
        applyChange(design, { type: 'setPartValue', id: part.id, value: partValue(part) * factor }),
        data,
      ).sum!.levelDb.slice();
    const [up, down] = [at(1.001), at(1 / 1.001)];
    grid.forEach((_, i) => {
      const slope = ((up[i] - down[i]) / (2 * Math.log(1.001))) * Math.log(1.1);
      expect(influenceDb[i]).toBeCloseTo(slope, 4);
    });
    expect(Math.max(...influenceDb.map(Math.abs))).toBeCloseTo(Math.abs(strongest.db), 12);
  }
});

test('heat in closed form: a resistor before a driver of 8 Ω', () => {
  const r1 = { ...parts.find(({ name }) => name === 'R1')!, place: 'series' as const };
  const flat = {
    frequencyHz: Float64Array.of(10, 30_000),
    magnitude: Float64Array.of(8, 8),
    phaseDeg: Float64Array.of(0, 0),
  };
  const id = design.drivers[1].impedanceId!;
  const simple = {
    ...design,
    amplifier: { volts: 2.83, outputOhms: 0, cableOhms: 0 },
    brief: { ...design.brief, ratedWatts: 50, ratedIntoOhms: 8 },
    ways: [{ ...design.ways[1], parts: [{ ...r1, kind: 'resistor' as const, ohms: 2 }] }],
  };
  const { stress } = partInsight(simple, new Map([...data, [id, flat]]), 'r1')!;
  // 20 V over 10 Ω are 2 A: 8 W and 4 V in the resistor, whatever the spectrum.
  expect(stress!.driveVolts).toBeCloseTo(20, 12);
  expect(stress!.amperes).toBeCloseTo(2, 9);
  expect(stress!.volts).toBeCloseTo(4, 9);
  expect(stress!.watts).toBeCloseTo(8, 9);
});

test('no power in the brief, no heat', () => {
  const unknown = { ...design, brief: { ...design.brief, ratedWatts: null } };
  expect(partInsight(unknown, data, 'r1')!.stress).toBeNull();
});

test('a coil that fails open silences the woofer; a shunt that fails short loads the amplifier', () => {
  const coil = partInsight(design, data, 'l1')!;
  expect(coil.open!.worst.db).toBeLessThan(-3);
  expect(coil.open!.lowestOhms).toBeGreaterThan(coil.shorted!.lowestOhms);
  const shunt = partInsight(design, data, 'l4')!;
  expect(shunt.shorted!.lowestOhms).toBeLessThan(4);
  expect(shunt.shorted!.meanDb).toBeLessThan(-3);
});

test('parts that act at a place are in order, and each belongs there', () => {
  const high = partsActingAt(design, data, 12_000);
  expect(high[0].partName).toMatch(/^[RCL][234]$/);
  expect(high.map(({ db }) => Math.abs(db))).toEqual(
    high.map(({ db }) => Math.abs(db)).sort((a, b) => b - a),
  );
  expect(partsActingAt(design, data, 90)[0].partName).toMatch(/^[LC]1$/);
});

test('a part that is left out has nothing to tell', () => {
  const off = applyChange(design, { type: 'editPart', id: 'r1', set: { isOff: true } });
  expect(partInsight(off, data, 'r1')).toBeNull();
  expect(partInsight(design, data, 'nothing')).toBeNull();
});

test('the programme has all of its power once, most of it in the middle', () => {
  const hz = logGrid(20, 20_000, 24);
  const shares = programmeShares(hz);
  expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 12);
  const within = (from: number, to: number) =>
    shares.reduce((sum, share, i) => sum + (hz[i] >= from && hz[i] < to ? share : 0), 0);
  expect(within(100, 3000)).toBeGreaterThan(0.6);
  expect(within(5000, 20_000)).toBeLessThan(0.12);
});

test('a dead woofer is told as what is missing, not as what is left', () => {
  const coil = parts.find(({ name }) => name === 'L1')!;
  const { open } = partInsight(design, data, coil.id)!;
  // Nothing of the lows is left, which is a third of what is heard.
  expect(open!.meanDb).toBeLessThan(-5);
  expect(open!.worst.db).toBeLessThan(-30);
  expect(open!.worst.atHz).toBeLessThan(150);
});
