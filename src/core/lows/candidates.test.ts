/** First boxes, textbook alignments and sweeps, against Small's closed forms. */
import { readSession, withoutBaffle } from '../../../tests/fixtures';
import { netVolumeOf } from '@/core/cabinet/netVolume';
import { tunedToHz } from '@/core/cabinet/vent';
import { airOf } from '@/core/cabinet/enclosureOf';
import { boxSchema } from '@/core/document/boxSchema';
import { emptyDesign, emptyDriver, type Design, type Driver } from '@/core/document/schema';
import { firstBox, lowestDrivers, proportionsFor, startingBoxes, sweptBoxes } from './candidates';

const { design } = readSession();
const bare = withoutBaffle(design);
const [asBuilt] = design.boxes;
const woofer = design.drivers[0];
const driver = (id: string, fsHz: number | null): Driver => {
  const empty = emptyDriver(id, id);
  return { ...empty, sheet: { ...empty.sheet, fsHz } };
};

describe('drivers that a first box is for', () => {
  test('those that resonate lowest, and all that are like them', () => {
    const drivers = [driver('dome', 900), driver('a', 28), driver('b', 30), driver('mid', 90)];
    expect(lowestDrivers({ drivers }).map(({ id }) => id)).toEqual(['a', 'b']);
  });

  test('without any resonance the first, without drivers none', () => {
    expect(lowestDrivers({ drivers: [driver('x', null), driver('y', null)] })[0].id).toBe('x');
    expect(lowestDrivers({ drivers: [] })).toEqual([]);
  });
});

describe('a first box', () => {
  test('is of the Baffle’s size where its driver is on one, and can be stored', () => {
    const box = firstBox({ ...design, boxes: [] }, 'new');
    expect(box).toMatchObject({ name: 'Box A', isUsed: false, kind: 'sealed', ql: null });
    expect(box.driverIds).toEqual(['woofer']);
    expect(box.shell).toMatchObject({ widthMm: 300, heightMm: 710, depthMm: 380 });
    expect(boxSchema.safeParse(box).success).toBe(true);
  });

  test('else of what the brief allows, else of a usual size', () => {
    const allowed = {
      ...bare,
      brief: { ...bare.brief, widthMm: 250, heightMm: 900, depthMm: 310 },
    };
    expect(firstBox(allowed, 'new').shell).toMatchObject({
      ...{ widthMm: 250, heightMm: 900, depthMm: 310 },
    });
    const open = firstBox(emptyDesign('Nothing'), 'new');
    expect(open.driverIds).toEqual([]);
    expect(boxSchema.safeParse(open).success).toBe(true);
  });

  test('has a name that none has, letter by letter, and still one after Z', () => {
    const named = (names: readonly string[]): Design => ({
      ...bare,
      boxes: names.map((name, k) => ({ ...asBuilt, id: `b${k}`, name })),
    });
    expect(firstBox(named(['Box A', 'Box C']), 'n').name).toBe('Box B');
    const all = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'].map((letter) => `Box ${letter}`);
    expect(firstBox(named(all), 'n').name).toBe('Box new');
  });
});

