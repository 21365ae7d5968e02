import type { Element, Netlist } from '@/core/network/netlist';
import { planNetwork } from '@/core/network/plan';
import { createSolver } from '@/core/network/solver';
import { ProblemError } from '@/core/problem';
import { designGridHz } from '@/core/grid/logGrid';
import { influencesOf, summedCircuit } from './influence';
import { levelsDb } from '@/core/spectrum/level';
import type { CompiledNetwork } from '@/core/circuit/compileNetwork';
import type { MeasurementData } from '@/core/measurement/samples';
import { programmeShares } from '@/core/spectrum/programme';
import { driveVoltsOf } from '@/core/document/programme';
import { partsOf, type Design } from '@/core/document/schema';

/** What one part does, and what is done to it. */
export interface PartInsight {
  readonly frequencyHz: Float64Array;
  /** Change of the level on axis for a value larger by a tenth, dB. */
  readonly influenceDb: Float64Array;
  /** Where the influence is greatest. */
  readonly strongest: { readonly db: number; readonly atHz: number };
  /** Under the simulated programme at the amplifier's rated power; null while the brief does not say it. */
  readonly stress: PartStress | null;
  /** What happens when it fails; null where nothing can be solved then. */
  readonly open: Failure | null;
  readonly shorted: Failure | null;
}

export interface PartStress {
  /** Rms voltage of the source under the programme that the brief means. */
  readonly driveVolts: number;
  /** Rms over the programme. */
  readonly volts: number;
  readonly amperes: number;
  /** In its resistance, which for a coil or a capacitor is its loss. */
  readonly watts: number;
}

/** The speaker with a part that has failed. */
export interface Failure {
  /** Mean level on axis from 200 Hz to 15 kHz against the whole speaker, dB. */
  readonly meanDb: number;
  /** The place at which the level moves most. */
  readonly worst: { readonly db: number; readonly atHz: number };
  readonly lowestOhms: number;
}

/** A failed part as a resistor between its nodes: a break, or a bridge. */
const failedOhms = { open: 1e9, shorted: 1e-3 };
const heardBand = { fromHz: 200, toHz: 15_000 };

/**
 * Looks at one part of a design: its influence by exact derivatives, its load, its failures.
 *
 * @returns null when the part takes no part in the prediction, or nothing can be solved
 */
export function partInsight(
  design: Design,
  data: MeasurementData,
  partId: string,
  frequencyHz: Float64Array = designGridHz(),
): PartInsight | null {
  const part = partsOf(design).find(({ id }) => id === partId);
  const circuit = part && summedCircuit(design, data, frequencyHz);
  const element = circuit?.netlist.elements.find(({ name }) => name === part?.name);
  if (!part || !circuit || !element) return null;
  const { loads, sumOf } = circuit;
  const level = ({ re, im }: { re: Float64Array; im: Float64Array }) =>
    levelsDb(re, im, new Float64Array(re.length));
  try {
    const { sum, influencesDb } = influencesOf(circuit, [part]);
    const [influenceDb] = influencesDb;
    let at = 0;
    influenceDb.forEach((db, i) => {
      if (Math.abs(db) > Math.abs(influenceDb[at]) || Number.isNaN(influenceDb[at])) at = i;
    });
    const whole = level(sum);
    const failed = (ohms: number) =>
      failure(
        circuit,
        part.name,
        ohms,
        loads,
        frequencyHz,
        (re, im) => level(sumOf(re, im)),
        whole,
      );
    return {
      frequencyHz,
      influenceDb,
      strongest: { db: influenceDb[at], atHz: frequencyHz[at] },
      stress: stressOf(design, circuit.netlist, element, loads, frequencyHz),
      open: failed(failedOhms.open),
      shorted: failed(failedOhms.shorted),
    };
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}

type Loads = ReadonlyMap<string, { readonly re: Float64Array; readonly im: Float64Array }>;

/** Voltage across and current through an element while the amplifier plays the programme at its rated power. */
function stressOf(
  design: Design,
  netlist: Netlist,
  element: Element,
  loads: Loads,
  frequencyHz: Float64Array,
): PartStress | null {
  const driveVolts = driveVoltsOf(design);
  if (driveVolts === null) return null;
  const solver = createSolver(
    planNetwork(netlist),
    netlist,
    loads,
    [{ kind: 'voltage', plus: element.a, minus: element.b }],
    frequencyHz,
  );
  solver.solve(netlist);
  const shares = programmeShares(frequencyHz);
  const scale = (driveVolts / design.amplifier.volts) ** 2;
  let [volts, amperes] = [0, 0];
  for (let i = 0; i < frequencyHz.length; i++) {
    const square = scale * shares[i] * (solver.re[0][i] ** 2 + solver.im[0][i] ** 2);
    volts += square;
    amperes += square / ohmsSquared(element, 2 * Math.PI * frequencyHz[i]);
  }
  const resistance =
    element.kind === 'resistor'
      ? element.ohms
      : element.kind === 'coil' || element.kind === 'capacitor'
        ? element.seriesOhms
        : 0;
  return {
    driveVolts,
    volts: Math.sqrt(volts),
    amperes: Math.sqrt(amperes),
    watts: amperes * resistance,
  };
}

function ohmsSquared(element: Element, omega: number): number {
  switch (element.kind) {
    case 'resistor':
      return element.ohms ** 2;
    case 'coil':
      return element.seriesOhms ** 2 + (omega * element.henries) ** 2;
    case 'capacitor':
      return element.seriesOhms ** 2 + 1 / (omega * element.farads) ** 2;
    default:
      return Infinity;
  }
}

function failure(
  { netlist, probes, onePorts }: CompiledNetwork,
  partName: string,
  ohms: number,
  loads: Loads,
  frequencyHz: Float64Array,
  levelOf: (re: readonly Float64Array[], im: readonly Float64Array[]) => Float64Array,
  whole: Float64Array,
): Failure | null {
  const broken: Netlist = {
    couplings: netlist.couplings.filter(
      ({ coilA, coilB }) => coilA !== partName && coilB !== partName,
    ),
    elements: netlist.elements.map((element) =>
      element.name === partName
        ? { kind: 'resistor', name: element.name, a: element.a, b: element.b, ohms }
        : element,
    ),
  };
  try {
    const solver = createSolver(planNetwork(broken), broken, loads, probes, frequencyHz);
    solver.solve(broken);
    const after = levelOf(solver.re, solver.im);
    let [mean, count, worst, lowestOhms] = [0, 0, 0, Infinity];
    const moved = (i: number) => after[i] - whole[i];
    for (let i = 0; i < frequencyHz.length; i++) {
      for (let v = onePorts.length; v < probes.length; v += 2)
        lowestOhms = Math.min(
          lowestOhms,
          Math.hypot(solver.re[v][i], solver.im[v][i]) /
            Math.hypot(solver.re[v + 1][i], solver.im[v + 1][i]),
        );
      if (frequencyHz[i] < heardBand.fromHz || frequencyHz[i] > heardBand.toHz) continue;
      if (!Number.isFinite(moved(i))) continue;
      mean += moved(i);
      count++;
      if (count === 1 || Math.abs(moved(i)) > Math.abs(moved(worst))) worst = i;
    }
    return count === 0
      ? null
      : {
          meanDb: mean / count,
          worst: { db: moved(worst), atHz: frequencyHz[worst] },
          lowestOhms,
        };
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}
