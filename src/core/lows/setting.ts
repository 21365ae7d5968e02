import type { Air } from '@/core/box/enclosure';
import { behindResistance, sourceFromLoads, type Source } from '@/core/box/source';
import { airOf } from '@/core/cabinet/enclosureOf';
import { seatOf, wantedSineDb } from '@/core/brief/answers';
import { seatGainsDb, voltsForLevel } from '@/core/brief/arithmetic';
import type { Box } from '@/core/document/boxSchema';
import { driveVoltsOf, ratedSourceVolts } from '@/core/document/programme';
import type { Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { createConditioner } from '@/core/prediction/conditioner';
import { sourceLevelDb, sourceOhmsOf } from '@/core/prediction/figures';
import type { Predictor } from '@/core/prediction/predict';
import type { Prediction } from '@/core/prediction/prediction';
import { solvableOf, solverFor } from '@/core/prediction/solvable';
import { createLoads } from '@/core/prediction/wayInputs';

const grid = logGrid(10, 1000, 36);

/** Where boxes matter: two decades in 240 points. */
export const lowsGridHz = (): Float64Array => grid;

/** What a box works with in a design. */
export interface LowsSetting {
  readonly frequencyHz: Float64Array;
  readonly air: Air;
  /** What drives its drivers: amplifier, cable and network as they are seen from there. */
  readonly source: Source;
  /** Whether a network is in that. */
  readonly hasNetwork: boolean;
  /** Resistance before the drivers at the lowest frequency, Ω. */
  readonly seriesOhms: number;
  /** Rms voltage of the programme over that of the source, as the brief asks; null while it says nothing. */
  readonly timesProgramme: number | null;
  /** Voltage of a sine at the amplifier's rated power over that of the source; null without one. */
  readonly timesRated: number | null;
  /** What is added to a level at 1 m for the farthest seat, dB; null while it is not known. */
  readonly toSeatDb: number | null;
  /** Level of a sine at 1 m that gives the farthest seat what the brief asks; null while it does not. */
  readonly wantedDb: number | null;
  /** The design as it is predicted; null while it has no sum. */
  readonly now: Prediction | null;
}

/** Two loads from which what is before them is told, Ω. */
const trialOhms = [4, 16] as const;

/**
 * What is before the drivers of a box at each frequency: the whole network, or, where they are in none,
 * amplifier and cable.
 */
function sourceOf(
  design: Design,
  driverIds: readonly string[],
  data: MeasurementData,
  frequencyHz: Float64Array,
): Source | null {
  const solvable = solvableOf(design, data, createConditioner(), createLoads(frequencyHz));
  if (!solvable) return null;
  const own = solvable.ends.flatMap(({ driver }, e) => (driverIds.includes(driver.id) ? [e] : []));
  if (own.length === 0) return null;
  const names = own.map((e) => solvable.onePorts[e]);
  const voltagesWith = (ohm: number): GridSpectrum => {
    const load: GridSpectrum = {
      re: new Float64Array(frequencyHz.length).fill(ohm),
      im: new Float64Array(frequencyHz.length),
    };
    const loads = new Map([...solvable.loads].map(([n, z]) => [n, names.includes(n) ? load : z]));
    const solver = solverFor({ ...solvable, loads }, frequencyHz);
    solver.solve(solvable.netlist);
    return { re: solver.re[own[0]].slice(), im: solver.im[own[0]].slice() };
  };
  // All drivers together are one load.
  const loads = trialOhms.map((ohm) => ({ ohm: ohm / own.length, volts: voltagesWith(ohm) }));
  return sourceFromLoads([loads[0], loads[1]]);
}

/** @param predict keeps what it worked out before */
export function lowsSetting(
  design: Design,
  box: Pick<Box, 'driverIds'>,
  data: MeasurementData,
  predict: Predictor,
): LowsSetting {
  const frequencyHz = lowsGridHz();
  const network = sourceOf(design, box.driverIds, data, frequencyHz);
  const { volts } = design.amplifier;
  const series = sourceOhmsOf(design.amplifier);
  const source = network ?? behindResistance(volts, series, frequencyHz.length);
  const prediction = predict(design, data, { offAxis: 'known' });
  const now = prediction.sum ? prediction : null;
  const seat = seatOf(design, 'farthest');
  const { loudnessDb } = design.brief;
  const level = now && sourceLevelDb(now, design.amplifier);
  const programme =
    level !== null && seat && loudnessDb !== null
      ? voltsForLevel(level, loudnessDb, seat)
      : driveVoltsOf(design);
  const rated = ratedSourceVolts(design);
  const gains = seat && seatGainsDb(seat);
  const toSeatDb = gains && gains.distance + gains.count + gains.room;
  const wanted = wantedSineDb(design.brief);
  return {
    ...{ frequencyHz, source, now, air: airOf(design) },
    hasNetwork: network !== null,
    seriesOhms: source.ohmRe[0],
    timesProgramme: programme === null ? null : programme / volts,
    timesRated: rated === null ? null : rated / volts,
    toSeatDb,
    wantedDb: wanted !== null && toSeatDb !== null ? wanted - toSeatDb : null,
  };
}
