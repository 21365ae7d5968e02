import { makePart, partKinds, takeFreeName } from '@/core/document/partKinds';
import { ohmsAt, type FilterLoad } from './filterLoad';
import { trapValues } from './traps';
import { plainPart, type Group, type Part, type Place } from '@/core/document/schema';
import { createSolver } from '@/core/network/solver';
import { planNetwork } from '@/core/network/plan';
import type { Element } from '@/core/network/netlist';
import { leastSquares } from '@/core/search/leastSquares';
import { typicalCoilOhms } from './grammar';
import {
  denominator,
  ladder,
  prototypeLevel,
  type Alignment,
  type FilterOrder,
} from '@/core/prediction/prototypes';

/** A part that a starting point asks for, without a name yet. */
interface PartWish {
  readonly place: Place;
  readonly kind: Part['kind'];
  /** Ω, H or F. */
  readonly value: number;
  /** Of the starting point's group, when it is one. */
  readonly isGrouped: boolean;
}

/** Parts to be put on a rail, from the amplifier. */
export interface StartingPoint {
  readonly parts: readonly PartWish[];
  readonly join: Group['join'] | null;
}

interface FilterWish {
  readonly isHighPass: boolean;
  readonly alignment: Alignment;
  readonly order: FilterOrder;
  readonly hz: number;
}

const twoPi = 2 * Math.PI;
const single = (place: Place, kind: Part['kind'], value: number): PartWish => ({
  place,
  kind,
  value,
  isGrouped: false,
});

/** A textbook filter into a resistor. */
export function filterIntoResistor(wish: FilterWish, ohms: number): StartingPoint {
  const { isHighPass, alignment, order, hz } = wish;
  const omega = twoPi * hz;
  return {
    join: null,
    parts: ladder(denominator(alignment, order)).map((g, i) => {
      const isSeries = i % 2 === 0;
      const isCoil = isSeries !== isHighPass;
      // A high pass is the low pass with coils and capacitors exchanged, at 1/ω.
      const size = isHighPass ? 1 / g : g;
      return single(
        isSeries ? 'series' : 'shunt',
        isCoil ? 'coil' : 'capacitor',
        isCoil ? (size * ohms) / omega : size / (omega * ohms),
      );
    }),
  };
}

/** A fitted value stays within this factor of the textbook's, in nepers. */
const farthest = Math.log(8);

/**
 * Octaves around the crossover in which a filter into a real load follows its slope, and how deep.
 */
const followed = { octaves: 2.5, deepestDb: -24 };

/**
 * The same filter with values for the load as it is: the voltage at the load is fitted to the
 * textbook's slope, coils with the resistance that they will have.
 *
 * @param load impedance of what follows the filter
 */
export function filterIntoLoad(wish: FilterWish, load: FilterLoad): StartingPoint {
  const { isHighPass, alignment, order, hz } = wish;
  const plain = filterIntoResistor(wish, ohmsAt(load, hz));
  const polynomial = denominator(alignment, order);
  const wanted = [...load.frequencyHz.keys()].filter((i) => {
    const level = 20 * Math.log10(prototypeLevel(polynomial, load.frequencyHz[i] / hz, isHighPass));
    return (
      Math.abs(Math.log2(load.frequencyHz[i] / hz)) <= followed.octaves &&
      level > followed.deepestDb
    );
  });
  if (wanted.length <= plain.parts.length) return plain;
  const pick = (values: Float64Array) => Float64Array.from(wanted, (i) => values[i]);
  const frequencyHz = pick(load.frequencyHz);
  const elementsOf = (logValues: ArrayLike<number>): Element[] => {
    let node = 'in';
    const elements: Element[] = [
      { kind: 'source', name: 'V', a: 'in', b: '0', voltsRe: 1, voltsIm: 0 },
    ];
    plain.parts.forEach(({ place, kind }, i) => {
      const value = Math.exp(logValues[i]);
      const next = place === 'series' ? `n${i}` : '0';
      const base = { name: `P${i}`, a: node, b: next };
      elements.push(
        kind === 'coil'
          ? { ...base, kind, henries: value, seriesOhms: typicalCoilOhms(value) }
          : { ...base, kind: 'capacitor', farads: value, seriesOhms: 0 },
      );
      if (place === 'series') node = next;
    });
    return [...elements, { kind: 'oneport', name: 'D', a: node, b: '0' }];
  };
  const start = plain.parts.map(({ value }) => Math.log(value));
  const netlist = { elements: elementsOf(start), couplings: [] };
  const last = netlist.elements[netlist.elements.length - 1];
  const solver = createSolver(
    planNetwork(netlist),
    netlist,
    new Map([['D', { re: pick(load.re), im: pick(load.im) }]]),
    [{ kind: 'voltage', plus: last.a, minus: '0' }],
    frequencyHz,
  );
  const target = frequencyHz.map(
    (f) => 20 * Math.log10(prototypeLevel(polynomial, f / hz, isHighPass)),
  );
  const { parameters } = leastSquares(
    start,
    wanted.length,
    (logValues, out) => {
      solver.solve({ elements: elementsOf(logValues), couplings: [] });
      for (let i = 0; i < out.length; i++)
        out[i] = 20 * Math.log10(Math.hypot(solver.re[0][i], solver.im[0][i])) - target[i];
    },
    {
      lower: Float64Array.from(start, (value) => value - farthest),
      upper: Float64Array.from(start, (value) => value + farthest),
    },
  );
  return {
    ...plain,
    parts: plain.parts.map((part, i) => ({ ...part, value: Math.exp(parameters[i]) })),
  };
}

