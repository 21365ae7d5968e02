/** How much of a box is filled with fibre. */
export const fills = ['none', 'walls', 'half', 'full'] as const;
export type Fill = (typeof fills)[number];

interface FillEffect {
  /** Effective volume over the net one: fibre keeps the air at one temperature; at most 1.4. */
  readonly volumeTimes: number;
  /** Absorption as a Q at the tuning; null for none. */
  readonly qa: number | null;
}

/**
 * What fill does: the compression goes from adiabatic toward isothermal, which is worth γ = 1.4 at the
 * most, and the fibre takes energy. Typical figures for light fibre, 10–20 kg/m³ (common practice; Small
 * 1972 gives the mechanism and Q’s of this size).
 */
export const fillEffects: Readonly<Record<Fill, FillEffect>> = {
  none: { volumeTimes: 1, qa: null },
  walls: { volumeTimes: 1.04, qa: 60 },
  half: { volumeTimes: 1.11, qa: 20 },
  full: { volumeTimes: 1.2, qa: 7 },
};
