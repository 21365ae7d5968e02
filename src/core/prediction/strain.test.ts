import { readDemo } from '../../../tests/fixtures';
import type { Design } from '@/core/document/schema';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { createPredictor } from './predict';

const { design: demo, data } = readDemo();

test('without Bl, mass and Vas the excursion is estimated from level and Sd, and told as such', () => {
  const bare: Design = {
    ...demo,
    boxes: [],
    drivers: demo.drivers.map((driver) => ({
      ...driver,
      sheet: { ...driver.sheet, blTm: null, mmsG: null, vasLitres: null },
    })),
  };
  const predict = createPredictor();
  const [known, estimated] = [{ ...demo, boxes: [] }, bare].map((design) => {
    const prediction = predict(design, data, { offAxis: 'known' });
    return {
      strains: prediction.strains,
      travel: judgedPromisesOf(design, prediction).find(({ promise }) => promise.kind === 'travel')!
        .verdict,
    };
  });
  estimated.strains.forEach(({ excursion }, k) => {
    expect(excursion!.basis).toBe('level');
    const decibels = 20 * Math.log10(excursion!.rmsMm / known.strains[k].excursion!.rmsMm);
    // On the safe side: it moves rather more than it does.
    expect(decibels).toBeGreaterThan(-0.5);
    expect(decibels).toBeLessThan(3);
  });
  expect(known.travel.basis).toBeUndefined();
  expect(estimated.travel.basis).toBe('estimated from level and Sd');
  expect(estimated.travel.value! / known.travel.value!).toBeGreaterThan(0.7);
});
