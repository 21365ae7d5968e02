import type { MaterialId } from '@/core/document/boxSchema';

/** A board: what it weighs and how stiff it is. */
export interface Material {
  readonly name: string;
  /** kg/m³ */
  readonly density: number;
  /** Young's modulus, GPa, as boards of the kind differ. */
  readonly stiffnessGpa: readonly [number, number];
  /** Whether it is stiffer along its grain, so that a cut list may not turn it. */
  readonly hasGrain: boolean;
  /** Of a square metre, 18 mm thick, in the currency of the brief. */
  readonly price: number;
  readonly gives: string;
  readonly costs: string;
}

/**
 * Typical figures, invented from the middle of what boards of each kind have, prices too (common
 * practice).
 */
export const materialTable: Readonly<Record<MaterialId, Material>> = {
  'birch-plywood': {
    ...{ name: 'birch plywood', density: 680, stiffnessGpa: [8, 12] },
    ...{ price: 45, hasGrain: true, gives: 'stiff for its weight, edges hold screws' },
    costs: 'rings at a high, audible frequency unless braced or damped',
  },
  'poplar-plywood': {
    ...{ name: 'poplar plywood', density: 450, stiffnessGpa: [4, 6.5] },
    ...{ price: 30, hasGrain: true, gives: 'light, easy to cut' },
    costs: 'soft: wants thicker walls or more braces',
  },
  mdf: {
    ...{ name: 'medium-density fibreboard', density: 740, stiffnessGpa: [2.5, 4] },
    ...{ price: 18, hasGrain: false, gives: 'even, cheap, machines cleanly, damps well' },
    costs: 'heavy, soft edges, fine dust; swells where it gets wet',
  },
  'particle-board': {
    ...{ name: 'particle board', density: 660, stiffnessGpa: [2, 3] },
    ...{ price: 11, hasGrain: false, gives: 'cheapest, damps well' },
    costs: 'weak edges and joints',
  },
  'solid-oak': {
    ...{ name: 'solid oak', density: 700, stiffnessGpa: [10, 13] },
    ...{ price: 110, hasGrain: true, gives: 'stiff and handsome' },
    costs: 'moves with the moisture across its grain, and rings',
  },
  'solid-spruce': {
    ...{ name: 'solid spruce', density: 430, stiffnessGpa: [9, 12] },
    ...{ price: 40, hasGrain: true, gives: 'very stiff for its weight' },
    costs: 'rings long; moves with the moisture across its grain',
  },
  bamboo: {
    ...{ name: 'bamboo board', density: 700, stiffnessGpa: [8, 11] },
    ...{ price: 95, hasGrain: true, gives: 'hard surface, stiff' },
    costs: 'hard on tools, dear',
  },
};

const poisson = 0.3;

/**
 * First resonance of a panel between edges that are held, Hz: from hinged edges (π/2·(1/a² + 1/b²)·√(D/m))
 * with the softest board to clamped ones with the stiffest (Warburton 1954; Leissa, Vibration of Plates).
 * Glued joints lie between the two.
 *
 * @param a, b free span between walls and braces, mm
 */
export function panelResonanceHz(
  { density, stiffnessGpa }: Material,
  thicknessMm: number,
  aMm: number,
  bMm: number,
): readonly [number, number] {
  const [a, b, h] = [aMm / 1000, bMm / 1000, thicknessMm / 1000];
  const speed = (gpa: number) =>
    Math.sqrt((gpa * 1e9 * h ** 3) / (12 * (1 - poisson ** 2)) / (density * h));
  const hinged = (Math.PI / 2) * (1 / a ** 2 + 1 / b ** 2);
  const [g, k] = [1.506, 1.248];
  const ratio = a / b;
  const clamped =
    (Math.PI / (2 * a * a)) * Math.sqrt(g ** 4 * (1 + ratio ** 4) + 2 * (k * ratio) ** 2);
  return [hinged * speed(stiffnessGpa[0]), clamped * speed(stiffnessGpa[1])];
}
