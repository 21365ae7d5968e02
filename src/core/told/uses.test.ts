import { readSession } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import { numbered } from './item';
import { usesOf } from './uses';

const { design } = readSession();
const [woofer, midrange] = design.drivers;
const [response, other] = design.measurements;

test('what a measurement is for is told driver by driver', () => {
  expect(usesOf(design, woofer.responseId!)).toEqual(['response of Woofer']);
  expect(usesOf(design, woofer.impedanceId!)).toEqual(['impedance of Woofer']);
  expect(usesOf(design, 'f'.repeat(32))).toEqual([]);
});

test('one that several use, and one that is used in several ways', () => {
  const changes: Change[] = [
    { type: 'editDriver', id: midrange.id, set: { responseId: woofer.responseId } },
    { type: 'editDriver', id: woofer.id, set: { offAxisIds: [woofer.responseId!] } },
    {
      type: 'editDriver',
      id: woofer.id,
      set: { fitting: { ...woofer.fitting, secondId: woofer.responseId } },
    },
  ];
  expect(usesOf(changes.reduce(applyChange, design), woofer.responseId!)).toEqual([
    ...['response of Woofer', 'orbit of Woofer', 'second impedance of Woofer'],
    'response of Midrange',
  ]);
});

test('a step that needs another’s numbers uses it, even while it is switched off', () => {
  const spliced = applyChange(design, {
    type: 'editMeasurement',
    id: other.id,
    set: {
      recipe: [
        {
          ...{ kind: 'splice', isOn: false, nearId: response.id, radiusMm: 100, atHz: 300 },
          ...{ portId: null, portRadiusMm: null, stepWidthMm: null },
        },
      ],
    },
  });
  expect(usesOf(spliced, response.id)).toContain(`a step of ${other.name}`);
});

test('names that occur again are numbered from the second on, in their order', () => {
  const named = (id: string, name: string) => ({ id, name });
  expect([
    ...numbered([named('a', 'C1'), named('b', 'L1'), named('c', 'C1'), named('d', 'C1')]),
  ]).toEqual([
    ['a', 'C1'],
    ['b', 'L1'],
    ['c', 'C1 (2)'],
    ['d', 'C1 (3)'],
  ]);
  expect(numbered([]).size).toBe(0);
});
