import { allFree, readDemo, withoutBaffle, withOffAxis } from '../../../tests/fixtures';
import { partInsight } from '@/core/insight/insight';
import { predict } from '@/core/prediction/predict';
import { partsOf, type Design } from '@/core/document/schema';
import { designGridHz } from '@/core/grid/logGrid';
import { judge } from '@/core/promises/judge';
import { promisesOf } from '@/core/promises/promisesOf';
import { fitDesign, withFit } from './fit';
import { partValue } from '@/core/document/partKinds';
import { emptySheet } from '@/core/document/briefSchema';
import { ratingOf } from '@/core/driver/rating';
import { ratedVolts } from '@/core/prediction/strain';
import { goalOf } from './goal';
import { noPartLimits } from './limits';
import { createFitInputs } from './inputs';
import { createFitModel } from './model';
import { copperKg, costAt, outlayOf } from './outlay';
import { createPlayback } from '@/core/fitting/play/playback';
import { variablesOf } from './variables';

const { design: mounted, data } = readDemo();
const demo = withoutBaffle(mounted);
const { rates: usualRates } = noPartLimits;
const settings = { seed: 3, starts: [0, 1] };

describe('heat', () => {
  test('is the one that the insight of each resistor tells', () => {
    const design = allFree(demo);
    const model = createFitModel(
      design,
      data,
      goalOf(design, { ...noPartLimits, mostWatts: 5 }),
      variablesOf(design),
      createFitInputs(designGridHz()),
    );
    model.evaluate(model.start, false);
    const told = partsOf(demo)
      .filter(({ kind }) => kind === 'resistor')
      .map(({ id }) => partInsight(demo, data, id)!.stress!.watts);
    expect(model.figures().hottestWatts).toBeCloseTo(Math.max(...told), 9);
  });

  test('stays under its limit after a fit that was asked for it', () => {
    // Without reserves, so that nothing else is traded for.
    const exact = { ...noPartLimits, tolerance: 0 };
    const hot = fitDesign(allFree(demo), data, settings, goalOf(demo, exact));
    const cool = fitDesign(allFree(demo), data, settings, goalOf(demo, { ...exact, mostWatts: 4 }));
    const hottest = (design: Design) =>
      Math.max(
        ...partsOf(design)
          .filter(({ kind }) => kind === 'resistor')
          .map(({ id }) => partInsight(design, data, id)!.stress!.watts),
      );
    expect(hottest(withFit(allFree(demo), hot))).toBeGreaterThan(5);
    expect(hottest(withFit(allFree(demo), cool))).toBeLessThan(4.01);
    // Less freedom gives nothing better, but for where a start happens to end.
    expect(cool.figures.deviationDb).toBeGreaterThan(0.99 * hot.figures.deviationDb);
  });

  test('is not asked for when the amplifier’s power is not known', () => {
    const silent = allFree({ ...demo, brief: { ...demo.brief, ratedWatts: null } });
    const found = fitDesign(
      silent,
      data,
      { seed: 1, starts: [] },
      goalOf(silent, { ...noPartLimits, mostWatts: 4 }),
    );
    expect(found.figures.hottestWatts).toBeNull();
  });
});

describe('cost', () => {
  test('of a coil follows the copper of one with Brooks’ proportions', () => {
    // By hand: L/R = 3.333 ms; side = √(3.333e-3 / 9.413) = 18.82 mm; 8960·0.6·c²·3π·c = 0.338 kg.
    expect(copperKg(1e-3, 0.3)).toBeCloseTo(0.338, 3);
    expect(copperKg(2e-3, 0.3 * 2 ** 0.6) / copperKg(1e-3, 0.3)).toBeCloseTo(2 ** 0.6, 9);
  });

  test('of parts adds up at its rates; what is left out costs nothing', () => {
    const parts = partsOf(demo).filter(({ name }) => ['R1', 'C4'].includes(name));
    const byHand = usualRates.resistor + usualRates.capacitor + 5.6 * usualRates.perMicrofarad;
    expect(outlayOf(parts, usualRates)).toBeCloseTo(byHand, 9);
    expect(
      outlayOf(
        parts.map((part) => ({ ...part, isOff: true })),
        usualRates,
      ),
    ).toBe(0);
  });

  test('moves with a value as its slope says', () => {
    for (const part of partsOf(demo)) {
      const value =
        part.kind === 'resistor' ? part.ohms : part.kind === 'coil' ? part.henries : part.farads;
      const step = 1e-5;
      const [high, low] = [step, -step].map(
        (d) => costAt(part, value * Math.exp(d), usualRates).cost,
      );
      const { cost, slope } = costAt(part, value, usualRates);
      expect((high - low) / (2 * step)).toBeCloseTo(slope, 5);
      expect(cost).toBeCloseTo(outlayOf([part], usualRates), 9);
    }
  });

  test('stays within a budget after a fit that was given one', () => {
    const mostOutlay = 110;
    const found = fitDesign(
      allFree(demo),
      data,
      settings,
      goalOf(demo, { ...noPartLimits, mostOutlay }),
    );
    expect(found.before.figures.outlay).toBeGreaterThan(140);
    expect(found.figures.outlay).toBeLessThan(mostOutlay * 1.001);
    expect(outlayOf(partsOf(withFit(allFree(demo), found)), usualRates)).toBeCloseTo(
      found.figures.outlay,
      6,
    );
  });
});

