import { readDemo } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { provenance } from './provenance';

const { design } = readDemo();

test('each way tells its files and what is done to them', () => {
  const recipe = [
    { kind: 'level', isOn: true, addedDb: 1 },
    { kind: 'delay', isOn: false, addedMs: 1 },
  ] as const;
  const changed = applyChange(design, {
    type: 'editMeasurement',
    id: design.drivers[0].responseId!,
    set: { recipe: [...recipe] },
  });
  const [woofer, midrange] = provenance(changed);
  expect(woofer.sources[0]).toMatch(
    /^Response: woofer response, from woofer response\.txt \([0-9a-f]{8}\), read 2026-11-21, after level\.$/,
  );
  expect(midrange.sources[1]).toMatch(/^Impedance: midrange impedance, .* as measured\.$/);
});

test('what is missing is said', () => {
  const bare = applyChange(design, { type: 'removeDriver', id: 'woofer' });
  expect(provenance(bare)[0].sources).toEqual(['No driver.']);
  const silent = applyChange(design, {
    type: 'editDriver',
    id: 'tweeter',
    set: { responseId: null },
  });
  expect(provenance(silent)[2].sources[0]).toBe('Response: none.');
});

test('a box in use is told with the one that it takes the place of', () => {
  const used = { ...design.boxes[0], isUsed: true };
  const boxed = applyChange(design, { type: 'setBox', box: used });
  expect(provenance(boxed)[0].sources[0]).toMatch(
    /In As built; the box in which it was measured \(sealed 57\.1 l, filled\) is divided out\.$/,
  );
  const unsaid = applyChange(boxed, {
    type: 'editMeasurement',
    id: design.drivers[0].impedanceId!,
    set: { inBox: { kind: 'unknown' } },
  });
  expect(provenance(unsaid)[0].sources[1]).toMatch(/Below 200 Hz the model of As built: /);
  expect(provenance(boxed)[1].sources[0]).not.toMatch(/As built/);
});
