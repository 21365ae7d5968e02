import { readDemo } from '../../../tests/fixtures';
import { boxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';
import { boxDriverOf, boxedDrivers, measuredEnclosure } from '@/core/cabinet/enclosureOf';
import type { Box, InBox } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import { logGrid } from '@/core/grid/logGrid';
import type { Samples } from '@/core/measurement/samples';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { boxAround, boxUse, figuresFor, impedanceInBox, responseInBox } from './inBox';
import { createPredictor } from './predict';

const { design: demo, data } = readDemo();
const [woofer] = demo.drivers;
const [asBuilt] = demo.boxes;
const vented: Box = {
  ...asBuilt,
  ...{ id: 'vented', name: 'Vented', kind: 'vented', fill: 'walls', isUsed: true },
  port: { ...asBuilt.port, diameterMm: 90, lengthMm: 190 },
};
const grid = logGrid(10, 2000, 48);
const air = { density: 1.2041, speedOfSound: 343.2 };

/** What a driver does in some box, by its circuit alone: per volt, 2.83 V played. */
function modelled(design: Design, inBox: InBox): { response: Samples; impedance: Samples } {
  const driver = boxDriverOf(design.drivers[0], 20)!;
  const enclosure = measuredEnclosure(inBox, air)!;
  const { levelDb, phaseDeg, ohms, zDeg } = boxCurves(
    { driver, enclosure, air },
    behindResistance(1, 0, grid.length),
    grid,
  );
  const volts = 20 * Math.log10(2.83);
  return {
    response: { frequencyHz: grid, magnitude: levelDb.map((db) => db + volts), phaseDeg },
    impedance: { frequencyHz: grid, magnitude: ohms, phaseDeg: zDeg },
  };
}

function designWith(inBox: InBox, box: Box | null, data2 = new Map<string, Samples>()) {
  const measurements = demo.measurements.map((one) =>
    one.id === woofer.responseId || one.id === woofer.impedanceId ? { ...one, inBox } : one,
  );
  const design: Design = { ...demo, measurements, boxes: box ? [box] : [] };
  const { response, impedance } = modelled(
    design,
    inBox.kind === 'unknown' ? { kind: 'free' } : inBox,
  );
  data2.set(woofer.responseId!, response).set(woofer.impedanceId!, impedance);
  return { design, data: data2, response, impedance };
}

const statementOf = ({ measurements }: Design, id: string | null) =>
  measurements.find((one) => one.id === id)!;

test.each<InBox>([
  { kind: 'free' },
  { kind: 'sealed', litres: 40, fill: 'none', ql: null },
  { kind: 'sealed', litres: 40, fill: 'none', ql: 10 },
  { kind: 'vented', litres: 60, fill: 'none', tunedHz: 40, ql: 7 },
])(
  'measured in $kind, a response and an impedance come out as those of the box in use',
  (inBox) => {
    const { design, data: numbers, response, impedance } = designWith(inBox, vented);
    const driver = design.drivers[0];
    const { system } = boxedDrivers(vented, design)!;
    const wanted = boxCurves(system, behindResistance(2.83, 0, grid.length), grid);
    const found = responseInBox(
      design,
      driver,
      statementOf(design, driver.responseId),
      response,
      numbers,
    );
    const ohms = impedanceInBox(
      design,
      driver,
      statementOf(design, driver.impedanceId),
      impedance,
      numbers,
    );
    // A leak moves the peak a little besides its damping, which the fit of a closed box leaves out.
    const times = inBox.kind === 'sealed' && inBox.ql !== null ? 6 : 1;
    grid.forEach((hz, i) => {
      const [db, share] = [
        found.magnitude[i] - wanted.levelDb[i],
        ohms.magnitude[i] / wanted.ohms[i],
      ];
      expect([hz, Math.abs(db) < 0.05 * times]).toEqual([hz, true]);
      expect([hz, Math.abs(share - 1) < 0.01 * times]).toEqual([hz, true]);
    });
  },
);

test('in the box in which it was measured, a driver stays as it was measured', () => {
  const box: Box = { ...asBuilt, isUsed: true, fill: 'none', ql: null };
  const { system } = boxedDrivers(box, { ...demo, boxes: [box] })!;
  const litres = 1000 * (system.enclosure as { volumeM3: number }).volumeM3;
  const design = applyChange(demo, { type: 'setBox', box });
  const same: Design = {
    ...design,
    measurements: design.measurements.map((one) =>
      one.inBox.kind === 'sealed'
        ? { ...one, inBox: { kind: 'sealed', litres, fill: 'none', ql: null } }
        : one,
    ),
  };
  const raw = data.get(woofer.responseId!)!;
  const found = responseInBox(same, woofer, statementOf(same, woofer.responseId), raw, data);
  raw.magnitude.forEach((db, i) => expect(found.magnitude[i]).toBeCloseTo(db, 9));
});

test('figures come from the impedance where its box is known: the peak that is there is divided out', () => {
  const figures = figuresFor(demo, woofer, data)!;
  // The demo's files were made with fc 47 Hz, Qmc 5.2, Qec 0.68 in a chamber, which is
  // said to hold 57.1 l of air and to be filled: it acts as 1.2 times that, and takes energy.
  const alpha = 137 / (1.2 * 57.1);
  const stretch = Math.sqrt(1 + alpha);
  expect(figures.fsHz * stretch).toBeCloseTo(47, 1);
  expect(figures.qes * stretch).toBeCloseTo(0.68, 2);
  const qmc = 1 / (1 / 5.2 - alpha / (1 + alpha) / 7);
  expect((figures.qms * stretch) / qmc).toBeCloseTo(1, 1);
  expect(figures.reOhm).toBeCloseTo(5.3, 1);
});

test('where nobody said which box was measured, the model is heard below the splice and the measurement above', () => {
  const { design, data: numbers, response, impedance } = designWith({ kind: 'unknown' }, vented);
  const driver = design.drivers[0];
  const statement = statementOf(design, driver.responseId);
  expect(boxUse(design, driver, statement)).toBe('spliced');
  const found = responseInBox(design, driver, statement, response, numbers);
  const ohms = impedanceInBox(
    design,
    driver,
    statementOf(design, driver.impedanceId),
    impedance,
    numbers,
  );
  const { system } = boxedDrivers(vented, design)!;
  const model = boxCurves(system, behindResistance(2.83, 0, grid.length), grid);
  const at = (samples: Samples, hz: number) =>
    samples.magnitude[samples.frequencyHz.findIndex((f) => f >= hz)];
  expect(at(found, 400)).toBeCloseTo(at(response, 400), 6);
  expect(at(ohms, 400)).toBeCloseTo(at(impedance, 400), 6);
  const low = grid.findIndex((hz) => hz >= 30);
  expect(at(ohms, 30) / model.ohms[low]).toBeCloseTo(1, 3);
  // The slope under the tuning is the model's, shifted as a whole.
  const other = grid.findIndex((hz) => hz >= 15);
  const fall = at(found, 30) - at(found, 15);
  expect(Math.abs(fall - (model.levelDb[low] - model.levelDb[other]))).toBeLessThan(0.6);
});

test('a gated response goes on downward as the box has it, wherever it was measured', () => {
  for (const inBox of [
    { kind: 'sealed', litres: 40, fill: 'none', ql: null },
    { kind: 'unknown' },
  ] as const) {
    const { design, data: numbers, response, impedance } = designWith(inBox, vented);
    const from = grid.findIndex((hz) => hz >= 220);
    const gated: Samples = {
      frequencyHz: grid.slice(from),
      magnitude: response.magnitude.slice(from),
      phaseDeg: response.phaseDeg!.slice(from),
    };
    numbers.set(woofer.impedanceId!, impedance);
    const driver = design.drivers[0];
    const found = responseInBox(
      ...([design, driver, statementOf(design, driver.responseId), gated, numbers] as const),
    );
    const { system } = boxedDrivers(vented, design)!;
    const model = boxCurves(system, behindResistance(2.83, 0, grid.length), grid);
    expect(found.frequencyHz[0]).toBeLessThan(10);
    const at = (hz: number) =>
      found.magnitude[found.frequencyHz.findIndex((f) => f >= hz * 0.9999)];
    const fallOf = (levels: Float64Array) =>
      levels[grid.findIndex((hz) => hz >= 60)] - levels[grid.findIndex((hz) => hz >= 30)];
    // From 60 to 30 Hz as the circuit falls, but for the baffle's step.
    expect(Math.abs(at(60) - at(30) - fallOf(model.levelDb))).toBeLessThan(0.6);
    expect(at(1000)).toBeCloseTo(gated.magnitude[gated.frequencyHz.findIndex((f) => f >= 1000)], 1);
  }
});

test('a box in use moves F3, the load, the port speed and the outside size; a candidate moves nothing', () => {
  const figure = (design: Design, kind: string) =>
    judgedPromisesOf(design, createPredictor()(design, data)).find(
      ({ promise }) => promise.kind === kind,
    )?.verdict;
  const candidate = applyChange(demo, { type: 'setBox', box: { ...vented, isUsed: false } });
  const used = applyChange(demo, { type: 'setBox', box: vented });
  expect(figure(candidate, 'reach-3')).toEqual(figure(demo, 'reach-3'));
  expect(figure(demo, 'reach-3')?.value).toBeGreaterThan(60);
  expect(figure(used, 'reach-3')?.value).toBeLessThan(51);
  expect(figure(used, 'outside-size')?.value).toBeCloseTo(80.94, 2);
  expect(figure(demo, 'outside-size')?.value ?? null).toBeNull();
  const speed = (diameterMm: number) =>
    figure(
      applyChange(demo, {
        type: 'setBox',
        box: { ...vented, port: { ...vented.port, diameterMm, lengthMm: diameterMm } },
      }),
      'port-speed',
    )!.value!;
  expect(speed(50)).toBeGreaterThan(2 * speed(100));
});

test('a resistance before the woofer raises its Qes as the closed form says', () => {
  // Small 1972: Qes' = Qes (Re + R)/Re; on a sealed box the peak of the level shows it.
  const { design } = designWith(
    { kind: 'free' },
    { ...asBuilt, isUsed: true, fill: 'none', ql: null },
  );
  const { system } = boxedDrivers(design.boxes[0], design)!;
  const { driver, enclosure } = system;
  const plain = { ...driver, leHenry: 0 };
  const at = (reOhm: number, qes: number, ohm: number) =>
    boxCurves(
      { driver: { ...plain, reOhm, qes }, enclosure, air },
      behindResistance(1, ohm, grid.length),
      grid,
    ).levelDb;
  const withCoil = at(driver.reOhm, driver.qes, 0.6);
  const stretched = at(driver.reOhm + 0.6, (driver.qes * (driver.reOhm + 0.6)) / driver.reOhm, 0);
  withCoil.forEach((db, i) => expect(db).toBeCloseTo(stretched[i], 9));
});

test('on an open baffle each driver has its own low end; in a chamber they are as the first', () => {
  const shared = (kind: Box['kind']): Design => ({
    ...demo,
    boxes: [{ ...asBuilt, kind, isUsed: true, driverIds: ['woofer', 'midrange'] }],
  });
  const alone = (driverId: string): Design => ({
    ...demo,
    boxes: [{ ...asBuilt, kind: 'open-baffle', isUsed: true, driverIds: [driverId] }],
  });
  for (const driver of demo.drivers.slice(0, 2)) {
    const found = boxAround(shared('open-baffle'), driver, data)!;
    expect(found.count).toBe(1);
    expect(found.system).toEqual(boxAround(alone(driver.id), driver, data)!.system);
  }
  const [first, second] = demo.drivers.map((one) => boxAround(shared('sealed'), one, data));
  expect(second!.system).toEqual(first!.system);
  expect(first!.count).toBe(2);
});
