import { elementKinds, makeElement, passiveKinds } from './immittance';
import { problem } from '@/core/problem';
import type { Coupling, Element, PassiveElement, Netlist } from './netlist';
import type { Probe } from './outputs';

export interface SpiceCircuit {
  readonly title: string;
  readonly netlist: Netlist;
  /** Lines that were left out, each as `file:line: …`. */
  readonly warnings: readonly string[];
}

interface Line {
  readonly where: string;
  readonly tokens: readonly string[];
}

const suffixes: readonly (readonly [string, number])[] = [
  ['meg', 1e6],
  ['f', 1e-15],
  ['p', 1e-12],
  ['n', 1e-9],
  ['u', 1e-6],
  ['m', 1e-3],
  ['k', 1e3],
  ['g', 1e9],
  ['t', 1e12],
];

/**
 * A SPICE number: `4.7u`, `10MEG`, `0.39mH`, `8Ohm`. Undefined when it isn't one. Case does not
 * matter.
 */
export function parseSpiceNumber(token: string): number | undefined {
  const match = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)([a-zµ]*)$/.exec(token.toLowerCase());
  if (!match) return undefined;
  const [, digits, letters] = match;
  const scale = suffixes.find(([suffix]) => letters.replace('µ', 'u').startsWith(suffix))?.[1] ?? 1;
  // To 15 digits and back, so that 4.7u is the double nearest to 4.7e-6.
  return Number((Number(digits) * scale).toPrecision(15));
}

/**
 * Reads a SPICE netlist of R, L, C, K and V. The first line is the title; `*` starts a comment, `+`
 * continues a line, `;` and ` $` end one; names and nodes are lower-cased; node 0 is ground. `.end`
 * ends it; other dot lines are left out with a warning.
 *
 * @param text the netlist
 * @param fileName for messages
 * @throws ProblemError naming file and line for anything that can't be understood
 */
export function readSpice(text: string, fileName: string): SpiceCircuit {
  const rawLines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  const warnings: string[] = [];
  const elements: Element[] = [];
  const couplings: Coupling[] = [];
  for (const line of logicalLines(rawLines, fileName)) {
    const head = line.tokens[0];
    if (head === '.end') break;
    if (head.startsWith('.'))
      warnings.push(`${line.where}: ${head} is not used here and was ignored.`);
    else if (head.startsWith('k')) couplings.push(readCoupling(line));
    else elements.push(readElement(line));
  }
  return { title: rawLines[0].trim(), netlist: { elements, couplings }, warnings };
}

function logicalLines(rawLines: readonly string[], fileName: string): Line[] {
  const lines: { where: string; tokens: string[] }[] = [];
  rawLines.forEach((raw, index) => {
    if (index === 0) return;
    const text = raw
      .replace(/;.*$|\s\$.*$/, '')
      .trim()
      .toLowerCase();
    if (text === '' || text.startsWith('*')) return;
    const where = `${fileName}:${index + 1}`;
    const continued = text.startsWith('+');
    const tokens = (continued ? text.slice(1) : text)
      .replace(/[(),=]/g, ' ')
      .split(/\s+/)
      .filter((t) => t !== '');
    if (!continued) lines.push({ where, tokens });
    else if (lines.length === 0)
      throw problem(
        'spice_continuation',
        where,
        'A + line continues nothing.',
        'No element is before it.',
        'Remove the + or put the element’s line first.',
      );
    else lines[lines.length - 1].tokens.push(...tokens);
  });
  return lines.filter(({ tokens }) => tokens.length > 0);
}

function numberAt({ tokens, where }: Line, index: number, what: string): number {
  const token = tokens.at(index);
  const value = token === undefined ? undefined : parseSpiceNumber(token);
  if (value === undefined || index >= tokens.length)
    throw problem(
      'spice_number',
      where,
      token === undefined ? `${tokens[0]} has no ${what}.` : `“${token}” is not a number.`,
      `The ${what} of ${tokens[0]} is expected here.`,
      'Write a number such as 4.7u or 0.39mH.',
    );
  return value;
}

function readElement(line: Line): Element {
  const { tokens, where } = line;
  const [name, a, b] = tokens;
  const kind = kindOfLetter.get(name[0]);
  if (!kind)
    throw problem(
      'spice_element',
      where,
      `The element ${name} is not known.`,
      'Only R, L, C, K and V are read.',
      'Replace it by these, or remove the line.',
    );
  if (b === undefined)
    throw problem(
      'spice_nodes',
      where,
      `${name} does not name two nodes.`,
      '',
      `Write: ${name} node node ${kind === 'source' ? 'AC 1' : 'value'}.`,
    );
  const branch = { name, a, b, where };
  if (kind === 'source') return { ...branch, kind, ...readSourceVolts(line) };
  const value = numberAt(line, 3, 'value');
  return makeElement(branch, kind, value, 0);
}

/** Kinds of elements by the letter with which their lines begin. */
const kindOfLetter: ReadonlyMap<string, PassiveElement['kind'] | 'source'> = new Map([
  ...passiveKinds.map((kind) => [elementKinds[kind].spice, kind] as const),
  ['v', 'source'] as const,
]);

/**
 * `AC` alone is 1 V; without `AC` the source is a short, as in SPICE's small-signal analysis. Phase
 * in degrees.
 */
function readSourceVolts(line: Line): { voltsRe: number; voltsIm: number } {
  const ac = line.tokens.indexOf('ac', 3);
  if (ac < 0) return { voltsRe: 0, voltsIm: 0 };
  const follows = (index: number) =>
    index < line.tokens.length && /^[-+.\d]/.test(line.tokens[index]);
  const volts = follows(ac + 1) ? numberAt(line, ac + 1, 'AC magnitude') : 1;
  const phase =
    follows(ac + 1) && follows(ac + 2) ? (numberAt(line, ac + 2, 'AC phase') * Math.PI) / 180 : 0;
  return { voltsRe: volts * Math.cos(phase), voltsIm: phase === 0 ? 0 : volts * Math.sin(phase) };
}

function readCoupling(line: Line): Coupling {
  const [name, coilA, coilB] = line.tokens;
  if (!coilA?.startsWith('l') || !coilB?.startsWith('l'))
    throw problem(
      'spice_coupling',
      line.where,
      `${name} does not name two coils.`,
      '',
      `Write: ${name} L1 L2 coefficient.`,
    );
  return { name, coilA, coilB, coefficient: numberAt(line, 3, 'coefficient'), where: line.where };
}

/**
 * Reads a probe as SPICE writes it: `v(a)`, `v(a,b)`, `i(v1)`. Case does not matter.
 *
 * @throws ProblemError `bad_probe`
 */
export function parseProbe(text: string): Probe {
  const match = /^\s*([vi])\s*\(\s*([^\s(),]+)\s*(?:,\s*([^\s(),]+)\s*)?\)\s*$/i.exec(text);
  const [, letter, first, second] =
    match?.map((part) => (part as string | undefined)?.toLowerCase()) ?? [];
  if (!match || first === undefined || (letter === 'i' && second !== undefined))
    throw problem(
      'bad_probe',
      `--probe ${text}`,
      'This is not a probe.',
      '',
      'Write v(node), v(node,node) or i(source), e.g. --probe "v(out)".',
    );
  return letter === 'i'
    ? { kind: 'current', source: first }
    : { kind: 'voltage', plus: first, minus: second ?? '0' };
}
