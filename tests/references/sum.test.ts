/**
 * predict() end to end against sums of point sources computed with numpy (see sum/SOURCE.md):
 * measured responses that hold the filters, positions, and a network that passes everything
 * through.
 */
import { phaseDegOf } from '@/core/prediction/derived';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createPredictor } from '@/core/prediction/predict';
import { emptyDesign, emptyDriver, endAt, plainWay, type Design } from '@/core/document/schema';
import { samplesId, type Samples } from '@/core/measurement/samples';
import type { Microphone } from '@/core/radiation/path';
import { measurementStatement } from '../fixtures';

const folder = join(import.meta.dirname, 'sum');
interface Case {
  case: string;
  src: { name: string; xyz: [number, number, number] }[];
}
const { cases } = JSON.parse(readFileSync(join(folder, 'cases.json'), 'utf8')) as { cases: Case[] };

function csv(file: string): { header: string[]; rows: number[][] } {
  const [header, ...rows] = readFileSync(join(folder, file), 'utf8').trim().split('\n');
  return { header: header.split(','), rows: rows.map((row) => row.split(',').map(Number)) };
}

const speedOfSoundMmPerS = 343_200;
const degrees = (re: number, im: number) => (Math.atan2(im, re) * 180) / Math.PI;

/**
 * A design whose drivers are point sources with these filters as responses, as measured by such a
 * microphone.
 */
function designOf({ case: name, src }: Case, microphone: Microphone, listeningDistanceMm: number) {
  const { rows } = csv(`${name}_filters.csv`);
  const frequencyHz = Float64Array.from(rows, (row) => row[0]);
  const flat: Samples = { frequencyHz, magnitude: frequencyHz.map(() => 8), phaseDeg: frequencyHz.map(() => 0) };
  const data = new Map([[samplesId(flat), flat]]);
  const drivers = src.map(({ xyz }, s) => {
    const [xMm, yMm, zMm] = xyz.map((metres) => metres * 1000);
    const flightMm = microphone.placement === 'own-axis' ? microphone.distanceMm - zMm : Math.hypot(xMm, yMm, microphone.distanceMm - zMm);
    const samples: Samples = {
      frequencyHz,
      // The level at the microphone of a source that gives 0 dB at 1 m.
      magnitude: Float64Array.from(rows, (row) => 20 * Math.log10(Math.hypot(row[1 + 2 * s], row[2 + 2 * s]) / (flightMm / 1000))),
      phaseDeg: Float64Array.from(rows, (row) => degrees(row[1 + 2 * s], row[2 + 2 * s]) - (microphone.commonTiming ? (360 * row[0] * flightMm) / speedOfSoundMmPerS : 0)),
    };
    data.set(samplesId(samples), samples);
    return { ...emptyDriver(`d${s}`, `source ${s}`), responseId: samplesId(samples), impedanceId: samplesId(flat), position: { xMm, yMm, zMm } };
  });
  const design: Design = {
    ...emptyDesign(name),
    amplifier: { volts: 2.83, outputOhms: 0, cableOhms: 0 },
    listeningDistanceMm,
    measurements: [
      measurementStatement(samplesId(flat), 'impedance'),
      ...drivers.map(({ responseId }) => ({ ...measurementStatement(responseId, 'response'), microphone })),
    ],
    drivers,
    ways: drivers.map(({ id, name: driverName }) => ({ ...plainWay, id: `w${id}`, name: driverName, ends: [endAt(id)] })),
  };
  return { design, data, frequencyHz };
}

const microphones: Record<string, Microphone> = {
  'on each driver’s axis at 0.5 m, no common timing': { placement: 'own-axis', distanceMm: 500, commonTiming: false },
  'on the design axis at 1 m, common timing': { placement: 'design-axis', distanceMm: 1000, commonTiming: true },
  'on each driver’s axis at 0.7 m, common timing': { placement: 'own-axis', distanceMm: 700, commonTiming: true },
};

describe.each(cases.filter((c) => c.case !== 'c_pistons'))('$case', (c) => {
  describe.each(Object.keys(microphones))('microphone %s', (which) => {
    test.each([1, 2])('sum at %d m within 0.001 dB of the reference', (metres) => {
      const { header, rows } = csv(`${c.case}_${metres}m_h.csv`);
      const onAxis = header.indexOf('0');
      const { design, data, frequencyHz } = designOf(c, microphones[which], metres * 1000);
      const { sum } = createPredictor(frequencyHz)(design, data);
      const worst = rows.reduce((max, row, i) => Math.max(max, Math.abs(sum!.levelDb[i] - row[onAxis])), 0);
      expect(rows).toHaveLength(61);
      expect(worst).toBeLessThan(0.001);
    });
  });
});

test('the phase of the sum agrees with the complex reference, the common distance apart', () => {
  const [c] = cases;
  const { header, rows } = csv('a_two_way_complex.csv');
  const at = header.indexOf('re_2m_h0');
  const { design, data, frequencyHz } = designOf(c, microphones['on each driver’s axis at 0.5 m, no common timing'], 2000);
  const { sum } = createPredictor(frequencyHz)(design, data);
  const phaseDeg = phaseDegOf(sum!.pressure);
  rows.forEach((row, i) => {
    const wanted = degrees(row[at], row[at + 1]) + (360 * row[0] * 2000) / speedOfSoundMmPerS;
    const error = (((phaseDeg[i] - wanted) % 360) + 540) % 360 - 180;
    expect(Math.abs(error)).toBeLessThan(0.01);
  });
});