/**
 * Resistors that take the level down and keep the load that the filter sees: R·(1 − a) in series,
 * R·a/(1 − a) in shunt.
 *
 * @param db attenuation, above 0
 * @param ohms of the driver
 */
export function levelPad(db: number, ohms: number): StartingPoint {
  const share = 10 ** (-db / 20);
  return {
    join: null,
    parts: [
      single('series', 'resistor', ohms * (1 - share)),
      single('shunt', 'resistor', (ohms * share) / (1 - share)),
    ],
  };
}

/**
 * Resistor and capacitor across the driver against the rise of its impedance (Zobel 1923). Textbook
 * values for a coil of Re and Le are R = Re and C = Le/Re²; here both are fitted to the impedance
 * that was measured, so that a semi-inductance is flattened as well as two parts can.
 */
export function impedanceCorrection(load: FilterLoad, fromHz: number): StartingPoint {
  const points = [...load.frequencyHz.keys()].filter((i) => load.frequencyHz[i] >= fromHz);
  const flat = Math.hypot(load.re[points[0]], load.im[points[0]]);
  const { parameters } = leastSquares(
    [Math.log(1.25 * flat), Math.log(1 / (twoPi * 3000 * flat))],
    points.length,
    ([logR, logC], out) => {
      points.forEach((i, k) => {
        const [r, x] = [Math.exp(logR), -1 / (twoPi * load.frequencyHz[i] * Math.exp(logC))];
        // Admittances add.
        const own = r * r + x * x;
        const size = load.re[i] ** 2 + load.im[i] ** 2;
        const g = r / own + load.re[i] / size;
        const b = -x / own - load.im[i] / size;
        out[k] = Math.log(1 / Math.hypot(g, b) / flat);
      });
    },
  );
  return {
    join: 'series',
    parts: [
      { place: 'shunt', kind: 'resistor', value: Math.exp(parameters[0]), isGrouped: true },
      { place: 'shunt', kind: 'capacitor', value: Math.exp(parameters[1]), isGrouped: true },
    ],
  };
}

/**
 * A coil with a resistor beside it against the rise that a baffle gives the highs: they lose `db`
 * well above `hz`, half of it in decibels near it.
 *
 * @param ohms of the driver
 */
export function baffleStep(db: number, hz: number, ohms: number): StartingPoint {
  const resistor = ohms * (10 ** (db / 20) - 1);
  // Where the coil's reactance is the geometric mean of what the shelf lies between.
  const reactance = resistor / 10 ** (db / 40);
  return {
    join: 'parallel',
    parts: [
      { place: 'series', kind: 'resistor', value: resistor, isGrouped: true },
      { place: 'series', kind: 'coil', value: reactance / (twoPi * hz), isGrouped: true },
    ],
  };
}

/**
 * Coil, capacitor and resistor in parallel, in series with the driver: they take `db` away at `hz`.
 *
 * @param width octaves between the places where half of the decibels are left
 * @param ohms of the driver there
 */
export function trap(db: number, hz: number, width: number, ohms: number): StartingPoint {
  return trapOnLine(trapValues('line', { db, hz, octaves: width }, ohms));
}

/** The parts of a trap on the line. */
export function trapOnLine(values: ReturnType<typeof trapValues>): StartingPoint {
  return {
    join: 'parallel',
    parts: [
      { place: 'series', kind: 'resistor', value: values.ohms, isGrouped: true },
      { place: 'series', kind: 'coil', value: values.henries, isGrouped: true },
      { place: 'series', kind: 'capacitor', value: values.farads, isGrouped: true },
    ],
  };
}

/** Parts and group of a starting point, named after the others of a design. */
export function partsFor(
  { parts, join }: StartingPoint,
  usedNames: ReadonlySet<string>,
  newId: () => string,
): { readonly parts: Part[]; readonly groups: Group[] } {
  const used = new Set(usedNames);
  const groupId = join === null ? null : newId();
  return {
    groups: groupId === null ? [] : [{ id: groupId, join: join!, parentId: null }],
    parts: parts.map(({ place, kind, value, isGrouped }): Part => {
      const base = {
        ...plainPart,
        id: newId(),
        name: takeFreeName(used, partKinds[kind].letter),
        place,
        groupId: isGrouped ? groupId : null,
      };
      return makePart(base, kind, value, kind === 'coil' ? typicalCoilOhms(value) : 0);
    }),
  };
}
