import { compileNetwork } from '@/core/design/compileNetwork';
import { createConditioner } from '@/core/design/conditioner';
import { usableWays } from '@/core/design/inspect';
import type { MeasurementData } from '@/core/design/predict';
import type { Design } from '@/core/design/schema';
import { createWayInputs } from '@/core/design/wayInputs';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { createGradientSolver } from '@/core/network/gradient';
import type { Element, Netlist } from '@/core/network/netlist';
import { planNetwork } from '@/core/network/plan';
import { problem } from '@/core/problem';
import { followedLoss, wireExponent, type Variable } from './variables';

/** A design that is played with other values over and over; everything runs over the frequencies. */
export interface Playback {
  readonly wayCount: number;
  /** Whether any driver is heard at a place of the grid. */
  readonly isHeard: (i: number) => boolean;
  /**
   * Solves the network for logarithms of the values and fills all that follows.
   *
   * @throws ProblemError where no finite solution exists
   */
  play(logValues: Float64Array, hasSlopes: boolean): void;
  /** Pressure of each way on the axis, and its level in dB. */
  readonly partRe: readonly Float64Array[];
  readonly partIm: readonly Float64Array[];
  readonly partDb: readonly Float64Array[];
  readonly sumDb: Float64Array;
  /** Load of the amplifier. */
  readonly ohms: Float64Array;
  readonly phaseDeg: Float64Array;
  /** Slope of the sum in dB, and of each way's phase in degrees, for a factor of e in a variable; after playing with slopes. */
  slopesOnAxis(variable: number, slopeDb: Float64Array, phases: readonly Float64Array[]): void;
  /** Slopes of ln|Z| and of Z's phase in degrees. */
  slopesOfLoad(variable: number, lnZ: Float64Array, angle: Float64Array): void;
}

const decibelsPerNeper = 20 / Math.LN10;

/**
 * @param variables from `variablesOf(design)`
 * @param frequencyHz rising, evenly spaced in logarithm
 * @throws ProblemError when no way can be computed
 */
