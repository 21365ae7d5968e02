import { followedLoss, lossExponent, partValue } from '@/core/document/partKinds';
import type { Variable } from '@/core/fitting/variables';
import { createSensitivity } from '@/core/network/createSensitivity';
import { setElement } from '@/core/network/immittance';
import type { Element, Netlist, PassiveElement } from '@/core/network/netlist';
import type { Probe } from '@/core/network/outputs';
import type { Curve } from '@/core/network/sensitivity';
import type { Solvable } from '@/core/prediction/solvable';
import { clear, curveOf, type PlayedCurve } from './curve';

/** A circuit that is solved with other values over and over. */
export interface PlayedNetwork {
  /**
   * Solves it for logarithms of the variables' values.
   *
   * @throws ProblemError where no finite solution exists
   */
  solve(logValues: Float64Array, hasSlopes: boolean): void;
  /** What each probe shows, of the last solution; the same arrays always. */
  readonly values: readonly Curve[];
  /** Slopes of a probe over the variables. */
  readonly slopesOf: (probe: number) => Curve;
  /** A probe with its slopes. */
  readonly probed: (probe: number) => PlayedCurve;
  /** An element as it is played now, by its name. */
  elementOf(name: string): Element;
}

/** @param probes those of the circuit, and more after them */
export function createPlayedNetwork(
  { netlist, loads }: Pick<Solvable, 'netlist' | 'loads'>,
  probes: readonly Probe[],
  variables: readonly Variable[],
  frequencyHz: Float64Array,
): PlayedNetwork {
  const points = frequencyHz.length;
  const moved = variables.map(({ members }) =>
    members.filter(({ part }) => netlist.elements.some(({ name }) => name === part.name)),
  );
  const wanted = moved.flatMap((members) => members.map(({ part }) => part.name));
  const sensitivity = createSensitivity(netlist, loads, probes, wanted, frequencyHz);
  const lossSlopes = new Float64Array(wanted.length);
  const current: { -readonly [K in keyof Netlist]: Netlist[K] } & { elements: Element[] } = {
    couplings: netlist.couplings,
    elements: netlist.elements.map((element) => ({ ...element })),
  };
  const elementAt = new Map(netlist.elements.map(({ name }, e) => [name, e]));
  const elementOf = (name: string) => current.elements[elementAt.get(name)!];
  const isPlain = moved.every((members) => members.length === 1);
  const gathered = isPlain ? [] : probes.map(() => curveOf(variables.length * points));
  const isGathered = new Uint8Array(probes.length);

  function setValues(logValues: Float64Array): void {
    let w = 0;
    moved.forEach((members, v) => {
      for (const { part, ratio } of members) {
        const value = Math.exp(logValues[v]) * ratio;
        const seriesOhms = followedLoss(part, value / partValue(part));
        setElement(elementOf(part.name) as PassiveElement, value, seriesOhms);
        lossSlopes[w] = lossExponent(part) * seriesOhms;
        w++;
      }
    });
  }

  /** Slopes over the variables: those of the elements that move with each, together. */
  function slopesOf(probe: number): Curve {
    const own = sensitivity.slopes(probe);
    if (isPlain) return own;
    const out = gathered[probe];
    if (isGathered[probe]) return out;
    isGathered[probe] = 1;
    clear(out);
    let element = 0;
    moved.forEach((members, v) => {
      for (let m = 0; m < members.length; m++, element++)
        for (let i = 0; i < points; i++) {
          out.re[v * points + i] += own.re[element * points + i];
          out.im[v * points + i] += own.im[element * points + i];
        }
    });
    return out;
  }

  return {
    solve(logValues, hasSlopes) {
      setValues(logValues);
      isGathered.fill(0);
      sensitivity.solve(current, hasSlopes ? lossSlopes : null);
    },
    values: sensitivity.values,
    slopesOf,
    probed: (probe) => ({ ...sensitivity.values[probe], slopes: () => slopesOf(probe) }),
    elementOf,
  };
}
