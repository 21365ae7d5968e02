import { strToU8, unzipSync, zipSync } from 'fflate';
import { readSession } from '../../../tests/fixtures';
import { compactLog, expandedLog, type ExportedVersion } from '@/core/log/exportedLog';
import { predict } from '@/core/prediction/predict';
import { readDesign } from '@/core/document/readDesign';
import { samplesId } from '../measurement/samples';
import { curveTables } from './curveTables';
import { fileStem } from '@/core/text';
import { importedMeasurement } from './importMeasurement';
import { meanMeasurement } from './meanMeasurement';
import { readProjectFile, writeProjectFile } from './projectFile';
import { openArchive } from './unpack';
import { readTable } from './readTable';
import { writeCsv } from './writeTable';

const { design, data } = readSession();
const log: ExportedVersion[] = [
  {
    number: 1,
    variant: 'main line',
    reason: 'begin',
    name: 'first',
    startedAt: '2026-11-20T10:00:00.000Z',
    endedAt: '2026-11-20T11:00:00.000Z',
    labels: ['set L1'],
    note: '**bold** <script>alert(1)</script>',
    impressions: [
      { heard: 'boom', where: 'back row', programme: 'organ', levelDb: 80, company: '' },
    ],
    figures: null,
    document: { ...design, name: 'as it was', measurements: design.measurements.slice(0, 6) },
  },
];
const file = writeProjectFile({ design, data, log });
const { document, ...head } = log[0];
const repacked = (edit: (entries: Record<string, Uint8Array>) => void) => {
  const entries = unzipSync(file);
  edit(entries);
  return zipSync(entries);
};
const table = `measurements/${design.measurements[0].id}.txt`;

test('a project survives the file to the last digit', () => {
  const back = readProjectFile(file, 'p.zip');
  expect(back.design).toEqual(design);
  expect(back.log).toEqual(log);
  for (const { id } of design.measurements) expect(back.data.get(id)).toEqual(data.get(id));
  expect(predict(back.design, back.data)).toEqual(predict(design, data));
});

test('harmonics excursion with their measurement, and none may be missing', () => {
  const [first, ...others] = design.measurements;
  const table = (shift: number) => ({
    frequencyHz: Float64Array.of(20, 40, 80),
    magnitude: Float64Array.of(-60, -61.5 + shift, -1 / 3),
    phaseDeg: null,
  });
  const [level, floor] = [table(0), table(-30)];
  const [levelId, floorId] = [samplesId(level), samplesId(floor)];
  const swept = {
    ...design,
    measurements: [{ ...first, harmonics: [{ order: 2, levelId, floorId }] }, ...others],
  };
  const all = new Map([...data, [levelId, level], [floorId, floor]]);
  const back = readProjectFile(writeProjectFile({ design: swept, data: all, log: [] }), 'p.zip');
  expect(back.data.get(levelId)).toEqual(level);
  expect(back.data.get(floorId)).toEqual(floor);
  expect(() => writeProjectFile({ design: swept, data, log: [] })).toThrow('are not loaded');
});

test('the mean of two is a measurement whose origin names them', () => {
  const [one, other] = design.measurements;
  const mean = meanMeasurement([one, other], data.get(one.id)!, '2026-01-01T00:00:00.000Z');
  expect(mean).toMatchObject({
    name: 'mean of woofer response, midrange response',
    kind: 'response',
    recipe: [],
  });
  const added = {
    ...design,
    measurements: [{ ...mean, id: 'f'.repeat(32) }, ...design.measurements],
  };
  expect(readDesign(added, 'here').measurements[0].origin.readAs).toMatch(/mean of 2/);
});

test('the file holds a manifest, the document and plain tables', () => {
  const entries = unzipSync(file);
  expect(Object.keys(entries).sort()).toEqual(
    [
      'design.json',
      'log/0001.json',
      'manifest.json',
      ...design.measurements.map(({ id }) => `measurements/${id}.txt`),
    ].sort(),
  );
});

test('what is not loaded can’t be exported', () => {
  expect(() => writeProjectFile({ design, data: new Map(), log: [] })).toThrow(
    /numbers of woofer response are not loaded/,
  );
});

