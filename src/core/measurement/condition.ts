import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { logGrid } from '@/core/grid/logGrid';
import { problem, ProblemError, type Problem } from '@/core/problem';
import { bulkDelaySeconds, unwrapped } from '@/core/spectrum/phase';
import { impulseOfSpectrum } from './evenSpectrum';
import { excessDelay } from './excessDelay';
import { arrivalSeconds, gateAfter, leadBeforeArrival, responseOf } from './impulse';
import { endSlope, interpolated } from './interpolate';
import { minimumPhase, type Tails } from './minimumPhase';
import type {
  BridgeStep,
  DelayStep,
  GateStep,
  PhaseStep,
  SpliceStep,
  Step,
  TailsStep,
} from './recipe';
import type { Samples } from './samples';
import { splice, type NearSource } from './splice';

/** A stretch of a curve that was not measured. */
export interface Mark {
  readonly fromHz: number;
  readonly toHz: number;
  readonly reason: string;
  /** A straight line beyond the data, rather than across a gap. */
  readonly isTail: boolean;
}

/** A response after its recipe. */
export interface Conditioned {
  readonly samples: Samples;
  /** Whether the phase still holds the flight time that was measured. */
  readonly holdsDelay: boolean;
  readonly marks: readonly Mark[];
  /** Frequency under which a gate leaves nothing to trust; 0 without a gate. */
  readonly validFromHz: number;
  /** What each step found, by its place in the recipe. */
  readonly notes: ReadonlyMap<number, string>;
  /** Steps that could not be done, by their place: they were left out. */
  readonly troubles: ReadonlyMap<number, Problem>;
}

/** What a recipe needs beside the numbers. */
export interface Setting {
  readonly commonTiming: boolean;
  readonly microphoneDistanceMm: number;
  /** Numbers of another measurement. */
  readonly find: (id: string) => Samples | undefined;
}

/** The response as its steps leave it, with what they say. */
type State = Omit<Conditioned, 'notes' | 'troubles'> & { readonly tails: Tails | null };
type Outcome = Partial<State> & { readonly note: string };

const perOctave = 48;

/**
 * Applies a recipe to a measured response. A step that can't be done is left out and told.
 *
 * @param raw as it was measured
 * @param recipe steps in order
 */
export function conditioned(raw: Samples, recipe: readonly Step[], setting: Setting): Conditioned {
  let state: State = {
    samples: raw,
    holdsDelay: setting.commonTiming,
    marks: [],
    validFromHz: 0,
    tails: null,
  };
  const notes = new Map<number, string>();
  const troubles = new Map<number, Problem>();
  recipe.forEach((step, i) => {
    if (!step.isOn) return;
    try {
      const { note, ...changed } = apply(step, state, setting);
      state = { ...state, ...changed };
      notes.set(i, note);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      troubles.set(i, error.problem);
    }
  });
  const { samples, holdsDelay, marks, validFromHz } = state;
  return { samples, holdsDelay, marks, validFromHz, notes, troubles };
}

function apply(step: Step, state: State, setting: Setting): Outcome {
  switch (step.kind) {
    case 'level':
      return {
        samples: {
          ...state.samples,
          magnitude: state.samples.magnitude.map((level) => level + step.addedDb),
        },
        note: `Louder by ${step.addedDb.toFixed(2)} dB.`,
      };
    case 'gate':
      return gate(step, state);
    case 'splice':
      return join(step, state, setting);
    case 'bridge':
      return bridge(step, state);
    case 'tails':
      return withTails(step, state);
    case 'phase':
      return withMinimumPhase(step, state);
    case 'delay':
      return withDelay(step, state);
  }
}

function gate({ lengthMs }: GateStep, { samples }: State): Outcome {
  const impulse = impulseOfSpectrum(samples);
  const arrival = arrivalSeconds(impulse);
  const { frequencyHz } = samples;
  const top = Math.min(frequencyHz[frequencyHz.length - 1], 0.49 * impulse.sampleRateHz);
  const validFromHz = 1000 / lengthMs;
  const grid = logGrid(Math.max(10, frequencyHz[0]), top, perOctave);
  return {
    samples: responseOf(
      impulse,
      gateAfter(arrival, lengthMs / 1000, leadBeforeArrival(impulse)),
      grid,
    ),
    validFromHz,
    note: `Arrival at ${(arrival * 1000).toFixed(2)} ms; valid from about ${validFromHz.toFixed(0)} Hz, and no finer than ${validFromHz.toFixed(0)} Hz anywhere.`,
  };
}

/** Match of near and far field, both absolute, beyond which something is not as stated, dB (common practice). */
const mostMatchDb = 1.5;

