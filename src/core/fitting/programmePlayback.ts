import type { GradientSolver } from '@/core/network/gradient';
import type { Element } from '@/core/network/netlist';
import type { Probe } from '@/core/network/outputs';

/** Weighted mean squares of voltages under programme: Σ w·|V|² over the frequencies. */
export interface SquarePlayback {
  readonly values: Float64Array;
  /** Works them out from what the solver found for some values. */
  evaluate(): void;
  /** Their slopes for a factor of e in what some of the solver's elements share. */
  slopes(elements: readonly number[], out: Float64Array): void;
}

/** A voltage, by the number of its probe, and the weight of its square at each frequency. */
interface WeightedProbe {
  readonly probe: number;
  readonly weight: Float64Array;
}

export function createSquarePlayback(
  solver: GradientSolver,
  probes: readonly WeightedProbe[],
): SquarePlayback {
  const values = new Float64Array(probes.length);
  return {
    values,
    evaluate() {
      probes.forEach(({ probe, weight }, k) => {
        const [re, im] = [solver.re[probe], solver.im[probe]];
        let sum = 0;
        for (let i = 0; i < weight.length; i++) sum += weight[i] * (re[i] * re[i] + im[i] * im[i]);
        values[k] = sum;
      });
    },
    slopes(elements, out) {
      probes.forEach(({ probe, weight }, k) => {
        const [re, im] = [solver.re[probe], solver.im[probe]];
        let sum = 0;
        for (const e of elements) {
          const [dRe, dIm] = [solver.slopeRe[probe][e], solver.slopeIm[probe][e]];
          for (let i = 0; i < weight.length; i++)
            sum += 2 * weight[i] * (re[i] * dRe[i] + im[i] * dIm[i]);
        }
        out[k] = sum;
      });
    },
  };
}

/** Heat of resistors under programme. */
export interface HeatPlayback {
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
 * @param squares square of the voltage of the amplifier over that of the solver's, times each
 *   frequency's share of the power
 */
export function createHeatPlayback(
  solver: GradientSolver,
  resistors: readonly Resistor[],
  firstProbe: number,
  squares: Float64Array,
): HeatPlayback {
  const watts = new Float64Array(resistors.length);
  const ohms = resistors.map((one) => one.ohms);
  const voltages = createSquarePlayback(
    solver,
    resistors.map((_, k) => ({ probe: firstProbe + k, weight: squares })),
  );
  return {
    watts,
    evaluate(elements) {
      for (const element of elements) {
        const k = resistors.findIndex(({ name }) => name === element.name);
        if (k >= 0 && element.kind === 'resistor') ohms[k] = element.ohms;
      }
      voltages.evaluate();
      voltages.values.forEach((square, k) => (watts[k] = square / ohms[k]));
    },
    slopes(elements, names, out) {
      voltages.slopes(elements, out);
      resistors.forEach(({ name }, k) => {
        out[k] = out[k] / ohms[k] - (names.has(name) ? watts[k] : 0);
      });
    },
  };
}
