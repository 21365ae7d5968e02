import { ground, type Element, type Netlist } from './netlist';

/** What stands for something that SPICE has no table for, such as a measured driver. */
export interface StandIn {
  readonly ohms: number;
  /** A comment on it, one line. */
  readonly remark: string;
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
 * A netlist as a SPICE deck of R, L, C, K and V that `readSpice` and any SPICE read. Series resistances become resistors of
 * their own, node names become numbers.
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
    const lossy = (letter: 'l' | 'c', value: number, ohms: number) => {
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
      case 'resistor':
        return [`${nameOf('r', element.name)} ${a} ${b} ${element.ohms}`];
      case 'coil':
        return lossy('l', element.henries, element.seriesOhms);
      case 'capacitor':
        return lossy('c', element.farads, element.seriesOhms);
      case 'source':
        return [sourceLine(nameOf('v', element.name), a, b, element)];
      case 'oneport': {
        const { ohms, remark } = standIns.get(element.name)!;
        return [`* ${oneLine(remark)}`, `${nameOf('r', element.name)} ${a} ${b} ${ohms}`];
      }
    }
  });
  const coupled = couplings.map(
    ({ name, coilA, coilB, coefficient }) =>
      `${nameOf('k', name)} ${coilNames.get(coilA)} ${coilNames.get(coilB)} ${coefficient}`,
  );
  const legend = [...numbers]
    .filter(([name]) => name !== ground)
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