function join(step: SpliceStep, { samples, validFromHz }: State, setting: Setting): Outcome {
  const source = (id: string, radiusMm: number): NearSource => {
    const near = setting.find(id);
    if (near) return { samples: near, radiusMm };
    throw problem(
      'near_missing',
      'splice',
      'The near field is not here.',
      'It was removed, or is not loaded yet.',
      'Choose the near-field measurement again.',
    );
  };
  const { matchDb, residualDb, ka, ...joined } = splice(
    [
      source(step.nearId, step.radiusMm),
      ...(step.portId && step.portRadiusMm ? [source(step.portId, step.portRadiusMm)] : []),
    ],
    samples,
    {
      atHz: step.atHz,
      farDistanceMm: setting.microphoneDistanceMm,
      stepWidthMm: step.stepWidthMm,
    },
  );
  const doubts = [
    ...(ka > 1 ? [`ka is ${ka.toFixed(1)} at the join; above 1 near and far field differ`] : []),
    ...(step.atHz < validFromHz
      ? [`the gate is valid from ${validFromHz.toFixed(0)} Hz only`]
      : []),
    ...(Math.abs(matchDb) > mostMatchDb
      ? [
          `with levels that are both absolute this should be within ${mostMatchDb} dB: check the width of the baffle, the radius and the distances, the lows are about as much too ${matchDb > 0 ? 'high' : 'low'}`,
        ]
      : []),
    ...(step.stepWidthMm === null
      ? [
          'no step of a baffle is in it, as for a driver in a wall: in a box the lows come out up to 6 dB too high',
        ]
      : []),
  ];
  return {
    samples: joined.samples,
    validFromHz: 0,
    note: `Near field moved by ${matchDb.toFixed(1)} dB beyond the piston’s scale, ${residualDb.toFixed(2)} dB rms left over the join${doubts.map((doubt) => `; ${doubt}`).join('')}.`,
  };
}

function bridge({ fromHz, toHz, reason }: BridgeStep, { samples, marks }: State): Outcome {
  const { frequencyHz, magnitude, phaseDeg } = samples;
  const last = frequencyHz.length - 1;
  if (!(fromHz < toHz) || fromHz <= frequencyHz[0] || toHz >= frequencyHz[last])
    throw problem(
      'bridge_outside',
      `${fromHz} to ${toHz} Hz`,
      'This stretch can’t be bridged.',
      'A bridge needs measured ground on both sides.',
      'Use tails for the ends, and give the lower frequency first.',
    );
  const ends = Float64Array.of(fromHz, toHz);
  /** Straight on log frequency between the two ends. */
  const bridged = (values: Float64Array) => {
    const [from, to] = interpolated(frequencyHz, values, ends);
    return values.map((value, i) =>
      frequencyHz[i] > fromHz && frequencyHz[i] < toHz
        ? from + ((to - from) * Math.log(frequencyHz[i] / fromHz)) / Math.log(toHz / fromHz)
        : value,
    );
  };
  const smooth = phaseDeg && smoothPhase(samples);
  return {
    samples: {
      frequencyHz,
      magnitude: bridged(magnitude),
      phaseDeg: smooth && degreesOf(bridged(smooth.rest), frequencyHz, smooth.delaySeconds),
    },
    marks: [...marks, { fromHz, toHz, reason, isTail: false }],
    note: `Not measured here: ${reason}.`,
  };
}

function withTails(step: TailsStep, { samples, marks }: State): Outcome {
  const { belowHz, belowDbPerOctave, aboveHz, aboveDbPerOctave } = step;
  const { frequencyHz, magnitude } = samples;
  const last = frequencyHz.length - 1;
  if (!(belowHz < aboveHz) || belowHz < frequencyHz[0] || aboveHz > frequencyHz[last])
    throw problem(
      'tails_outside',
      `${belowHz} and ${aboveHz} Hz`,
      'The tails don’t begin inside the data.',
      `They reach from ${frequencyHz[0].toFixed(1)} to ${frequencyHz[last].toFixed(0)} Hz.`,
      'Give two frequencies inside them, the lower first.',
    );
  const [low, high] = interpolated(frequencyHz, magnitude, Float64Array.of(belowHz, aboveHz));
  // Beyond the data the curve goes on, so that the prediction does not end with them.
  const [from, to] = [Math.min(10, frequencyHz[0]), Math.max(40_000, frequencyHz[last])];
  const all = Float64Array.from([
    ...logGrid(from, to, perOctave).filter((hz) => hz < frequencyHz[0] * 0.999),
    ...frequencyHz,
    ...logGrid(from, to, perOctave).filter((hz) => hz > frequencyHz[last] * 1.001),
  ]);
  const levels = interpolated(frequencyHz, magnitude, all);
  const smooth = samples.phaseDeg && smoothPhase(samples);
  return {
    samples: {
      frequencyHz: all,
      magnitude: levels.map((level, i) =>
        all[i] < belowHz
          ? low + belowDbPerOctave * Math.log2(all[i] / belowHz)
          : all[i] > aboveHz
            ? high + aboveDbPerOctave * Math.log2(all[i] / aboveHz)
            : level,
      ),
      phaseDeg:
        smooth && degreesOf(interpolated(frequencyHz, smooth.rest, all), all, smooth.delaySeconds),
    },
    marks: [
      ...marks,
      { fromHz: all[0], toHz: belowHz, reason: 'a tail', isTail: true },
      { fromHz: aboveHz, toHz: all[all.length - 1], reason: 'a tail', isTail: true },
    ],
    tails: { belowDbPerOctave, aboveDbPerOctave },
    note: `Straight lines below ${belowHz.toFixed(0)} Hz and above ${aboveHz.toFixed(0)} Hz.`,
  };
}

