import { readDemo } from '../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { emptyDesign } from '@/core/document/schema';
import { shownKey } from '@/desk/curves/shownKey';
import { progress, stages } from './stages';

const { design } = readDemo();

test('ten stages, each with a key of its own and a word about itself', () => {
  expect(stages.map(({ name }) => name)).toEqual([
    'Brief',
    'Bench',
    'Box',
    'Baffle',
    'Network',
    'Around',
    'Parts',
    'Build',
    'Proof',
    'Log',
  ]);
  expect(new Set(stages.map(({ key }) => key)).size).toBe(10);
  for (const { question, isBuilt } of stages)
    expect(question).toMatch(isBuilt ? /\?$/ : /^Later: /);
});

test('the marks tell how much of a stage is there', () => {
  expect([progress('bench', emptyDesign('x')), progress('network', emptyDesign('x'))]).toEqual([
    0, 0,
  ]);
  expect([progress('bench', design), progress('network', design), progress('log', design)]).toEqual(
    [1, 1, 1],
  );
  expect(progress('brief', emptyDesign('x'))).toBe(0);
  expect(progress('brief', design)).toBeGreaterThan(0.9);
  const lacking = applyChange(design, {
    type: 'editDriver',
    id: 'woofer',
    set: { responseId: null },
  });
  expect(progress('bench', lacking)).toBeCloseTo(5 / 6, 12);
  expect(
    progress(
      'network',
      applyChange(design, { type: 'editWay', id: 'way-woofer', set: { ends: [] } }),
    ),
  ).toBeCloseTo(2 / 3, 12);
});

test('keys are shown as they start from the keyboard', () => {
  expect(['Ctrl+Shift+Z', 'Alt+ArrowLeft', 'Delete'].map(shownKey)).toEqual([
    'Ctrl Shift Z',
    'Alt ←',
    'Delete',
  ]);
});
