import { problem } from '@/core/problem';

/**
 * What a number measures. Stored in the SI unit named here, except lengths, which are stored in mm
 * (a distance is written in metres), areas of cones, which are in cm², and volumes, which are in
 * litres.
 */
export type Dimension =
  | 'ohm'
  | 'henry'
  | 'farad'
  | 'millimetre'
  | 'distance'
  | 'hertz'
  | 'volt'
  | 'watt'
  | 'decibel'
  | 'degree'
  | 'litre'
  | 'squareCentimetre'
  | 'squareMetre'
  | 'teslaMetre'
  | 'second'
  | 'millisecond'
  | 'gram'
  | 'slope'
  | 'number';

interface UnitTable {
  /** Symbol shown after the prefix. */
  readonly symbol: string;
  /** Units understood when typed, lower case, each with its size in the stored unit. */
  readonly typed: Readonly<Record<string, number>>;
  /**
   * What a bare number means, in the stored unit: the trade writes capacitors in µF, coils in mH.
   */
  readonly bare: number;
  /**
   * Prefixes used for display, largest first: [size in the stored unit, prefix, smallest value
   * shown with it].
   */
  readonly shown: readonly (readonly [number, string, number])[];
}

/** A unit that is written without prefixes. */
function plain(symbol: string, ...typed: string[]): UnitTable {
  const units = Object.fromEntries(typed.map((unit) => [unit, 1]));
  return { symbol, typed: units, bare: 1, shown: [[1, '', 0]] };
}

const tables: Readonly<Record<Dimension, UnitTable>> = {
  ohm: {
    symbol: 'Ω',
    typed: { Ω: 1, ω: 1, ohm: 1, ohms: 1, r: 1 },
    bare: 1,
    shown: [
      [1e3, 'k', 1e3],
      [1, '', 0],
    ],
  },
  henry: {
    symbol: 'H',
    typed: { h: 1, henry: 1 },
    bare: 1e-3,
    shown: [
      [1, '', 1],
      [1e-3, 'm', 1e-4],
      [1e-6, 'µ', 0],
    ],
  },
  farad: {
    symbol: 'F',
    typed: { f: 1, farad: 1 },
    bare: 1e-6,
    shown: [
      [1e-6, 'µ', 1e-7],
      [1e-9, 'n', 0],
    ],
  },
  millimetre: {
    symbol: 'mm',
    typed: { mm: 1, cm: 10, m: 1000, in: 25.4, inch: 25.4, '"': 25.4, '″': 25.4 },
    bare: 1,
    shown: [[1, '', 0]],
  },
  hertz: {
    symbol: 'Hz',
    typed: { hz: 1 },
    bare: 1,
    shown: [
      [1e3, 'k', 1e3],
      [1, '', 0],
    ],
  },
  distance: {
    symbol: 'm',
    typed: { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4, ft: 304.8, "'": 304.8 },
    bare: 1000,
    shown: [[1000, '', 0]],
  },
  volt: plain('V', 'v', 'volt', 'volts'),
  watt: plain('W', 'w', 'watt', 'watts'),
  decibel: plain('dB', 'db'),
  second: plain('s', 's'),
  millisecond: plain('ms', 'ms'),
  gram: plain('g', 'g'),
  slope: plain('dB/oct', 'db/oct', 'db/octave', 'db'),
  degree: plain('°', '°', 'deg', 'degrees'),
  litre: plain('l', 'l', 'litre', 'litres'),
  squareCentimetre: plain('cm²', 'cm²', 'cm2'),
  squareMetre: plain('m²', 'm²', 'm2'),
  teslaMetre: plain('T·m', 't·m', 'tm'),
  number: plain('', '×', 'x'),
};

const prefixes: Readonly<Record<string, number>> = {
  p: 1e-12,
  n: 1e-9,
  u: 1e-6,
  µ: 1e-6,
  μ: 1e-6,
  m: 1e-3,
  k: 1e3,
  K: 1e3,
  M: 1e6,
};

const names: Readonly<Record<Dimension, string>> = {
  ohm: 'a resistance such as 6.8, 2k2 or 0,47 Ω',
  henry: 'an inductance such as 0.39, 0,33 mH or 470 µH',
  farad: 'a capacitance such as 33, 4u7 or 680 nF',
  millimetre: 'a length such as 65, 6.5 cm or 2 1/2"',
  hertz: 'a frequency such as 2500 or 2.5 kHz',
  volt: 'a voltage such as 2.83',
  distance: 'a distance such as 2.2 m, 85 cm or 7 ft',
  watt: 'a power such as 60 or 25 W',
  decibel: 'a level such as 1.5 dB',
  degree: 'an angle such as 25°',
  second: 'a time such as 3 s',
  millisecond: 'a time such as 4.2 ms',
  gram: 'a mass such as 15 g',
  slope: 'a slope such as −12 dB/oct',
  litre: 'a volume such as 40 l',
  squareCentimetre: 'an area such as 335 cm²',
  squareMetre: 'an area such as 25 m²',
  teslaMetre: 'a force factor such as 9.2 T·m',
  number: 'a number such as 300',
};

/**
 * Reads what people type: `4u7`, `4.7 µF`, `0,33 mH`, `2k2`, `R47`, `1/2"`, `0.65 in`. What can be
 * read in two ways that lie far apart is refused, and both are named.
 *
 * @param text what was typed
 * @param dimension what is being asked for; a bare number is µF for farad, mH for henry, else the
 *   stored unit
 * @returns the value in the stored unit (Ω, H, F, mm, Hz, V)
 * @throws ProblemError `not_a_quantity`, `two_readings`
 */
