/**
 * Files as programs of other countries and habits write them: invented data, layouts seen in
 * practice.
 */
import fc from 'fast-check';
import { strToU8 } from 'fflate';
import { samplesId } from '../measurement/samples';
import { importedMeasurement } from './importMeasurement';
import { readTable } from './readTable';

const at = '2026-11-27T12:00:00.000Z';
const rows = ['20;7,21;-12,50', '200;6,80;-0,00', '2000;9,10;31,25', '20000;14,00;44,00'];
const read = (header: string, lines = rows) =>
  readTable(strToU8([header, ...lines].join('\n')), 'z.txt');

test.each([
  ['German, names over units', 'Frequenz;Impedanz;Phase\nHz;Ohm;Grad'],
  ['units alone', 'Hz;Ohm;Grad'],
  ['units over names', 'Hz;Ohm;Grad\nFrequenz;Impedanz;Phase'],
  ['Italian', 'Frequenza;Impedenza;Fase\nHz;ohm;gradi'],
  ['Spanish', 'Frecuencia;Impedancia;Fase\n[Hz];[ohm];[grados]'],
  ['French', 'Fréquence;Impédance;Phase\nHz;Ω;degrés'],
  ['Dutch', 'Frequentie;Impedantie;Fase\nHz;Ohm;graden'],
  ['Portuguese', 'Frequência;Impedância;Fase\nHz;ohm;graus'],
  ['Polish', 'Częstotliwość;Impedancja;Faza\nHz;Ω;stopnie'],
  ['Swedish', 'Frekvens (Hz);Impedans (ohm);Fas (grader)'],
  [
    'a title and prose before them',
    'Kleiner Tieftöner\nAufnahme vom Montag\nFrequenz;Impedanz;Phase\nHz;Ohm;Grad',
  ],
])('two-line and foreign headers: %s', (_name, header) => {
  const { samples, kind } = read(header);
  expect(kind).toBe('impedance');
  expect([...samples.phaseDeg!]).toEqual([-12.5, 0, 31.25, 44]);
});

test.each([
  ['dB SPL', 'Hz\tdB SPL\tdeg'],
  ['dBSPL', 'Hz\tdBSPL\t°'],
  ['Schalldruckpegel', 'Frequenz\tSchalldruckpegel\tPhase\nHz\tdB_SPL\tGrad'],
])('levels in %s', (_name, header) => {
  const { samples, kind } = read(header, ['20\t80,5\t-170,0', '200\t85,0\t-0,0']);
  expect(kind).toBe('response');
  expect(samples.phaseDeg![0]).toBe(-170);
});

test('radians and pascals in other words', () => {
  const { samples } = read('Frequenza;Pressione;Fase\nHz;Pa;rad', ['20;0,02;1,0', '200;0,2;-1,0']);
  expect(samples.magnitude[0]).toBeCloseTo(60, 9);
  expect(samples.phaseDeg![0]).toBeCloseTo(180 / Math.PI, 9);
});

test('a column that could be the phase is offered, not taken and not dropped in silence', () => {
  const text = 'Hz;Ohm;Drehung\n20;7,2;-12,5\n200;6,8;0,0\n2000;9,1;31,0\n';
  const { measurement, withPhase, numbers } = importedMeasurement(
    { name: 'z.txt', bytes: strToU8(text) },
    at,
  );
  expect(numbers.get(measurement.id)!.phaseDeg).toBeNull();
  expect(withPhase).toMatchObject({ column: 3, label: 'Drehung' });
  const id = withPhase!.measurement.id;
  expect([...withPhase!.numbers.get(id)!.phaseDeg!]).toEqual([-12.5, 0, 31]);
  expect(withPhase!.measurement.origin.warnings.join(' ')).toContain(
    'Column 3, “Drehung”, was taken',
  );
  // A coherence or a count is none, and neither is a column with a known name.
  for (const header of ['Hz;Ohm;Kohärenz', 'Hz;Ohm;Nr'])
    expect(readTable(strToU8(`${header}\n20;7;0,9\n200;8;1\n`), 'z').possiblePhase).toBeNull();
  expect(
    readTable(strToU8('Hz;dB;Pegel hinten\n20;80;-60\n200;85;-50\n'), 'z').possiblePhase,
  ).toBeNull();
});

