import { readMeasurement } from './readMeasurement';
import { readTouchstone, writeTouchstone } from './touchstone';
import { longestSamples, readWav, writeWav } from './wav';

const text = (content: string) => new TextEncoder().encode(content);

/** A WAV file of one channel in a given encoding. */
function wav(code: number, bits: number, data: Uint8Array, claimed = data.length): Uint8Array {
  const view = new DataView(new ArrayBuffer(44 + data.length));
  const put = (at: number, letters: string) =>
    [...letters].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  put(0, 'RIFF');
  put(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, code, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, 48_000, true);
  view.setUint16(34, bits, true);
  put(36, 'data');
  view.setUint32(40, claimed, true);
  const bytes = new Uint8Array(view.buffer);
  bytes.set(data, 44);
  return bytes;
}

test('what is written is read again, channels apart', () => {
  const channels = [Float64Array.of(0, 0.5, -0.25), Float64Array.of(1, -1, 0.125)];
  expect(readWav(writeWav({ sampleRateHz: 44_100, channels }), 'a.wav')).toEqual({
    sampleRateHz: 44_100,
    channels,
  });
});

test.each<[string, number, number, number[], number[]]>([
  ['8 bits', 1, 8, [128, 192, 64], [0, 0.5, -0.5]],
  ['16 bits', 1, 16, [0, 0, 0, 0x40, 0, 0xc0], [0, 0.5, -0.5]],
  ['24 bits', 1, 24, [0, 0, 0, 0, 0, 0x40, 0, 0, 0xc0], [0, 0.5, -0.5]],
  ['32 bits', 1, 32, [0, 0, 0, 0x40, 0, 0, 0, 0xc0], [0.5, -0.5]],
  ['64-bit float', 3, 64, [...new Uint8Array(Float64Array.of(0.1, -2).buffer)], [0.1, -2]],
])('PCM and floating point: %s', (_name, code, bits, data, expected) => {
  expect([...readWav(wav(code, bits, Uint8Array.from(data)), 'a.wav').channels[0]]).toEqual(
    expected,
  );
});

test('a recorder that was stopped hard leaves an open length: the rest of the file is sound', () => {
  const data = Uint8Array.from([0, 0x40, 0, 0xc0]);
  expect([...readWav(wav(1, 16, data, 0xffffffff), 'a.wav').channels[0]]).toEqual([0.5, -0.5]);
});

test.each<[string, () => Uint8Array, RegExp]>([
  ['not a WAV', () => text('hello, this is text'), /not a WAV/],
  ['nothing', () => new Uint8Array(0), /not a WAV/],
  ['cut short', () => wav(1, 16, new Uint8Array(8), 400), /cut short/],
  ['compressed', () => wav(85, 16, new Uint8Array(8)), /encoding is not read \(format 85/],
  ['no samples', () => wav(1, 16, new Uint8Array(2)), /no sound/],
  ['not a number', () => wav(3, 32, new Uint8Array(Float32Array.of(0, NaN).buffer)), /sample 2/],
  ['too long', () => wav(1, 8, new Uint8Array(longestSamples + 1)), /87 s at 48 kHz/],
  ['no data', () => wav(1, 16, new Uint8Array(4)).slice(0, 36), /no data chunk/],
])('refused: %s', (_name, bytes, message) => {
  expect(() => readWav(bytes(), 'odd.wav')).toThrow(message);
});

test('an impulse as WAV is a response: a click after 2 ms is flat and delayed', () => {
  const click = new Float64Array(4096);
  click[96] = 0.5;
  const bytes = writeWav({ sampleRateHz: 48_000, channels: [click] });
  const { samples, kind } = readMeasurement(bytes, 'click.wav');
  expect(kind).toBe('response');
  samples.magnitude.forEach((db) => expect(db).toBeCloseTo(-6.02, 2));
  const k = samples.frequencyHz.findIndex((hz) => hz >= 1000);
  const turns = samples.phaseDeg![k] / 360 + samples.frequencyHz[k] * 0.002;
  expect(turns - Math.round(turns)).toBeCloseTo(0, 6);
});

describe('Touchstone', () => {
  test('a match, a short of half the reference, and a capacitor', () => {
    const { frequencyHz, magnitude, phaseDeg } = readTouchstone(
      text('! made up\n# kHz S MA R 8\n1 0 0 ! match\n2 0.3333333333 180\n3 1 -90\n'),
      'a.s1p',
    );
    expect([...frequencyHz]).toEqual([1000, 2000, 3000]);
    expect(magnitude[0]).toBeCloseTo(8, 9);
    expect(magnitude[1]).toBeCloseTo(4, 6);
    // Reflection −j is an impedance of −j times the reference.
    expect(magnitude[2]).toBeCloseTo(8, 9);
    expect(phaseDeg![2]).toBeCloseTo(-90, 9);
  });

  test('other parameters, pairs and units; what is written is read again', () => {
    const z = readTouchstone(text('# Hz Z RI R 1\n10 6 2\n20 6 -2\n'), 'z.s1p');
    expect(z.magnitude[0]).toBeCloseTo(Math.hypot(6, 2), 12);
    const y = readTouchstone(text('# MHz Y DB R 1\n1 -20 0\n2 -20 0\n'), 'y.s1p');
    expect(y.frequencyHz[0]).toBe(1e6);
    expect(y.magnitude[0]).toBeCloseTo(10, 12);
    const again = readTouchstone(text(writeTouchstone(z, 'made up')), 'again.s1p');
    again.magnitude.forEach((ohms, i) => expect(ohms).toBeCloseTo(z.magnitude[i], 12));
  });

  test.each([
    ['two columns', '# Hz S MA R 50\n1 2\n', /a\.s1p:2: Three numbers/],
    ['an unknown word', '# Hz S XY R 50\n1 2 3\n', /a\.s1p:1: “xy”/],
    ['no resistance', '# Hz S MA R 0\n1 2 3\n', /not above 0/],
    ['total reflection', '# Hz S MA R 50\n1 1 0\n2 0 0\n', /a\.s1p:2: .*infinite/],
    ['one point', '# Hz S MA R 50\n1 0 0\n', /no two points/],
  ])('refused: %s', (_name, content, message) => {
    expect(() => readTouchstone(text(content), 'a.s1p')).toThrow(message);
  });
});