export function parseQuantity(text: string, dimension: Dimension): number {
  const table = tables[dimension];
  const trimmed = text.trim();
  const twoReadings = secondReading(trimmed, dimension);
  if (twoReadings !== null)
    throw problem('two_readings', trimmed, 'This can be read in two ways.', '', twoReadings);
  // A square is typed as 2 as well; as a digit it would belong to the number.
  const compact = trimmed
    .replace(',', '.')
    .replace('−', '-')
    .replace(/(c?m)2$/, '$1²');
  const reject = () =>
    problem(
      'not_a_quantity',
      trimmed,
      'This is not a value that can be used here.',
      '',
      `Type ${names[dimension]}.`,
    );

  // 4u7, 2k2, 3R3, R47: the prefix is in the place of the decimal mark.
  const infix = /^([+-]?\d*)\s*([pnuµμmkKMrR])(\d+)\s*([^\d\s.]*)$/.exec(compact);
  if (infix && takesPrefix(table)) {
    const [, whole, mark, fraction, unit] = infix;
    if (unit !== '' && !(unit.toLowerCase() in table.typed)) throw reject();
    const scale = /r/i.test(mark) ? 1 : prefixes[mark];
    return tidy(Number(`${whole}.${fraction}`) * scale);
  }

  const match =
    /^([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(?:\s+(\d+)\/(\d+)|\/(\d+))?\s*([^\d\s]*)$/.exec(
      compact,
    );
  if (!match) throw reject();
  const [, mantissa, numerator, denominator, divisor, unit] = match;
  let number = Number(mantissa);
  if (numerator) number += Number(numerator) / Number(denominator);
  if (divisor) number /= Number(divisor);
  const scale = unitScale(unit, table);
  if (scale === undefined || !Number.isFinite(number)) throw reject();
  return tidy(number * scale);
}

/**
 * The same, within limits.
 *
 * @param min in the stored unit, as `max`
 * @throws ProblemError `not_a_quantity`, `two_readings`, `out_of_limits`
 */
export function parseWithin(text: string, dimension: Dimension, min: number, max: number): number {
  const value = parseQuantity(text, dimension);
  if (value >= min && value <= max) return value;
  throw problem(
    'out_of_limits',
    text.trim(),
    'This is beyond the limits of this value.',
    '',
    limitsInWords(min, max, dimension),
  );
}

function limitsInWords(min: number, max: number, dimension: Dimension): string {
  if (max === Infinity) return `At least ${formatQuantity(min, dimension)}.`;
  if (min === -Infinity) return `At most ${formatQuantity(max, dimension)}.`;
  return `Between ${formatQuantity(min, dimension)} and ${formatQuantity(max, dimension)}.`;
}

/** How to type what has two readings a thousand times apart or more; null for what has one. */
function secondReading(text: string, dimension: Dimension): string | null {
  // A group of thousands never begins with a nought: 0,330 is a decimal.
  const grouped = /^[-+−]?([1-9]\d{0,2}),(\d{3})(?!\d)/.exec(text);
  if (grouped) {
    const [, thousands, rest] = grouped;
    return `Is the comma a decimal mark? Type ${Number(`${thousands}.${rest}`)} or ${thousands}${rest}.`;
  }
  if (dimension !== 'farad' && dimension !== 'henry') return null;
  const mark = /^(\d*)[rR](\d+)/.exec(text);
  if (mark) {
    const [micro, milli] = [`${mark[1] || '0'}u${mark[2]}`, `${mark[1] || '0'}m${mark[2]}`];
    return `R marks ohms. Type ${dimension === 'farad' ? micro : `${micro} or ${milli}`}.`;
  }
  const mega = /^([\d.,]+)\s*M/.exec(text);
  return mega
    ? `M is a million; old parts have it for µ. Type ${mega[1]} ${dimension === 'farad' ? 'µF' : 'mH'}.`
    : null;
}

/** Whether prefixes are written in this unit. */
const takesPrefix = ({ shown }: UnitTable) => shown.length > 1;

/** To 15 digits and back: the double nearest to what was typed, whichever way it was typed. */
function tidy(value: number): number {
  return Number(value.toPrecision(15));
}

function unitScale(unit: string, table: UnitTable): number | undefined {
  if (unit === '') return table.bare;
  const whole = table.typed[unit] ?? table.typed[unit.toLowerCase()];
  if (whole !== undefined) return whole;
  const prefix = prefixes[unit[0]];
  if (prefix === undefined || !takesPrefix(table)) return undefined;
  const rest = unit.slice(1);
  if (rest === '') return prefix;
  const base = table.typed[rest] ?? table.typed[rest.toLowerCase()];
  return base === undefined ? undefined : prefix * base;
}

/**
 * A value as the trade writes it, with at most four significant digits: `33 µF`, `0.39 mH`, `2.2
 * kΩ`, `−65 mm`.
 *
 * @param value in the stored unit of the dimension
 */
export function formatQuantity(value: number, dimension: Dimension): string {
  const table = tables[dimension];
  const size = Math.abs(value);
  const [scale, prefix] =
    table.shown.find(([, , from]) => size >= from) ?? table.shown[table.shown.length - 1];
  const gap = table.symbol === '°' || table.symbol === '' ? '' : ' ';
  return `${formatNumber(value / scale)}${gap}${prefix}${table.symbol}`;
}

/** A number with a fixed number of decimals and a true minus sign. */
export function formatFixed(value: number, decimals: number): string {
  return value.toFixed(decimals).replace('-', '−');
}

/**
 * A plain number with at most `digits` significant digits, no exponent, no padding zeros, a true
 * minus sign.
 */
export function formatNumber(value: number, digits = 4): string {
  return String(Number(value.toPrecision(digits))).replace('-', '−');
}