test('padding, form feeds and control characters of old programs do no harm', () => {
  const table = Array.from({ length: 200 }, (_, i) => `${20 + i} ${80 + i / 100} ${-i}.00`).join(
    '\r\n',
  );
  const padded = strToU8(`${table}\r\n${'\0'.repeat(512)}`);
  expect(readTable(padded, 'x').samples.frequencyHz).toHaveLength(200);
  expect(readTable(strToU8('20 80\r\n30 81\r\n\x1a'), 'x').samples.magnitude).toHaveLength(2);
  const { measurement } = importedMeasurement(
    {
      name: `${'n'.repeat(79)}😀.txt`,
      bytes: strToU8(`Titel \x07 ${'w'.repeat(5000)}\nHz dB\n20 80\n30 81\nEnde \0`),
    },
    at,
  );
  expect(JSON.stringify(measurement)).not.toMatch(/\\u00|\\ud/);
  expect(measurement.name).toBe('n'.repeat(79));
});

test.each([
  ['all rows but one at 0 Hz', '* Hz linear\n0 1\n0 2\n20 3\n', /1 usable row/],
  ['silence', '* Hz linear\n20 0\n30 0\n', /no rows/],
  ['kHz that overflow', 'kHz dB\n1e300 80\n1e306 81\n', /too large|do not rise/],
  ['kohm that overflow', 'Hz kohm\n20 1e306\n30 1e307\n', /too large/],
  ['radians that overflow', 'Hz dB rad\n20 80 1e307\n30 80 1e307\n', /too large/],
  ['one long line', `20 80\n30 ${'1'.repeat(20_000)}\n`, /20,003 characters/],
  ['many columns', `${'1 '.repeat(400)}\n${'2 '.repeat(400)}\n`, /400 columns/],
  ['words without end', 'word\n'.repeat(5002), /lines without numbers/],
])('refused at import, not at the server: %s', (_name, text, message) => {
  expect(() => readTable(strToU8(text), 'odd.txt')).toThrow(message);
});

test('what is read is what is sent, whatever the numbers: zero has no sign, every double keeps its digits', () => {
  const double = fc.double({ noNaN: true, noDefaultInfinity: true });
  fc.assert(
    fc.property(fc.array(fc.tuple(double, double), { minLength: 2, maxLength: 20 }), (pairs) => {
      const text = pairs.map(([level, phase], i) => `${i + 1}\t${String(level)}\t${String(phase)}`);
      const { samples } = readTable(strToU8(`Hz\tdB\tdeg\n${text.join('\n')}`), 'x');
      const sent = JSON.parse(
        JSON.stringify({ m: [...samples.magnitude], p: [...samples.phaseDeg!] }),
      ) as { m: number[]; p: number[] };
      expect(sent.m.every((value, i) => Object.is(value, samples.magnitude[i]))).toBe(true);
      expect(sent.p.every((value, i) => Object.is(value, samples.phaseDeg![i]))).toBe(true);
      const back = {
        ...samples,
        magnitude: Float64Array.from(sent.m),
        phaseDeg: Float64Array.from(sent.p),
      };
      expect(samplesId(back)).toBe(samplesId(samples));
    }),
  );
  const signed = {
    frequencyHz: Float64Array.of(1, 2),
    magnitude: Float64Array.of(-0, 1),
    phaseDeg: null,
  };
  expect(samplesId(signed)).toBe(samplesId({ ...signed, magnitude: Float64Array.of(0, 1) }));
});