test.each<[string, Uint8Array, string, RegExp]>([
  ['not a zip', strToU8('hello'), 'project_damaged', /can’t be unpacked/],
  ['cut off', file.subarray(0, file.length / 2), 'project_damaged', /can’t be unpacked/],
  [
    'without a design',
    repacked((e) => delete e['design.json']),
    'not_a_project',
    /no design\.json/,
  ],
  [
    'with a broken design',
    repacked((e) => (e['design.json'] = strToU8('{'))),
    'project_damaged',
    /not valid JSON/,
  ],
  [
    'with another kind of design',
    repacked((e) => (e['design.json'] = strToU8('{}'))),
    'not_a_design',
    /not a Fair Voicing design/,
  ],
  [
    'with a log of another kind',
    repacked((e) => (e['log.json'] = strToU8('[{"number": 0}]'))),
    'project_damaged',
    /log can’t be read: 0/,
  ],
  [
    'with a version that names a table that is not there',
    repacked((e) => {
      const [first] = design.measurements;
      const lost = { ...first, id: 'f'.repeat(32), name: 'lost' };
      const named = { ...design, measurements: [lost], drivers: [], boxes: [], ways: [] };
      e['log.json'] = strToU8(JSON.stringify([{ ...head, document: named }]));
    }),
    'project_damaged',
    /table of lost is missing/,
  ],
  [
    'without a table',
    repacked((e) => delete e[table]),
    'project_damaged',
    /table of woofer response is missing/,
  ],
  [
    'with a changed table',
    repacked((e) => (e[table] = strToU8('20 80 1\n30 80 1\n'))),
    'fingerprint_differs',
    /not the numbers of woofer response/,
  ],
  [
    'with a way out of the folder',
    repacked((e) => (e['../../etc/passwd'] = strToU8('x'))),
    'project_foreign_entry',
    /“\.\.\/\.\.\/etc\/passwd”/,
  ],
  [
    'with an absolute path',
    repacked((e) => (e['/tmp/x.txt'] = strToU8('x'))),
    'project_foreign_entry',
    /no such entry/,
  ],
  [
    'with a script',
    repacked((e) => (e['run.html'] = strToU8('<script>'))),
    'project_foreign_entry',
    /run\.html/,
  ],
  [
    'that unpacks to too much',
    repacked((e) => (e[table] = new Uint8Array(70 * 2 ** 20))),
    'project_too_large',
    /unpacks to more/,
  ],
])('a file %s is refused', (_name, bytes, code, message) => {
  let thrown: unknown;
  try {
    readProjectFile(bytes, 'p.zip');
  } catch (error) {
    thrown = error;
  }
  expect((thrown as { problem?: { code: string } }).problem?.code).toBe(code);
  expect((thrown as Error).message).toMatch(message);
});

test('every curve comes out as a table that reads back', () => {
  const prediction = predict(design, data);
  const tables = new Map(curveTables(design, prediction));
  expect([...tables.keys()]).toContain('way-2-midrange-response.txt');
  const bytes = (name: string) => new TextEncoder().encode(tables.get(name));
  const sum = readTable(bytes('sum-response.txt'), 'sum');
  expect([sum.kind, sum.samples.magnitude]).toEqual(['response', prediction.sum!.levelDb]);
  const load = readTable(bytes('impedance.txt'), 'z');
  expect([load.kind, load.samples.phaseDeg]).toEqual(['impedance', prediction.impedance!.phaseDeg]);
});

test('names become file names without tricks', () => {
  expect(fileStem('../../The "Reading" Room?')).toBe('the-reading-room');
  expect(fileStem('***')).toBe('unnamed');
});

test('CSV quotes what needs it', () => {
  expect(
    writeCsv([
      ['freq_hz', [1]],
      ['v(a,b)_re', [0.1]],
    ]),
  ).toBe('freq_hz,"v(a,b)_re"\n1,0.1\n');
});

