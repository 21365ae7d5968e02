/** `fair built`: the figures of the contract, and what is refused. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fair, root } from './run';

let folder: string;
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'fair-built-'))));
afterAll(() => rmSync(folder, { recursive: true }));

const spec = join(root, 'docs/examples/built.json');
const table = join(root, 'docs/examples/built.txt');
const file = (name: string, text: string) => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};

test('tells volume, tuning, leakage and compliance with their errors, and what differs', () => {
  const { status, stdout, stderr } = fair('built', spec, table);
  expect([status, stderr]).toEqual([0, '']);
  const told = JSON.parse(stdout) as Record<string, unknown>;
  expect(Object.keys(told)).toEqual([
    ...['volume_l', 'tuned_hz', 'ql', 'compliance_ratio', 'misfit_percent', 'std_error'],
    'differences',
  ]);
  // As ngspice has the box: tests/references/box/SOURCE.md.
  expect(told.volume_l).toBeCloseTo(34, 2);
  expect(told.tuned_hz).toBeCloseTo(53.8957, 3);
  expect(told.ql).toBeCloseTo(7, 2);
  expect(told.compliance_ratio).toBeCloseTo(1, 3);
  expect(Object.keys(told.std_error as object)).toEqual([
    ...['volume_l', 'tuned_hz', 'ql', 'compliance_ratio'],
  ]);
  const [port, ...others] = told.differences as {
    what: string;
    by_percent: number;
    advice: string;
  }[];
  expect(others).toEqual([]);
  expect([port.what, Math.round(port.by_percent)]).toEqual(['port', -35]);
  expect(port.advice).toContain('make it 180 mm long');
});

test('refuses what it can’t tell, with what to do', () => {
  const planned = JSON.parse(readFileSync(spec, 'utf8')) as { enclosure: object };
  const other = (enclosure: object) => file('spec.json', JSON.stringify({ ...planned, enclosure }));
  const line = other({ type: 'line', segments: [{ length_mm: 900, area_cm2: 90 }] });
  expect(fair('built', line, table)).toMatchObject({ status: 2, stdout: '' });
  expect(fair('built', line, table).stderr).toContain('Only a sealed or a vented box');
  // The woofer in free air: one peak.
  const rows = Array.from({ length: 80 }, (_, k) => {
    const hz = 10 * 2 ** (k / 12);
    const detuning = 4.8 * (hz / 38 - 38 / hz);
    return `${hz}\t${5.8 + 60 / Math.sqrt(1 + detuning ** 2)}\t0`;
  });
  const free = file('free.txt', rows.join('\n'));
  const refused = fair('built', spec, free);
  expect(refused.status).toBe(2);
  expect(refused.stderr).toMatch(/free\.txt: This impedance has one peak.*Open the port/);
  expect(fair('built', spec).status).toBe(2);
});