export function createPlayback(
  design: Design,
  data: MeasurementData,
  variables: readonly Variable[],
  frequencyHz: Float64Array,
): Playback {
  const usable = usableWays(design, data, createConditioner()).flatMap((way) =>
    way.response ? [{ ...way, response: way.response }] : [],
  );
  if (usable.length === 0)
    throw problem(
      'fit_without_ways',
      design.name,
      'No way has a driver with response and impedance.',
      'There is nothing to fit.',
      'Give the ways their drivers, and the drivers their measurements.',
    );
  const inputs = createWayInputs(frequencyHz);
  const points = frequencyHz.length;
  const { netlist, ways, probes } = compileNetwork(
    design,
    usable.map(({ way }) => way),
    null,
  );
  const moved = variables.map(({ members }) =>
    members.filter(({ part }) => netlist.elements.some(({ name }) => name === part.name)),
  );
  const wanted = moved.flatMap((members) => members.map(({ part }) => part.name));
  const solver = createGradientSolver(
    planNetwork(netlist),
    netlist,
    new Map(ways.map(({ onePort }, i) => [onePort, inputs.loadOf(usable[i])])),
    probes,
    wanted,
    frequencyHz,
  );
  const lossSlopes = new Float64Array(wanted.length);
  const current: { -readonly [K in keyof Netlist]: Netlist[K] } & { elements: Element[] } = {
    couplings: netlist.couplings,
    elements: netlist.elements.slice(),
  };
  const places = new Map(netlist.elements.map(({ name }, e) => [name, e]));

  // Pressure on the axis per volt, with the polarity of the way.
  const heard = usable.map((way) =>
    turned(inputs.radiationOf(way, design), way.way.polarity === 'reversed' ? -1 : 1),
  );
  const firsts = moved.map((_, v) =>
    moved.slice(0, v).reduce((sum, members) => sum + members.length, 0),
  );
  /** Numbers of a variable's elements among those that are wanted. */
  const elementsOf = (v: number) => moved[v].map((_, m) => firsts[v] + m);

  const partRe = usable.map(() => new Float64Array(points));
  const partIm = usable.map(() => new Float64Array(points));
  const partDb = usable.map(() => new Float64Array(points));
  const sumRe = new Float64Array(points);
  const sumIm = new Float64Array(points);
  const sumDb = new Float64Array(points);
  const ohms = new Float64Array(points);
  const phaseDeg = new Float64Array(points);

  function setValues(logValues: Float64Array): void {
    let w = 0;
    moved.forEach((members, v) => {
      for (const { part, ratio } of members) {
        const value = Math.exp(logValues[v]) * ratio;
        const e = places.get(part.name)!;
        const element = netlist.elements[e];
        if (element.kind === 'resistor') current.elements[e] = { ...element, ohms: value };
        else if (element.kind === 'capacitor') current.elements[e] = { ...element, farads: value };
        else if (element.kind === 'coil') {
          const seriesOhms = followedLoss(part, value / element.henries);
          current.elements[e] = { ...element, henries: value, seriesOhms };
          lossSlopes[w] = wireExponent * seriesOhms;
        }
        w++;
      }
    });
  }

  function evaluate(): void {
    sumRe.fill(0);
    sumIm.fill(0);
    usable.forEach((_, w) => {
      const { re, im } = heard[w];
      const [vRe, vIm] = [solver.re[w], solver.im[w]];
      for (let i = 0; i < points; i++) {
        const x = re[i] * vRe[i] - im[i] * vIm[i];
        const y = re[i] * vIm[i] + im[i] * vRe[i];
        partRe[w][i] = x;
        partIm[w][i] = y;
        partDb[w][i] = 0.5 * decibelsPerNeper * Math.log(x * x + y * y);
        sumRe[i] += x;
        sumIm[i] += y;
      }
    });
    const [tRe, tIm] = [solver.re[usable.length], solver.im[usable.length]];
    const [iRe, iIm] = [solver.re[usable.length + 1], solver.im[usable.length + 1]];
    for (let i = 0; i < points; i++) {
      sumDb[i] = 0.5 * decibelsPerNeper * Math.log(sumRe[i] ** 2 + sumIm[i] ** 2);
      const size = iRe[i] ** 2 + iIm[i] ** 2;
      const zRe = -(tRe[i] * iRe[i] + tIm[i] * iIm[i]) / size;
      const zIm = -(tIm[i] * iRe[i] - tRe[i] * iIm[i]) / size;
      ohms[i] = Math.sqrt(zRe * zRe + zIm * zIm);
      phaseDeg[i] = (Math.atan2(zIm, zRe) * 180) / Math.PI;
    }
  }

  return {
    wayCount: usable.length,
    // Where every driver is silent there is nothing to judge.
    isHeard: (i) => heard.some(({ re, im }) => re[i] !== 0 || im[i] !== 0),
    ...{ partRe, partIm, partDb, sumDb, ohms, phaseDeg },
    play(logValues, hasSlopes) {
      setValues(logValues);
      solver.solve(current, hasSlopes ? lossSlopes : null);
      evaluate();
    },
    slopesOnAxis: (variable, slopeDb, phases) =>
      slopesOnAxis(elementsOf(variable), slopeDb, phases),
    slopesOfLoad: (variable, lnZ, angle) => slopesOfLoad(elementsOf(variable), lnZ, angle),
  };

  /** Slope of the sum in dB and of each way's phase in degrees, for a factor of e in what some elements share. */
  function slopesOnAxis(
    elements: readonly number[],
    slopeDb: Float64Array,
    phases: readonly Float64Array[],
  ): void {
    slopeDb.fill(0);
    for (let w = 0; w < usable.length; w++) {
      const { re, im } = heard[w];
      const phase = phases[w].fill(0);
      for (const e of elements) {
        const [dRe, dIm] = [solver.slopeRe[w][e], solver.slopeIm[w][e]];
        for (let i = 0; i < points; i++) {
          const x = re[i] * dRe[i] - im[i] * dIm[i];
          const y = re[i] * dIm[i] + im[i] * dRe[i];
          slopeDb[i] += x * sumRe[i] + y * sumIm[i];
          phase[i] +=
            ((y * partRe[w][i] - x * partIm[w][i]) /
              (partRe[w][i] ** 2 + partIm[w][i] ** 2 + 1e-300)) *
            (180 / Math.PI);
        }
      }
    }
    for (let i = 0; i < points; i++)
      slopeDb[i] *= decibelsPerNeper / (sumRe[i] ** 2 + sumIm[i] ** 2);
  }

  /** Slopes of ln|Z| and of Z's phase in degrees. */
  function slopesOfLoad(elements: readonly number[], lnZ: Float64Array, angle: Float64Array): void {
    lnZ.fill(0);
    angle.fill(0);
    for (const [o, sign] of [
      [usable.length, 1],
      [usable.length + 1, -1],
    ] as const)
      for (const e of elements) {
        const [vRe, vIm] = [solver.re[o], solver.im[o]];
        const [dRe, dIm] = [solver.slopeRe[o][e], solver.slopeIm[o][e]];
        for (let i = 0; i < points; i++) {
          const size = vRe[i] ** 2 + vIm[i] ** 2;
          lnZ[i] += (sign * (dRe[i] * vRe[i] + dIm[i] * vIm[i])) / size;
          angle[i] += (sign * (dIm[i] * vRe[i] - dRe[i] * vIm[i]) * 180) / Math.PI / size;
        }
      }
  }
}

const turned = ({ re, im }: GridSpectrum, sign: number): GridSpectrum =>
  sign === 1 ? { re, im } : { re: re.map((value) => -value), im: im.map((value) => -value) };
