/** `fair boards`: all that is sawn, as data that adds up. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Design } from '@/core/document/schema';
import { fair, root } from './run';

let folder: string;
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'fair-boards-'))));
afterAll(() => rmSync(folder, { recursive: true }));

const demo = join(root, 'demo/reading-room/design.json');
interface Told {
  readonly outside_mm: readonly number[];
  readonly boards: readonly {
    readonly name: string;
    readonly count: number;
    readonly length_mm: number;
    readonly width_mm: number;
    readonly thickness_mm: number;
    readonly material: string;
    readonly holes: readonly { readonly what: string; readonly diameter_mm?: number }[];
    readonly work: readonly string[];
  }[];
  readonly sheets: readonly {
    readonly thickness_mm: number;
    readonly placed: readonly {
      readonly name: string;
      readonly length_mm: number;
      readonly width_mm: number;
      readonly turned: boolean;
    }[];
  }[];
}
const told = (...args: string[]): Told => {
  const { status, stdout, stderr } = fair('boards', ...args);
  expect([status, stderr]).toEqual([0, '']);
  return JSON.parse(stdout) as Told;
};

test('boards, holes and sheets of the demo add up', () => {
  const { outside_mm, boards, sheets } = told(demo, '--boxes', '2', '--joint', 'butted');
  expect(outside_mm).toEqual([300, 710, 380]);
  const front = boards.find(({ name }) => name.endsWith('front'))!;
  expect(front).toMatchObject({ count: 2, length_mm: 710, width_mm: 300, thickness_mm: 22 });
  expect(front.holes.map(({ what, diameter_mm }) => [what, diameter_mm])).toEqual([
    ['Woofer', 236],
    ['Midrange', 114],
    ['Tweeter', 76],
  ]);
  const area = (all: readonly { length_mm: number; width_mm: number; count?: number }[]) =>
    all.reduce((sum, { length_mm, width_mm, count = 1 }) => sum + count * length_mm * width_mm, 0);
  expect(area(sheets.flatMap(({ placed }) => placed))).toBeCloseTo(area(boards), 3);
  // Two boxes of 710 × 300, 300 × 339 and 672 × 339 mm: 2.1700 m².
  expect(area(boards) / 1e6).toBeCloseTo(2.17, 3);
  expect(sheets.flatMap(({ placed }) => placed).every(({ turned }) => !turned)).toBe(true);
});

test('options are taken, and what can’t be is refused', () => {
  const turned = told(demo, '--turn', '--sheet', '1250x715', '--kerf', '4.5', '--boxes', '3');
  expect(turned.sheets.flatMap(({ placed }) => placed).some((one) => one.turned)).toBe(true);
  expect(
    told(demo, '--joint', 'rebated')
      .boards.flatMap(({ work }) => work)
      .join(),
  ).toContain('for the sides');
  for (const [args, words] of [
    [['--joint', 'glued'], '--joint: “glued” is not one of butted, rebated, mitred'],
    [['--sheet', 'large'], '--sheet'],
    [['--kerf', '-1'], '--kerf'],
    [['--boxes', '0'], '--boxes'],
    [['--sheet', '600x400'], 'no sheet of 600 × 400 mm holds it'],
  ] as const) {
    const refused = fair('boards', demo, ...args);
    expect([refused.status, refused.stdout]).toEqual([2, '']);
    expect(refused.stderr).toContain(words);
  }
});

test('what can’t be sawn is refused with its reason', () => {
  const design = JSON.parse(readFileSync(demo, 'utf8')) as Design;
  const [box] = design.boxes;
  const path = join(folder, 'narrow.json');
  const shell = { ...box.shell, widthMm: 240 };
  writeFileSync(path, JSON.stringify({ ...design, measurements: [], boxes: [{ ...box, shell }] }));
  const bare = JSON.parse(readFileSync(path, 'utf8')) as Design;
  writeFileSync(
    path,
    JSON.stringify({
      ...bare,
      drivers: bare.drivers.map((driver) => ({
        ...driver,
        ...{ responseId: null, impedanceId: null, offAxisIds: [] },
      })),
    }),
  );
  const refused = fair('boards', path);
  expect([refused.status, refused.stdout]).toEqual([2, '']);
  expect(refused.stderr).toContain('Woofer is cut 266 mm wide, 13 mm over the edge of the front');
});
