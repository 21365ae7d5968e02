import type { PartId } from '@/core/fields';
import { isPassive, makeElement, seriesFormOf, squaredOhms } from '@/core/network/immittance';
import type { Netlist, PassiveElement } from '@/core/network/netlist';
import { levelDbOf } from '@/core/prediction/derived';
import { pairLoadsOf, solverFor } from '@/core/prediction/solvable';
import { influencesOf, summedCircuit, type SummedCircuit } from './influence';
import { ProblemError } from '@/core/problem';
import { designGridHz } from '@/core/grid/logGrid';
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
  /**
   * Under the simulated programme at the amplifier's rated power; null while the brief does not say
   * it.
   */
  readonly stress: PartStress | null;
  /** What happens when it fails; null where nothing can be solved then. */
  readonly open: Failure | null;
  readonly shorted: Failure | null;
}

interface PartStress {
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
/** What lies so far under the loudest place is not heard of a speaker, dB. */
const heardWithinDb = 20;

/**
 * Looks at one part of a design: its influence by exact derivatives, its load, its failures.
 *
 * @returns null when the part takes no part in the prediction, or nothing can be solved
 */
export function partInsight(
  design: Design,
  data: MeasurementData,
  partId: PartId,
  frequencyHz: Float64Array = designGridHz(),
): PartInsight | null {
  const part = partsOf(design).find(({ id }) => id === partId);
  const circuit = part && summedCircuit(design, data, frequencyHz);
  const element = circuit?.netlist.elements.find(({ name }) => name === part?.name);
  if (!part || !circuit || !element || !isPassive(element)) return null;
  try {
    const { sum, influencesDb } = influencesOf(circuit, [part]);
    const [influenceDb] = influencesDb;
    let at = 0;
    influenceDb.forEach((db, i) => {
      if (Math.abs(db) > Math.abs(influenceDb[at]) || Number.isNaN(influenceDb[at])) at = i;
    });
    const whole = levelDbOf(sum);
    const failed = (ohms: number) => failure(circuit, part.name, ohms, whole);
    return {
      frequencyHz,
      influenceDb,
      strongest: { db: influenceDb[at], atHz: frequencyHz[at] },
      stress: stressOf(design, circuit, element),
      open: failed(failedOhms.open),
      shorted: failed(failedOhms.shorted),
    };
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}

/**
 * Voltage across and current through an element while the amplifier plays the programme at its
 * rated power.
 */
function stressOf(
  design: Design,
  circuit: SummedCircuit,
  element: PassiveElement,
): PartStress | null {
  const driveVolts = driveVoltsOf(design);
  if (driveVolts === null) return null;
  const { frequencyHz, netlist } = circuit;
  const across = { kind: 'voltage', plus: element.a, minus: element.b } as const;
  const solver = solverFor({ ...circuit, probes: [across] }, frequencyHz);
  solver.solve(netlist);
  const form = seriesFormOf(element);
  const shares = programmeShares(frequencyHz);
  const scale = (driveVolts / design.amplifier.volts) ** 2;
  let [volts, amperes] = [0, 0];
  for (let i = 0; i < frequencyHz.length; i++) {
    const square = scale * shares[i] * (solver.re[0][i] ** 2 + solver.im[0][i] ** 2);
    volts += square;
    amperes += square / squaredOhms(form, 2 * Math.PI * frequencyHz[i]);
  }
  return {
    driveVolts,
    volts: Math.sqrt(volts),
    amperes: Math.sqrt(amperes),
    watts: amperes * form.ohms,
  };
}

/** The circuit with a resistor in place of a part, against the level of the whole one. */
function failure(
  circuit: SummedCircuit,
  partName: string,
  ohms: number,
  whole: Float64Array,
): Failure | null {
  const { netlist, frequencyHz, sumOf } = circuit;
  const broken: Netlist = {
    couplings: netlist.couplings.filter(
      ({ coilA, coilB }) => coilA !== partName && coilB !== partName,
    ),
    elements: netlist.elements.map((element) =>
      element.name === partName ? makeElement(element, 'resistor', ohms, 0) : element,
    ),
  };
  try {
    const solver = solverFor({ ...circuit, netlist: broken }, frequencyHz);
    solver.solve(broken);
    const after = levelDbOf(sumOf(solver.re, solver.im));
    const lowestOhms = Math.min(
      ...pairLoadsOf(circuit, solver).flatMap(({ ohms: all }) => [...all]),
    );
    let [mean, count, worst] = [0, 0, 0];
    const moved = (i: number) => after[i] - whole[i];
    // All that is heard of the whole speaker, its lows as well: a dead woofer leaves the rest alone.
    const heardFrom = loudestOf(whole) - heardWithinDb;
    for (let i = 0; i < frequencyHz.length; i++) {
      if (!(whole[i] >= heardFrom) || !Number.isFinite(moved(i))) continue;
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

const loudestOf = (levelDb: Float64Array): number =>
  levelDb.reduce((most, db) => (Number.isFinite(db) && db > most ? db : most), -Infinity);