test('an imported file says where it came from, without its path', () => {
  const { measurement, numbers } = importedMeasurement(
    {
      bytes: new TextEncoder().encode('* made up\nHz dB\n20 80\n30 81\n'),
      name: '/home/someone/<b>odd</b> name.frq',
    },
    '2026-01-01T00:00:00.000Z',
  );
  expect(measurement).toMatchObject({
    kind: 'response',
    name: 'b> name',
    origin: { rowCount: 2, kindReason: 'the header says dB', header: ['made up', 'Hz dB'] },
  });
  expect(measurement.origin.warnings).toHaveLength(1);
  expect(numbers.get(measurement.id)!.magnitude[1]).toBe(81);
});

test('a long log travels in pieces, as what changed, and comes back version by version', () => {
  const versions = Array.from({ length: 700 }, (_, i) => ({
    head: { ...head, number: i + 1, note: 'x'.repeat(12_000) },
    document: { ...design, airTemperatureC: 10 + (i % 20) },
  }));
  const long = compactLog(versions);
  // A new piece can begin with a whole document only: some are put in, as the server's pages have
  // them.
  const paged = [...long.slice(0, 350), ...compactLog(versions.slice(350))];
  const bytes = writeProjectFile({ design, data, log: paged });
  const names = Object.keys(unzipSync(bytes)).filter((name) => name.startsWith('log/'));
  expect(names).toEqual(['log/0001.json', 'log/0002.json']);
  const back = readProjectFile(bytes, 'p.zip');
  expect([...expandedLog(back.log, 'p.zip')]).toEqual(versions);
});

test.each([
  ['a copy, which could make much of little', { op: 'copy', from: '/ways', path: '/name' }],
  ['a way into the prototype', { op: 'add', path: '/__proto__/x', value: 1 }],
  ['a place that is not there', { op: 'replace', path: '/ways/99/name', value: 'x' }],
])('a log whose change is %s is refused', (_name, operation) => {
  const bytes = repacked(
    (e) =>
      (e['log.json'] = strToU8(
        JSON.stringify([
          { ...head, document },
          { ...head, patch: [operation] },
        ]),
      )),
  );
  expect(() => readProjectFile(bytes, 'p.zip')).toThrow(
    /can’t be read|can’t be put together|Invalid/,
  );
  expect(({} as { x?: number }).x).toBeUndefined();
});

/**
 * An archive whose directory names one stream many times: each name has a record of its own, the
 * data are written once.
 */
function sharedStream(names: readonly string[], stream: Uint8Array): Uint8Array {
  const one = zipSync({ [names[0]]: stream }, { level: 9 });
  const view = new DataView(one.buffer, one.byteOffset);
  const end = one.length - 22;
  const start = view.getUint32(end + 16, true);
  const record = one.subarray(start, end);
  const records = names.map((name) => {
    const copy = record.slice();
    copy.set(strToU8(name), 46);
    // The directory states a harmless size.
    new DataView(copy.buffer).setUint32(24, 1000, true);
    return copy;
  });
  const out = new Uint8Array(start + records.length * record.length + 22);
  out.set(one.subarray(0, start));
  records.forEach((copy, i) => out.set(copy, start + i * record.length));
  out.set(one.subarray(end), out.length - 22);
  const outView = new DataView(out.buffer);
  outView.setUint16(out.length - 14, records.length, true);
  outView.setUint16(out.length - 12, records.length, true);
  outView.setUint32(out.length - 10, records.length * record.length, true);
  return out;
}

test('a directory that names one stream many times is unpacked once, by its real size', () => {
  const names = Array.from(
    { length: 400 },
    (_, i) => `measurements/${i.toString(16).padStart(32, '0')}.txt`,
  );
  const bytes = sharedStream(names, new Uint8Array(60 * 2 ** 20));
  expect(bytes.length).toBeLessThan(150_000);
  let unpacked = 0;
  const archive = openArchive(bytes, 'bomb.zip', () => true, {
    fileBytes: 2 ** 26,
    entryCount: 5000,
    entryBytes: 2 ** 26,
    totalBytes: 2 ** 28,
  });
  for (const content of archive.read(() => true).values()) unpacked += content.length;
  expect(unpacked).toBe(60 * 2 ** 20);
  expect(() => readProjectFile(bytes, 'bomb.zip')).toThrow(/no design\.json/);
});
