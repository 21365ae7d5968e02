import { elementKinds, elementLoss, elementValue } from './immittance';
import { ground, type Element, type Netlist } from './netlist';

/** Parts of one two-pole of a chain, in parallel; null where there is none. */
interface ChainLink {
  readonly ohms: number | null;
  readonly henries: number | null;
  readonly farads: number | null;
}

/**
 * What represents something that SPICE has no table for, such as a measured driver: a chain of
 * two-poles.
 */
export interface StandIn {
  readonly chain: readonly ChainLink[];
  /** Its size where one number must do. */
  readonly ohms: number;
  /** A comment on it, one line. */
  readonly remark: string;
}

/** Lines of a deck that hold a stand-in, for {@link withDriversAsResistors}. */
const beginMark = (name: string, a: number, b: number, ohms: number, remark: string) =>
  `* driver ${name} ${a} ${b} ${ohms}: ${oneLine(remark)}`;
const endMark = (name: string) => `* end of driver ${name}`;

/**
 * A deck in which every driver that {@link writeSpice} wrote as a chain is one resistor again, by
 * which it is recognised; other decks come back as they are.
 */
export function withDriversAsResistors(text: string): string {
  const lines: string[] = [];
  let within: string | null = null;
  for (const line of text.split(/\r\n|\n|\r/)) {
    const begins = /^\* driver (\S+) (\S+) (\S+) (\S+):/.exec(line);
    if (begins && within === null) {
      const [, name, a, b, ohms] = begins;
      within = name;
      lines.push(line.replace('* driver', '*'), `${name} ${a} ${b} ${ohms}`);
    } else if (line === `* end of driver ${within}`) within = null;
    else if (within === null) lines.push(line);
  }
  return lines.join('\n');
}

/** A letter of its kind and nothing but letters, digits and underscores, unique in the file. */
function createNames() {
  const used = new Set<string>();
  return (letter: string, name: string): string => {
    const bare = name.toLowerCase().replace(/[^a-z0-9]+/g, '_');
    const start = bare.startsWith(letter) ? bare : `${letter}_${bare}`;
    let unique = start;
    for (let number = 2; used.has(unique); number++) unique = `${start}_${number}`;
    used.add(unique);
    return unique;
  };
}

/**
 * A netlist as a SPICE deck of R, L, C, K and V that `readSpice` and any SPICE read. Series
 * resistances become resistors of their own, node names become numbers.
 *
 * @param title first line; line breaks are taken out
 * @param standIns by name of the one-ports
 */
export function writeSpice(
  { elements, couplings }: Netlist,
  title: string,
  standIns: ReadonlyMap<string, StandIn>,
): string {
  const nameOf = createNames();
  const numbers = new Map([[ground, 0]]);
  const node = (name: string) => {
    if (!numbers.has(name)) numbers.set(name, numbers.size);
    return numbers.get(name)!;
  };
  const coilNames = new Map<string, string>();
  const lines = elements.flatMap((element) => {
    const [a, b] = [node(element.a), node(element.b)];
    /** A part with its loss: through a node between. */
    const lossy = (letter: string, value: number, ohms: number) => {
      const name = nameOf(letter, element.name);
      if (letter === 'l') coilNames.set(element.name, name);
      if (ohms === 0) return [`${name} ${a} ${b} ${value}`];
      const between = node(`inside ${element.name}`);
      return [
        `${name} ${a} ${between} ${value}`,
        `${nameOf('r', `loss of ${element.name}`)} ${between} ${b} ${ohms}`,
      ];
    };
    switch (element.kind) {
      case 'source':
        return [sourceLine(nameOf('v', element.name), a, b, element)];
      case 'oneport': {
        const { chain, ohms, remark } = standIns.get(element.name)!;
        const name = nameOf('r', element.name);
        const links = chain.flatMap((link, k) => {
          const at = (end: number) =>
            end === 0 ? a : end === chain.length ? b : node(`inside ${element.name} ${end}`);
          return (
            [
              ['r', link.ohms],
              ['l', link.henries],
              ['c', link.farads],
            ] as const
          ).flatMap(([letter, value]) =>
            value === null
              ? []
              : [`${nameOf(letter, `${element.name} ${k + 1}`)} ${at(k)} ${at(k + 1)} ${value}`],
          );
        });
        return [beginMark(name, a, b, ohms, remark), ...links, endMark(name)];
      }
      default:
        return lossy(elementKinds[element.kind].spice, elementValue(element), elementLoss(element));
    }
  });
  const coupled = couplings.map(
    ({ name, coilA, coilB, coefficient }) =>
      `${nameOf('k', name)} ${coilNames.get(coilA)} ${coilNames.get(coilB)} ${coefficient}`,
  );
  const legend = [...numbers]
    .filter(([name]) => name !== ground && !name.startsWith('inside '))
    .map(([name, number]) => `* node ${number}: ${oneLine(name)}`);
  return [oneLine(title), ...legend, ...lines, ...coupled, '.end', ''].join('\n');
}

const oneLine = (text: string) => text.replace(/[\r\n]+/g, ' ');

function sourceLine(
  name: string,
  a: number,
  b: number,
  { voltsRe, voltsIm }: Element & { readonly kind: 'source' },
): string {
  const degrees = (Math.atan2(voltsIm, voltsRe) * 180) / Math.PI;
  return `${name} ${a} ${b} AC ${Math.hypot(voltsRe, voltsIm)}${degrees === 0 ? '' : ` ${degrees}`}`;
}
