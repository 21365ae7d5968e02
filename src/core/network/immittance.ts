import type { Branch, Element, PassiveElement } from './netlist';

/*
 * What the kinds of passive elements are to the rest of the program. Only the machine code of
 * `blockCode`, which must write each of them out, knows them beside this file.
 */

/** What is always true of a kind of element. */
interface ElementKindFacts {
  /** Letter of its line in a SPICE deck. */
  readonly spice: string;
  readonly unit: string;
  /** Whether a series resistance is part of it, besides its value. */
  readonly hasLoss: boolean;
}

export const elementKinds: Readonly<Record<PassiveElement['kind'], ElementKindFacts>> = {
  resistor: { spice: 'r', unit: 'Ω', hasLoss: false },
  coil: { spice: 'l', unit: 'H', hasLoss: true },
  capacitor: { spice: 'c', unit: 'F', hasLoss: true },
};

/** The kinds, in the order of the table. */
export const passiveKinds = Object.keys(elementKinds) as PassiveElement['kind'][];

export const isPassive = (element: Element): element is PassiveElement =>
  element.kind in elementKinds;

/**
 * An element of a kind with its value in Ω, H or F, and its series resistance; a resistor has none.
 */
export function makeElement(
  { name, a, b, where }: Branch,
  kind: PassiveElement['kind'],
  value: number,
  seriesOhms: number,
): PassiveElement {
  const element = plainElement(name, a, b, kind, value, seriesOhms);
  return where === undefined ? element : { ...element, where };
}

/** Written out: a network is made with every nudge, and spreading objects took most of its time. */
function plainElement(
  name: string,
  a: string,
  b: string,
  kind: PassiveElement['kind'],
  value: number,
  seriesOhms: number,
): PassiveElement {
  switch (kind) {
    case 'resistor':
      return { kind, name, a, b, ohms: value };
    case 'coil':
      return { kind, name, a, b, henries: value, seriesOhms };
    case 'capacitor':
      return { kind, name, a, b, farads: value, seriesOhms };
  }
}

/**
 * Gives an element another value, for whoever tries many: it must be a copy of one's own.
 *
 * @param seriesOhms ignored for a resistor
 */
export function setElement(element: PassiveElement, value: number, seriesOhms: number): void {
  const own = element as Partial<Record<'ohms' | 'henries' | 'farads' | 'seriesOhms', number>>;
  if (element.kind === 'resistor') {
    own.ohms = value;
    return;
  }
  if (element.kind === 'coil') own.henries = value;
  else own.farads = value;
  own.seriesOhms = seriesOhms;
}

/** Ω, H or F. */
export function elementValue(element: PassiveElement): number {
  switch (element.kind) {
    case 'resistor':
      return element.ohms;
    case 'coil':
      return element.henries;
    case 'capacitor':
      return element.farads;
  }
}

/** Series resistance besides the value, Ω. */
export const elementLoss = (element: PassiveElement): number =>
  element.kind === 'resistor' ? 0 : element.seriesOhms;

/**
 * A branch as resistance, inductance and reciprocal capacitance in series: z = ohms + j(ω·henries −
 * elastance/ω).
 */
interface SeriesForm {
  readonly ohms: number;
  readonly henries: number;
  /** 1/C, in 1/F. */
  readonly elastance: number;
  /** Change of the resistance when the value grows by a factor of e. */
  readonly ohmsSlope: number;
}

export function seriesFormOf(element: PassiveElement): SeriesForm {
  const value = elementValue(element);
  const plain = { ohms: elementLoss(element), henries: 0, elastance: 0, ohmsSlope: 0 };
  switch (element.kind) {
    case 'resistor':
      return { ...plain, ohms: value, ohmsSlope: value };
    case 'coil':
      return { ...plain, henries: value };
    case 'capacitor':
      return { ...plain, elastance: 1 / value };
  }
}

/** |z|² in Ω² at an angular frequency in rad/s. */
export const squaredOhms = ({ ohms, henries, elastance }: SeriesForm, omega: number): number =>
  ohms ** 2 + (omega * henries - elastance / omega) ** 2;

/**
 * Change of the reactance when the value grows by a factor of e: −1/ωC goes toward 0 as C grows.
 */
export const reactanceSlope = ({ henries, elastance }: SeriesForm, omega: number): number =>
  omega * henries + elastance / omega;
