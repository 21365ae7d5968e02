import type { GradientSolver } from '@/core/network/gradient';
import type { Element } from '@/core/network/netlist';
import type { Probe } from '@/core/network/outputs';

/** Heat of resistors under programme. */
export interface HeatPlayback {
  readonly names: readonly string[];
  /** Of each resistor, mean over the programme. */
  readonly watts: Float64Array;
  /** Works it out from what the solver found for some values. */
  evaluate(elements: readonly Element[]): void;
  /**
   * Slopes of the heats for a factor of e in what some of the solver's elements share, watts.
   *
   * @param names of these elements: a resistor among them changes by itself as well
   */
  slopes(elements: readonly number[], names: ReadonlySet<string>, out: Float64Array): void;
}

type Resistor = Extract<Element, { kind: 'resistor' }>;

/** Probes of the voltages across resistors. */
export const heatProbes = (resistors: readonly Resistor[]): Probe[] =>
  resistors.map(({ a, b }) => ({ kind: 'voltage', plus: a, minus: b }));

/**
 * P = Σ shares·|V|²/R over the frequencies (Joule's law).
 *
 * @param resistors in the order of their probes
 * @param firstProbe of the solver that belongs to one of them
 * @param squares square of the voltage of the amplifier over that of the solver's, times each frequency's share of the power
 */
export function createHeatPlayback(
  solver: GradientSolver,
  resistors: readonly Resistor[],
  firstProbe: number,
  squares: Float64Array,
): HeatPlayback {
  const watts = new Float64Array(resistors.length);
  const ohms = resistors.map((one) => one.ohms);
  return {
    names: resistors.map(({ name }) => name),
    watts,
    evaluate(elements) {
      for (const element of elements) {
        const k = resistors.findIndex(({ name }) => name === element.name);
        if (k >= 0 && element.kind === 'resistor') ohms[k] = element.ohms;
      }
      resistors.forEach((_, k) => {
        const [re, im] = [solver.re[firstProbe + k], solver.im[firstProbe + k]];
        let sum = 0;
        for (let i = 0; i < squares.length; i++)
          sum += squares[i] * (re[i] * re[i] + im[i] * im[i]);
        watts[k] = sum / ohms[k];
      });
    },
    slopes(elements, names, out) {
      resistors.forEach(({ name }, k) => {
        const probe = firstProbe + k;
        const [re, im] = [solver.re[probe], solver.im[probe]];
        let sum = 0;
        elements.forEach((e) => {
          const [dRe, dIm] = [solver.slopeRe[probe][e], solver.slopeIm[probe][e]];
          for (let i = 0; i < squares.length; i++)
            sum += 2 * squares[i] * (re[i] * dRe[i] + im[i] * dIm[i]);
        });
        out[k] = sum / ohms[k] - (names.has(name) ? watts[k] : 0);
      });
    },
  };
}
