import type { GroupId, WayId } from '@/core/fields';
import { partValue } from '@/core/document/partKinds';
import { createConditioner } from '@/core/prediction/conditioner';
import { usableWays } from '@/core/prediction/inspect';
import { solvableOf, solverFor } from '@/core/prediction/solvable';
import { newPart } from '@/core/editing/newPart';
import type { Predictor } from '@/core/prediction/predict';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design, Part } from '@/core/document/schema';
import { createLoads } from '@/core/prediction/wayInputs';
import { ProblemError } from '@/core/problem';
import { loadOf, ohmsAt } from './filterLoad';

/**
 * A group of a resistor, a coil and a capacitor that takes something away at one frequency: in
 * parallel and on the line, or in series and to the return.
 */
export interface Trap {
  readonly groupId: GroupId;
  readonly wayId: WayId;
  /** "R5 L5 C6". */
  readonly name: string;
  readonly kind: 'line' | 'return';
  readonly resistor: Part;
  readonly coil: Part;
  readonly capacitor: Part;
}

/** What a trap does, as one hears of it. */
export interface TrapFigures {
  readonly hz: number;
  /** Taken away there, above 0. */
  readonly db: number;
  /** Between the places where half of the decibels are left. */
  readonly octaves: number;
}

/** The traps of a design; groups with one of each kind and no group inside. */
export const trapsOf = ({ ways }: Pick<Design, 'ways'>): Trap[] =>
  ways.flatMap((way) =>
    way.groups.flatMap(({ id, join, parentId }): Trap[] => {
      const members = way.parts.filter(({ groupId }) => groupId === id);
      const one = (kind: Part['kind']) => members.find((part) => part.kind === kind);
      const [resistor, coil, capacitor] = [one('resistor'), one('coil'), one('capacitor')];
      const hasOthers = members.length !== 3 || way.groups.some((group) => group.parentId === id);
      if (!resistor || !coil || !capacitor || hasOthers || parentId !== null) return [];
      const kind = resistor.place === 'series' ? 'line' : 'return';
      if (join !== (kind === 'line' ? 'parallel' : 'series')) return [];
      const name = members.map((part) => part.name).join(' ');
      return [{ groupId: id, wayId: way.id, name, kind, resistor, coil, capacitor }];
    }),
  );

/** Frequency at which coil and capacitor cancel. */
export const trapHz = ({ coil, capacitor }: Trap): number =>
  1 / (2 * Math.PI * Math.sqrt(partValue(coil) * partValue(capacitor)));

/**
 * Values of a trap that does what its figures say.
 *
 * On the line the voltage is divided by |1 + R/(Z(1 + jx))|, to the return by |1 + Z/(R(1 + jx))|,
 * with Z the resistance before it and x the detuning f/f₀ − f₀/f times R/X on the line, X/R to the
 * return, X being the reactance of either coil or capacitor at f₀. At f₀ that is the depth D; √D of
 * it is left where x² = D, in both cases.
 *
 * @param ohms Z: what the trap works against
 */
export function trapValues(
  kind: Trap['kind'],
  { hz, db, octaves }: TrapFigures,
  ohms: number,
): { readonly ohms: number; readonly henries: number; readonly farads: number } {
  const depth = 10 ** (db / 20);
  const omega = 2 * Math.PI * hz;
  const spread = 2 ** (octaves / 2) - 2 ** (-octaves / 2);
  const resistor = kind === 'line' ? ohms * (depth - 1) : ohms / (depth - 1);
  /** Of the coil, and of the capacitor, at the trap's frequency. */
  const reactance =
    kind === 'line'
      ? (resistor * spread) / Math.sqrt(depth)
      : (resistor * Math.sqrt(depth)) / spread;
  return { ohms: resistor, henries: reactance / omega, farads: 1 / (reactance * omega) };
}

/** What a trap's values do against `ohms`: the inverse of {@link trapValues}. */
export function trapFigures(trap: Trap, ohms: number): TrapFigures {
  const [r, l] = [partValue(trap.resistor), partValue(trap.coil)];
  const hz = trapHz(trap);
  const omega = 2 * Math.PI * hz;
  const depth = trap.kind === 'line' ? 1 + r / ohms : 1 + ohms / r;
  const spread = Math.sqrt(depth) * (trap.kind === 'line' ? (omega * l) / r : r / (omega * l));
  return {
    hz,
    db: 20 * Math.log10(depth),
    octaves: (2 * Math.asinh(spread / 2)) / Math.LN2,
  };
}