describe('textbook alignments', () => {
  const { qes, qms, vasLitres, fsHz, reOhm } = woofer.sheet;
  const starting = startingBoxes(bare, asBuilt, 0);

  test('sealed: Vas/V = (Qtc/Qts)² − 1 (Small 1972), of three Qtc', () => {
    const qts = (qes! * qms!) / (qes! + qms!);
    for (const [told, qtc] of [
      ['Bessel', 0.577],
      ['Butterworth', Math.SQRT1_2],
      ['smallest', 1],
    ] as const) {
      const { box } = starting.find((one) => one.told.includes(told))!;
      const alpha = (qtc / qts) ** 2 - 1;
      // Lined walls make the box look 4 % larger than it is.
      const acts = 1.04 * netVolumeOf(box, bare).netLitres;
      expect(acts / (vasLitres! / alpha)).toBeCloseTo(1, 2);
    }
  });

  test('a resistance before the driver asks for a larger box', () => {
    const litres = (ohms: number) =>
      netVolumeOf(startingBoxes(bare, asBuilt, ohms)[2].box, bare).netLitres;
    expect(litres(0.6)).toBeGreaterThan(1.05 * litres(0));
    // (Qes·(Re + R)/Re), and from it the volume, by hand.
    const behind = (qes! * (reOhm! + 0.6)) / reOhm!;
    const qts = (behind * qms!) / (behind + qms!);
    expect((1.04 * litres(0.6)) / (vasLitres! / (0.5 / qts ** 2 - 1))).toBeCloseTo(1, 2);
  });

  test('vented: tuned where it says, with a port that does it', () => {
    const vented = starting.find(({ told }) => told.startsWith('Vented'))!;
    const said = Number(/tuned to ([\d.]+) Hz/.exec(vented.assumes)![1]);
    expect(tunedToHz(vented.box, bare, airOf(bare))).toBeCloseTo(said, 0);
    expect(said / fsHz!).toBeGreaterThan(0.7);
    expect(said / fsHz!).toBeLessThan(1.6);
  });

  test('each tells its assumptions, keeps width and height, and can be stored', () => {
    for (const { assumes, box } of starting) {
      expect(assumes).toMatch(/^Qts 0\.\d\d with 0\.00 Ω before it, .*\.$/);
      expect(box.shell.widthMm).toBe(asBuilt.shell.widthMm);
      expect(box.shell.heightMm).toBe(asBuilt.shell.heightMm);
      expect(boxSchema.safeParse(box).success).toBe(true);
    }
  });

  test('two alike take twice the volume of one', () => {
    const second = { ...woofer, id: 'second', name: 'Second' };
    const pair = { ...bare, drivers: [...bare.drivers, second] };
    const shared = { ...asBuilt, driverIds: ['woofer', 'second'] };
    const litres = (of: Design, box: typeof asBuilt) =>
      netVolumeOf(startingBoxes(of, box, 0)[1].box, of).netLitres;
    expect(litres(pair, shared) / litres(bare, asBuilt)).toBeCloseTo(2, 2);
  });

  test('a driver without its figures has none', () => {
    const unknown = {
      ...bare,
      drivers: bare.drivers.map((one) => ({
        ...one,
        sheet: { ...one.sheet, vasLitres: null, sdCm2: null },
      })),
    };
    expect(startingBoxes(unknown, asBuilt, 0)).toEqual([]);
  });
});

describe('a family', () => {
  const vented = { ...asBuilt, kind: 'vented' as const, fill: 'walls' as const };
  const air = airOf(bare);
  const tuned = tunedToHz(vented, bare, air)!;

  test('of volumes: half an octave to both sides, the tuning stays', () => {
    const family = sweptBoxes(bare, vented, 'volume', tuned);
    const litres = family.map(({ box }) => netVolumeOf(box, bare).netLitres);
    const own = netVolumeOf(vented, bare).netLitres;
    expect(litres[0] / own).toBeCloseTo(0.7, 1);
    expect(litres.at(-1)! / own).toBeCloseTo(1.41, 1);
    expect(litres).toEqual(litres.toSorted((a, b) => a - b));
    for (const { box } of family) expect(tunedToHz(box, bare, air)! / tuned).toBeCloseTo(1, 2);
  });

  test('of tunings: the volume stays nearly, what no port makes is left out', () => {
    const family = sweptBoxes(bare, vented, 'tuning', tuned);
    expect(family.length).toBeGreaterThan(2);
    for (const { told, box } of family)
      expect(tunedToHz(box, bare, air)!).toBeCloseTo(Number(told.replace(' Hz', '')), 0);
    expect(sweptBoxes(bare, vented, 'tuning', 4000)).toEqual([]);
    expect(sweptBoxes(bare, vented, 'tuning', null)).toEqual([]);
  });

  test('of fills: all four, from empty to full', () =>
    expect(sweptBoxes(bare, vented, 'fill', tuned).map(({ told }) => told)).toEqual([
      ...['fill: none', 'fill: walls', 'fill: half', 'fill: full'],
    ]));
});

test('proportions of a cube are the worst there are; of a box without an inside there are none', () => {
  const cube = {
    ...asBuilt,
    shell: { ...asBuilt.shell, widthMm: 400, heightMm: 400, depthMm: 403 },
  };
  const [now, ...others] = proportionsFor(bare, cube, 2000);
  expect(now.apart).toBeCloseTo(0, 6);
  expect(others.length).toBe(3);
  expect(others[0].apart).toBeGreaterThanOrEqual(others[2].apart);
  // Nothing higher than what is allowed.
  for (const { heightMm } of proportionsFor(bare, cube, 420).slice(1))
    expect(heightMm).toBeLessThanOrEqual(420);
  const solid = { ...asBuilt, shell: { ...asBuilt.shell, widthMm: 30 } };
  expect(proportionsFor(bare, solid, 2000)).toEqual([]);
});