function withMinimumPhase({ keepsDelay }: PhaseStep, state: State): Outcome {
  const { samples, tails: known, marks } = state;
  const { frequencyHz, magnitude } = samples;
  const tails = known ?? {
    belowDbPerOctave: endSlope(frequencyHz, magnitude, 'below'),
    aboveDbPerOctave: endSlope(frequencyHz, magnitude, 'above'),
  };
  const minimum = minimumPhase(frequencyHz, magnitude, tails);
  const guess = known
    ? ''
    : ` Slopes outside the data guessed as ${tails.belowDbPerOctave.toFixed(0)} and ${tails.aboveDbPerOctave.toFixed(0)} dB per octave: state them as tails.`;
  if (!samples.phaseDeg) {
    if (keepsDelay)
      throw problem(
        'no_delay',
        'phase',
        'There is no measured phase, so no delay to keep.',
        '',
        'Choose minimum phase without the delay.',
      );
    return {
      samples: { ...samples, phaseDeg: degreesOf(minimum, frequencyHz, 0) },
      holdsDelay: false,
      note: `Minimum phase; the path counts from the driver’s position.${guess}`,
    };
  }
  const band = measuredBand(frequencyHz, magnitude, marks);
  const { seconds, rmsDeg, fromHz, toHz, isReversed } = excessDelay(samples, tails, band);
  const turned = isReversed ? minimum.map((angle) => angle + Math.PI) : minimum;
  return {
    samples: {
      ...samples,
      phaseDeg: degreesOf(turned, frequencyHz, keepsDelay ? seconds : 0),
    },
    holdsDelay: state.holdsDelay && keepsDelay,
    note: `Excess delay ${(seconds * 1000).toFixed(3)} ms from ${fromHz.toFixed(0)} to ${toHz.toFixed(0)} Hz, ${rmsDeg.toFixed(1)}° rms off a pure delay${keepsDelay ? ', kept' : ', taken out: the path counts from the driver’s position'}${isReversed ? '; polarity is reversed' : ''}.${guess}`,
  };
}

/** Where the driver is in use and nothing was drawn by hand, for the fit of a delay; undefined leaves the choice to it. */
function measuredBand(hz: Float64Array, levelDb: Float64Array, marks: readonly Mark[]) {
  const tails = marks.filter(({ isTail }) => isTail);
  if (tails.length < 2) return undefined;
  const highest = levelDb.reduce((high, level) => Math.max(high, level), -Infinity);
  const used = [...hz.keys()].filter(
    (i) => levelDb[i] > highest - 10 && hz[i] > tails[0].toHz && hz[i] < tails[1].fromHz,
  );
  return used.length > 8 ? { fromHz: hz[used[0]], toHz: hz[used[used.length - 1]] } : undefined;
}

function withDelay({ addedMs }: DelayStep, { samples }: State): Outcome {
  if (!samples.phaseDeg)
    throw problem(
      'delay_needs_phase',
      'delay',
      'This response has no phase.',
      'A delay is seen in the phase only.',
      'Add a minimum phase before it.',
    );
  return {
    samples: {
      ...samples,
      phaseDeg: samples.phaseDeg.map(
        (angle, i) => angle - (360 * samples.frequencyHz[i] * addedMs) / 1000,
      ),
    },
    note: `${addedMs > 0 ? 'Later' : 'Earlier'} by ${Math.abs(addedMs).toFixed(3)} ms, ${Math.abs(addedMs * speedOfSoundMps(20)).toFixed(0)} mm.`,
  };
}

/** A phase as bulk delay and unwrapped rest, radians, so that it can be interpolated. */
function smoothPhase({ frequencyHz, phaseDeg }: Samples) {
  const phase = phaseDeg!.map((angle) => (angle * Math.PI) / 180);
  const delaySeconds = bulkDelaySeconds(frequencyHz, phase);
  const rest = unwrapped(
    phase.map((angle, i) => angle + 2 * Math.PI * frequencyHz[i] * delaySeconds),
  );
  return { rest, delaySeconds };
}

/** Phase in degrees, −180 to 180, of angles and a delay. */
const degreesOf = (radians: Float64Array, frequencyHz: Float64Array, delaySeconds: number) =>
  radians.map((angle, i) => {
    const turns = angle / (2 * Math.PI) - frequencyHz[i] * delaySeconds;
    return 360 * (turns - Math.round(turns));
  });
