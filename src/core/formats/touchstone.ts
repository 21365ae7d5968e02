import { problem } from '@/core/problem';
import { checkedSamples, type Samples } from '@/core/measurement/samples';
import { decodeText } from './decodeText';

const unitHz: Readonly<Record<string, number>> = { hz: 1, khz: 1e3, mhz: 1e6, ghz: 1e9 };
type Complex = readonly [re: number, im: number];

/** Whether a file calls itself a one-port in Touchstone. */
export const isTouchstone = (fileName: string) => /\.s1p$/i.test(fileName);

/**
 * Reads a Touchstone one-port (EIA/IBIS Touchstone 1.1) as an impedance: option line `# unit S|Z|Y
 * MA|DB|RI R ohms`, by default `# GHz S MA R 50`; `!` begins a comment. Z and Y of version 1 are
 * normalised to R.
 *
 * @throws ProblemError naming file and line
 */
export function readTouchstone(bytes: Uint8Array, fileName: string): Samples {
  const { text } = decodeText(bytes, fileName);
  let option = { unit: 1e9, parameter: 's', pair: 'ma', ohms: 50 };
  let hasOption = false;
  const rows: { hz: number; z: Complex }[] = [];
  text.split(/\r\n|\n|\r/).forEach((raw, index) => {
    const where = `${fileName}:${index + 1}`;
    const bad = (what: string, why = '') =>
      problem('not_touchstone', where, what, why, 'Export a one-port Touchstone file again.');
    const line = raw.replace(/!.*/, '').trim().toLowerCase();
    if (line === '') return;
    if (line.startsWith('#')) {
      // Only the first option line counts.
      if (!hasOption) option = readOption(line.slice(1), bad);
      hasOption = true;
      return;
    }
    const fields = line.split(/\s+/).map(Number);
    if (fields.length !== 3 || fields.some((value) => !Number.isFinite(value)))
      throw bad(
        'Three numbers are wanted in a line: frequency and a pair.',
        'A one-port has no more.',
      );
    const [frequency, first, second] = fields;
    if (!(frequency > 0)) return;
    const z = impedanceOf(complexOf(first, second, option.pair), option);
    if (!Number.isFinite(z[0]) || !Number.isFinite(z[1]))
      throw bad('The impedance is infinite here.', 'The reflection is exactly 1.');
    rows.push({ hz: frequency * option.unit, z });
  });
  rows.sort((a, b) => a.hz - b.hz);
  const unique = rows.filter(({ hz }, i) => i === 0 || hz > rows[i - 1].hz);
  if (unique.length < 2)
    throw problem(
      'not_touchstone',
      fileName,
      'There are no two points in this file.',
      '',
      'Check that it holds a sweep.',
    );
  const samples = checkedSamples(
    unique.map(({ hz }) => hz),
    unique.map(({ z }) => Math.hypot(...z)),
    unique.map(({ z: [re, im] }) => (Math.atan2(im, re) * 180) / Math.PI),
  );
  if (typeof samples !== 'string') return samples;
  throw problem(
    'not_touchstone',
    fileName,
    `This file can’t be used: ${samples}.`,
    '',
    'Export a one-port Touchstone file again.',
  );
}

type Option = { unit: number; parameter: string; pair: string; ohms: number };

function readOption(text: string, bad: (what: string, why?: string) => Error): Option {
  const option: Option = { unit: 1e9, parameter: 's', pair: 'ma', ohms: 50 };
  const words = text.trim().split(/\s+/).filter(Boolean);
  for (let i = 0; i < words.length; i++) {
    const word = words[i];
    if (Object.hasOwn(unitHz, word)) option.unit = unitHz[word];
    else if (['s', 'z', 'y'].includes(word)) option.parameter = word;
    else if (['ma', 'db', 'ri'].includes(word)) option.pair = word;
    else if (word === 'r') {
      option.ohms = Number(words[++i]);
      if (!(option.ohms > 0)) throw bad('The reference resistance is not above 0.');
    } else
      throw bad(
        `“${word.slice(0, 20)}” is not understood in the option line.`,
        'S, Z and Y are read, in MA, DB or RI.',
      );
  }
  return option;
}

function complexOf(first: number, second: number, pair: string): Complex {
  if (pair === 'ri') return [first, second];
  const size = pair === 'db' ? 10 ** (first / 20) : first;
  const angle = (second * Math.PI) / 180;
  return [size * Math.cos(angle), size * Math.sin(angle)];
}

const quotient = ([a, b]: Complex, [c, d]: Complex): Complex => {
  const square = c * c + d * d;
  return [(a * c + b * d) / square, (b * c - a * d) / square];
};

/** Ω of a parameter: Z = R·(1 + S)/(1 − S). */
function impedanceOf(value: Complex, { parameter, ohms }: Option): Complex {
  const [re, im] = value;
  const normal: Complex =
    parameter === 'z'
      ? value
      : parameter === 'y'
        ? quotient([1, 0], value)
        : quotient([1 + re, im], [1 - re, -im]);
  return [normal[0] * ohms, normal[1] * ohms];
}

/**
 * An impedance as a Touchstone one-port: reflection re 50 Ω, real and imaginary part in full
 * precision.
 */
export function writeTouchstone(
  { frequencyHz, magnitude, phaseDeg }: Samples,
  comment: string,
): string {
  const lines = [`! ${comment.replace(/\s+/g, ' ')}`, '# Hz S RI R 50'];
  for (let i = 0; i < frequencyHz.length; i++) {
    const angle = ((phaseDeg?.[i] ?? 0) * Math.PI) / 180;
    const [re, im] = [magnitude[i] * Math.cos(angle), magnitude[i] * Math.sin(angle)];
    lines.push([frequencyHz[i], ...quotient([re - 50, im], [re + 50, im])].join(' '));
  }
  return lines.join('\n') + '\n';
}
