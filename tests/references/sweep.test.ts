/**
 * Response and harmonics of a recorded sweep against the system that made the recording: see
 * sweep/SOURCE.md.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav } from '@/core/formats/wav';
import { readSweep, sweepShape } from '@/core/measurement/sweep';

const folder = join(import.meta.dirname, 'sweep');
const sound = (name: string) =>
  readWav(new Uint8Array(readFileSync(join(folder, name))), name).channels[0];
const { truth, sweep, direct_delay_s } = JSON.parse(
  readFileSync(join(folder, 'truth.json'), 'utf8'),
) as {
  truth: {
    freq_hz: number[];
    mag_db: number[];
    phase_deg: number[];
    hd2_db: (number | null)[];
    hd3_db: (number | null)[];
  };
  sweep: { f1_hz: number; f2_hz: number; duration_s: number };
  direct_delay_s: number;
};
const recording = sound('recording.wav');
const reference = sound('sweep_clean.wav');
const frequencyHz = Float64Array.from(truth.freq_hz);
const gateSeconds = 0.005;
const reading = readSweep(recording, reference, 48_000, frequencyHz, {
  gateSeconds,
  orders: [2, 3],
});
/** Points at which a gate of this length can say something. */
const inside = [...frequencyHz.keys()].filter(
  (i) => frequencyHz[i] >= 2.5 / gateSeconds && frequencyHz[i] < 19_000,
);

test('band and speed of the sweep are read from its zero crossings', () => {
  const shape = sweepShape(reference, 48_000);
  expect(shape.fromHz / sweep.f1_hz).toBeCloseTo(1, 1);
  expect(shape.toHz / sweep.f2_hz).toBeCloseTo(1, 2);
  const expected = sweep.duration_s / Math.log(sweep.f2_hz / sweep.f1_hz);
  expect(shape.secondsPerNeper / expected).toBeCloseTo(1, 3);
});

test('with the reflection gated out, the response within 0.1 dB and 1° of the truth', () => {
  expect(inside.length).toBeGreaterThan(55);
  for (const i of inside) {
    expect(Math.abs(reading.response.magnitude[i] - truth.mag_db[i])).toBeLessThan(0.1);
    const flight = -360 * frequencyHz[i] * direct_delay_s;
    const turns = (reading.response.phaseDeg![i] - truth.phase_deg[i] - flight) / 360;
    expect(360 * Math.abs(turns - Math.round(turns))).toBeLessThan(1);
  }
});

test.each([2, 3])('harmonic %i within 1 dB at the frequency that was played', (order) => {
  const { levelDb, floorDb } = reading.harmonics.find((one) => one.order === order)!;
  const expected = order === 2 ? truth.hd2_db : truth.hd3_db;
  const stated = inside.filter((i) => !Number.isNaN(levelDb[i]));
  expect(stated.length).toBeGreaterThan(35);
  for (const i of stated) {
    expect(Math.abs(levelDb[i] - reading.response.magnitude[i] - expected[i]!)).toBeLessThan(1);
    expect(floorDb[i]).toBeLessThan(levelDb[i] - 10);
  }
});

test('outside the band of the sweep nothing is stated', () => {
  const { response } = readSweep(
    recording,
    reference,
    48_000,
    Float64Array.of(10, 1000, 20_700),
  );
  expect([...response.magnitude].map(Number.isNaN)).toEqual([true, false, true]);
});