describe('the listening window', () => {
  const measured = withOffAxis(demo, data);

  test('is worked toward where all drivers were measured off their axes', () => {
    const window = goalOf(demo).limits.find(({ kind }) => kind === 'window');
    expect(window).toMatchObject({ band: { fromHz: 200, toHz: 15_000 } });
    const without = fitDesign(allFree(demo), data, { seed: 1, starts: [] });
    expect(without.figures.windowDb).toBeNull();
    // Modelled from baffle and cones it counts just so.
    const modelled = fitDesign(allFree(mounted), data, settings);
    expect(modelled.figures.windowDb!).toBeLessThan(modelled.before.figures.windowDb!);
    const found = fitDesign(allFree(measured.design), measured.data, settings);
    expect(found.before.figures.windowDb!).toBeGreaterThan(3);
    expect(found.figures.windowDb!).toBeLessThan(found.before.figures.windowDb! / 1.5);
  });

  test('of drivers that send alike everywhere and are at one point is the response on axis', () => {
    const together = {
      ...measured.design,
      drivers: measured.design.drivers.map((driver) => ({
        ...driver,
        position: { xMm: 0, yMm: 0, zMm: 0 },
        measuredAt: null,
      })),
    };
    const even = new Map(
      [...measured.data].map(([id, samples]) => {
        const driver = together.drivers.find(({ offAxisIds }) => offAxisIds.includes(id));
        return [id, driver ? measured.data.get(driver.responseId!)! : samples];
      }),
    );
    const design = allFree(together);
    const play = (numbers: typeof even) => {
      const variables = variablesOf(design);
      const playback = createPlayback(design, numbers, variables, createFitInputs(designGridHz()), {
        ...{ wantsWindow: true, wantsSpin: false, wantsPlaces: false, wantsHeat: false },
      });
      playback.play(
        Float64Array.from(variables, ({ part }) => Math.log(partValue(part))),
        false,
      );
      const { window, sumDb } = playback;
      const windowDb = window!.energy.map((energy) => 10 * Math.log10(energy));
      return { sumDb, windowDb };
    };
    const { windowDb, sumDb } = play(even);
    const { sum } = predict(design, even);
    sumDb.forEach((db, i) => {
      expect(windowDb[i]).toBeCloseTo(db, 9);
      expect(sum!.levelDb[i]).toBeCloseTo(db, 9);
    });
    // With the pistons the window is under the axis, the more the higher.
    const beaming = play(measured.data);
    const under = beaming.sumDb.map((db, i) => db - beaming.windowDb[i]);
    expect(Math.abs(under[100])).toBeLessThan(0.03);
    expect(under.at(-1)!).toBeGreaterThan(1);
  });
});

describe('drivers', () => {
  const tender: Design = {
    ...demo,
    drivers: demo.drivers.map((driver) =>
      driver.id === 'tweeter'
        ? { ...driver, sheet: { ...driver.sheet, ratedAs: 'noise', ratedWatts: 1.5 } }
        : driver,
    ),
  };
  const reserve = (design: Design) =>
    judge(predict(design, data), promisesOf(design)).find(({ kind }) => kind === 'driver-power')!
      .value!;

  test('are kept within their ratings by a fit, which is judged as it was fitted', () => {
    expect(reserve(tender)).toBeLessThan(1);
    const free = allFree(tender);
    const goal = goalOf(free);
    const without = fitDesign(free, data, settings, {
      ...goal,
      limits: goal.limits.filter(({ kind }) => kind !== 'driver-power'),
    });
    const within = fitDesign(free, data, settings, goal);
    expect(reserve(withFit(free, without))).toBeLessThan(1);
    expect(reserve(withFit(free, within))).toBeGreaterThanOrEqual(1);
  });

  test('are kept safe when nobody says what drives them: at the voltage of the largest rating', () => {
    const silent = {
      ...demo,
      brief: {
        ...demo.brief,
        ratedWatts: null,
        loudnessDb: null,
        ratedOhms: null,
        lowestLoadOhms: null,
      },
    };
    const kinds = goalOf(silent).limits.map(({ kind }) => kind);
    expect(kinds).toEqual(
      expect.arrayContaining(['driver-power', 'excursion', 'resonance', 'crossover-place', 'load']),
    );
    // The woofer's 80 W into 8 Ω are 25.3 V.
    expect(ratedVolts(demo.drivers.flatMap(({ sheet }) => ratingOf(sheet) ?? []))).toBeCloseTo(
      Math.sqrt(80 * 8),
      6,
    );
    expect(goalOf(silent).limits.find(({ kind }) => kind === 'load')).toMatchObject({
      leastOhms: 3.2 * 1.0005,
    });
  });

  test('of which nothing is known ask for nothing', () => {
    const bare = {
      ...demo,
      brief: { ...demo.brief, ratedWatts: null, loudnessDb: null },
      drivers: demo.drivers.map((driver) => ({ ...driver, sheet: emptySheet })),
    };
    const kinds = goalOf(bare).limits.map(({ kind }) => kind);
    expect(kinds).not.toContain('driver-power');
    expect(kinds).not.toContain('excursion');
  });
});
