/** Name of the reference node. */
export const ground = '0';

export interface Branch {
  readonly name: string;
  /** First node: plus for sources and one-ports. */
  readonly a: string;
  readonly b: string;
  /**
   * Where the branch comes from, for messages: `file:line`, or the part's name. Defaults to the
   * name.
   */
  readonly where?: string;
}

export interface Resistor extends Branch {
  readonly kind: 'resistor';
  readonly ohms: number;
}

export interface Coil extends Branch {
  readonly kind: 'coil';
  readonly henries: number;
  readonly seriesOhms: number;
}

export interface Capacitor extends Branch {
  readonly kind: 'capacitor';
  readonly farads: number;
  readonly seriesOhms: number;
}

/**
 * Ideal voltage source: v(a) − v(b) = voltsRe + j·voltsIm. An output resistance is a resistor
 * behind it.
 */
export interface Source extends Branch {
  readonly kind: 'source';
  readonly voltsRe: number;
  readonly voltsIm: number;
}

/**
 * Something known by its impedance at each frequency, such as a measured driver. Solved with data
 * by name.
 */
interface OnePort extends Branch {
  readonly kind: 'oneport';
}

/** What a part can be. */
export type PassiveElement = Resistor | Coil | Capacitor;

export type Element = PassiveElement | Source | OnePort;

/** Mutual inductance M = coefficient·√(L₁L₂); positive when both coils' a-ends are dotted. */
export interface Coupling {
  readonly name: string;
  readonly coilA: string;
  readonly coilB: string;
  /** −1…1, not 0. */
  readonly coefficient: number;
  readonly where?: string;
}

/**
 * A circuit of named branches between named nodes, `0` being ground. Values in ohm, henry, farad,
 * volt.
 */
export interface Netlist {
  readonly elements: readonly Element[];
  readonly couplings: readonly Coupling[];
}

/**
 * What the plan of a solution depends on: kinds, nodes, couplings, and which coils have no loss
 * (a loop of ideal branches is an error), but no values.
 */
export function topologyKey({ elements, couplings }: Netlist): string {
  return [
    ...elements.map((e) =>
      [e.kind === 'coil' && e.seriesOhms === 0 ? 'ideal coil' : e.kind, e.name, e.a, e.b].join(
        '\t',
      ),
    ),
    ...couplings.map((k) => `coupling\t${k.coilA}\t${k.coilB}`),
  ].join('\n');
}
