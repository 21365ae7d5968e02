import { readSession } from '../../../tests/fixtures';
import { boxKinds } from '@/core/document/boxSchema';
import { boxes, boxKindWords, toldInBox } from './boxes';

const { design } = readSession();
const [asBuilt] = design.boxes;
const told = (change: Partial<typeof asBuilt>) =>
  boxes({ ...design, boxes: [{ ...asBuilt, ...change }] })[0].text;

test('every kind of box has its words', () => {
  for (const kind of boxKinds) {
    expect(boxKindWords[kind]).toMatch(/^[a-z ]+$/);
    expect(told({ kind })).toContain(boxKindWords[kind]);
  }
});

test('a box is told by kind, size, fill and use; a vented one by its port too', () => {
  expect(told({})).toBe('sealed, 300 × 710 × 380 mm, filled, not in use');
  expect(told({ isUsed: true, fill: 'none' })).toBe('sealed, 300 × 710 × 380 mm, in use');
  const port = { ...asBuilt.port, count: 2, diameterMm: 60, lengthMm: 142 };
  expect(told({ kind: 'vented', port })).toContain('port 2 × 60 mm, 142 mm long');
  expect(told({ kind: 'vented', port: { ...port, count: 1, shape: 'slot' } })).toContain(
    'port 200 × 25 mm, 142 mm long',
  );
});

test('two boxes of one name are told apart, and each is known by its id', () => {
  const two = boxes({
    ...design,
    boxes: [asBuilt, { ...asBuilt, id: 'other' }],
  });
  expect(two.map(({ key, what }) => [key, what])).toEqual([
    ['as-built', 'As built'],
    ['other', 'As built (2)'],
  ]);
});

test.each([
  [{ kind: 'unknown' } as const, 'not said'],
  [{ kind: 'free' } as const, 'none'],
  [{ kind: 'sealed', litres: 75.5, fill: 'none', ql: null } as const, 'sealed 75.5 l'],
  [
    { kind: 'vented', litres: 40, fill: 'none', tunedHz: 33.5, ql: 7 } as const,
    'vented 40 l, tuned to 33.5 Hz',
  ],
])('the box of a measurement, %p, is told as “%s”', (inBox, words) =>
  expect(toldInBox(inBox)).toBe(words),
);
