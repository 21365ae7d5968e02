import { captureSweep } from '@/core/measurement/capture';
import { captureFiles } from './captureFiles';
import { readWav } from './wav';

const sampleRateHz = 48_000;
const sweep = captureSweep({ levelDb: -12, seconds: 0.5, sampleRateHz });
/** The microphone heard half of it, the loop all of it, both a little later. */
const later = (gain: number) => {
  const out = new Float64Array(sweep.length + 4800);
  for (const [i, value] of sweep.entries()) out[i + 960] = gain * value;
  return out;
};
const recorded = { sampleRateHz, channels: [later(0.5), later(1)] };

test('without a loop the sweep that was played is the reference', () => {
  const { files, referenceDb } = captureFiles({ name: 'woofer', sweep, recorded, hasLoop: false });
  expect(files.map(({ name }) => name)).toEqual(['woofer sweep.wav', 'woofer.wav']);
  const [reference, response] = files.map(({ name, bytes }) => readWav(bytes, name));
  expect(reference.channels[0]).toHaveLength(sweep.length);
  expect(response.channels[0]).toHaveLength(sweep.length + 4800);
  expect(referenceDb).toBeCloseTo(-12, 1);
});

test('with a loop what it heard is the reference', () => {
  const { files, referenceDb } = captureFiles({ name: 'woofer', sweep, recorded, hasLoop: true });
  const { channels, sampleRateHz: rate } = readWav(files[0].bytes, 'x.wav');
  expect(rate).toBe(sampleRateHz);
  expect(channels[0].some((value) => Math.abs(value) > 0.1)).toBe(true);
  expect(Math.abs(referenceDb + 12)).toBeLessThan(1);
});