/**
 * What each trap works against at its frequency, ohms, by the ids of their groups; found by leaving
 * it out.
 */
export function trapLoads(design: Design, data: MeasurementData): Map<string, number> {
  const found = new Map<string, number>();
  for (const trap of trapsOf(design)) {
    const hz = trapHz(trap);
    const [by, without] = [design, withoutGroup(design, trap)].map((one) =>
      voltsAt(one, data, trap.wayId, hz),
    );
    if (by === null || without === null) continue;
    const depth = without / by;
    const r = partValue(trap.resistor);
    // A trap that takes nothing away says nothing of what it works against.
    if (depth > 1.001)
      found.set(trap.groupId, trap.kind === 'line' ? r / (depth - 1) : r * (depth - 1));
  }
  return found;
}

const withoutGroup = (design: Design, { groupId }: Trap): Design => ({
  ...design,
  ways: design.ways.map((way) => ({
    ...way,
    parts: way.parts.map((part) => (part.groupId === groupId ? { ...part, isOff: true } : part)),
  })),
});

/** Voltage at the end of a way at one frequency; null when it can't be solved. */
function voltsAt(design: Design, data: MeasurementData, wayId: WayId, hz: number): number | null {
  const grid = Float64Array.of(hz);
  const circuit = solvableOf(design, data, createConditioner(), createLoads(grid));
  const at = circuit?.usable.findIndex(({ way }) => way.id === wayId) ?? -1;
  if (!circuit || at < 0) return null;
  const { usable, netlist } = circuit;
  const first = usable.slice(0, at).reduce((sum, way) => sum + way.ends.length, 0);
  const count = usable[at].way.endsJoin === 'series' ? usable[at].ends.length : 1;
  try {
    const solver = solverFor(circuit, grid);
    solver.solve(netlist);
    let [re, im] = [0, 0];
    for (let e = first; e < first + count; e++) {
      re += solver.re[e][0];
      im += solver.im[e][0];
    }
    return Math.hypot(re, im);
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}

/** A trap that would take away a bump, on the line before the drivers of a way. */
export interface TrapProposal extends TrapFigures {
  readonly wayId: WayId;
  readonly values: ReturnType<typeof trapValues>;
}

const proposedId = 'proposed';
/** Bounds of what is proposed: a trap within them does something, and is no brick. */
const proposed = { leastDb: 0.5, mostDb: 8, leastOctaves: 0.4, mostOctaves: 2.5 };
/** Where a bump is looked for when nobody says where. */
const searched = { fromHz: 200, toHz: 15_000 };
/**
 * Depths that are tried, over the bump's own. Where ways overlap, taking something from one of them
 * moves the sum by less than that, or turns its phase: deeper ones may be better, and shallower.
 */
const depthFactors = [0.35, 0.6, 1, 1.6];
/** Ways this far under the loudest are not asked. */
const heardDb = 15;
/** Octaves around the bump over which a trap has to leave the sum flatter. */
const around = 1;

/**
 * Proposes the trap that takes a bump of the sum away. On each way that is heard there one is tried
 * that is as deep as the bump is high above the higher of the dips beside it, or somewhat deeper, and
 * as wide as the bump is at half of that; the one that leaves the sum evenest within an octave wins.
 *
 * @param nearHz where; null for the highest place between 200 Hz and 15 kHz
 * @returns null without a sum, or when no way is heard there
 */
export function proposeTrap(
  design: Design,
  data: MeasurementData,
  predict: Predictor,
  nearHz: number | null,
): TrapProposal | null {
  const { frequencyHz, sum, ways, summary } = predict(design, data);
  if (!sum || !summary.onAxis) return null;
  const { levelDb } = sum;
  const top = highestPlace(frequencyHz, levelDb, nearHz);
  if (top === null) return null;
  const hz = frequencyHz[top];
  const footDb = footOf(frequencyHz, levelDb, top);
  const height = levelDb[top] - footDb;
  const { leastDb, mostDb } = proposed;
  const octaves = widthOf(frequencyHz, levelDb, top, footDb + height / 2);
  const loudest = Math.max(...ways.map((way) => way.levelDb[top]));
  const candidates = ways
    .filter((way) => way.levelDb[top] > loudest - heardDb)
    .flatMap(({ wayId }) =>
      depthFactors.map((factor): TrapProposal => {
        const db = Math.min(mostDb, Math.max(leastDb, factor * height));
        const figures = { hz, db, octaves };
        const against = (ohms: number): TrapProposal => ({
          ...figures,
          wayId,
          values: trapValues('line', figures, ohms),
        });
        let proposal = against(ohmsAtEnd(design, data, wayId, hz));
        // What is before the trap counts as well: it shows when the trap is there.
        for (let round = 0; round < 3; round++) {
          const ohms = trapLoads(withProposal(design, proposal), data).get(proposedId);
          if (ohms !== undefined) proposal = against(ohms);
        }
        return proposal;
      }),
    );
  const scored = candidates.map((candidate) => {
    const after = predict(withProposal(design, candidate), data).sum;
    let [square, mean, count] = [0, 0, 0];
    frequencyHz.forEach((f, i) => {
      if (!after || Math.abs(Math.log2(f / hz)) > around) return;
      square += after.levelDb[i] ** 2;
      mean += after.levelDb[i];
      count++;
    });
    // Deviation from a level of its own.
    square -= mean ** 2 / Math.max(1, count);
    return { candidate, square: after ? square : Infinity };
  });
  return scored.sort((a, b) => a.square - b.square).at(0)?.candidate ?? null;
}

function highestPlace(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  nearHz: number | null,
): number | null {
  let top: number | null = null;
  frequencyHz.forEach((hz, i) => {
    const isNear =
      nearHz === null
        ? hz >= searched.fromHz && hz <= searched.toHz
        : Math.abs(Math.log2(hz / nearHz)) <= 1 / 6;
    if (isNear && Number.isFinite(levelDb[i]) && (top === null || levelDb[i] > levelDb[top]))
      top = i;
  });
  return top;
}

/** The foot of a bump: the higher of the lowest places within an octave to each side. */
function footOf(frequencyHz: Float64Array, levelDb: Float64Array, top: number): number {
  const lowest = (step: 1 | -1) => {
    let least = levelDb[top];
    for (let i = top; i >= 0 && i < levelDb.length; i += step) {
      if (Math.abs(Math.log2(frequencyHz[i] / frequencyHz[top])) > around) break;
      // A higher bump beside it is another one.
      if (levelDb[i] > levelDb[top]) break;
      if (Number.isFinite(levelDb[i])) least = Math.min(least, levelDb[i]);
    }
    return least;
  };
  return Math.max(lowest(1), lowest(-1));
}

/** Octaves over which a curve stays above a level around a place. */
function widthOf(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  top: number,
  aboveDb: number,
): number {
  const edge = (step: 1 | -1) => {
    let i = top;
    while (i + step >= 0 && i + step < levelDb.length && levelDb[i] > aboveDb) i += step;
    return frequencyHz[i];
  };
  const { leastOctaves, mostOctaves } = proposed;
  return Math.min(mostOctaves, Math.max(leastOctaves, Math.log2(edge(1) / edge(-1))));
}

/** |Z| of a way's drivers at one frequency. */
function ohmsAtEnd(design: Design, data: MeasurementData, wayId: WayId, hz: number): number {
  const { way, ends } = usableWays(design, data, createConditioner()).find(
    (one) => one.way.id === wayId,
  )!;
  const load = loadOf(
    ends.map(({ impedance }) => impedance),
    way.endsJoin,
  );
  return ohmsAt(load, hz);
}

/** The design with a proposed trap before the drivers of its way. */
function withProposal(design: Design, { wayId, values }: TrapProposal): Design {
  const make = (kind: Part['kind'], set: object): Part => ({
    ...newPart(design, kind, 'series', `proposed-${kind}`),
    ...set,
    groupId: proposedId,
  });
  const parts = [
    make('resistor', { ohms: values.ohms }),
    make('coil', { henries: values.henries }),
    make('capacitor', { farads: values.farads }),
  ];
  const group = { id: proposedId, join: 'parallel' as const, parentId: null };
  return {
    ...design,
    ways: design.ways.map((way) =>
      way.id === wayId
        ? { ...way, parts: [...way.parts, ...parts], groups: [...way.groups, group] }
        : way,
    ),
  };
}
