import type { Design, Driver, Measurement } from '@/core/document/schema';

/** One thing to do in a lesson. */
export interface LessonStep {
  /** What to do, as one sentence. */
  readonly task: string;
  /** Why it is done. */
  readonly why: string;
  /** Where on the bench. */
  readonly table: 'measure' | 'measurement' | 'depth' | 'parameters' | 'samples';
  /** Told from the document: nothing is ticked by hand. */
  readonly isDone: (design: Design) => boolean;
}

export interface Lesson {
  readonly id: string;
  readonly name: string;
  readonly steps: readonly LessonStep[];
}

const isPractice = ({ origin }: Measurement) => origin.fileName.startsWith('practice');
const practised = (design: Design, kind: Measurement['kind'], name: RegExp) =>
  design.measurements.filter((m) => m.kind === kind && isPractice(m) && name.test(m.name));
const swept = (name: RegExp) => (design: Design) => practised(design, 'response', name).length > 0;
const weighed = (name: RegExp) => (design: Design) =>
  practised(design, 'impedance', name).length > 0;
const some = (test: (driver: Driver, design: Design) => boolean) => (design: Design) =>
  design.drivers.some((driver) => test(driver, design));
const hasStep = (kind: Measurement['recipe'][number]['kind']) => (design: Design) =>
  design.measurements.some(
    (m) => isPractice(m) && m.recipe.some((step) => step.isOn && step.kind === kind),
  );

/** Exercises on the practice rig, each a job of the bench from beginning to end. */
export const lessons: readonly Lesson[] = [
  {
    id: 'sweep',
    name: 'From a sweep to a driver',
    steps: [
      {
        task: 'Put the demo’s woofer into the rig and play the sweep.',
        why: 'The sweep holds response, arrival time and distortion in one recording.',
        table: 'measure',
        isDone: swept(/woofer/),
      },
      {
        task: 'Measure its impedance.',
        why: 'A network works into the impedance, not into a resistor.',
        table: 'measure',
        isDone: weighed(/woofer/),
      },
      {
        task: 'Give both to one driver: “Belongs to”.',
        why: 'A driver is a response and an impedance that belong together.',
        table: 'measurement',
        isDone: some(({ responseId, impedanceId }) => responseId !== null && impedanceId !== null),
      },
      {
        task: 'Open the response, read what was found about the floor, and add the gate that it proposes.',
        why: 'The reflection is the room’s. What the gate leaves is valid above one over its length.',
        table: 'measurement',
        isDone: hasStep('gate'),
      },
      {
        task: 'Add the tails, then the minimum phase.',
        why: 'Under the gate and in the noise the data say nothing; a straight line says what is known about the driver.',
        table: 'measurement',
        isDone: (design) => hasStep('tails')(design) && hasStep('phase')(design),
      },
    ],
  },
  {
    id: 'depth',
    name: 'Which driver sounds from farther back',
    steps: [
      {
        task: 'Play the sweep at the demo’s midrange.',
        why: 'Each driver alone comes first; nothing may be moved after it.',
        table: 'measure',
        isDone: swept(/midrange hor/),
      },
      {
        task: 'Play it at the tweeter.',
        why: 'Same place of speaker and microphone.',
        table: 'measure',
        isDone: swept(/practice tweeter hor/),
      },
      {
        task: 'Play it at the midrange with the tweeter in parallel.',
        why: 'Where both are equally loud, the sum tells how far apart they are.',
        table: 'measure',
        isDone: swept(/midrange and tweeter/),
      },
      {
        task: 'Give each of the first two to a driver.',
        why: 'The offset is a property of the two drivers.',
        table: 'measurement',
        isDone: (design) =>
          design.drivers.filter(({ responseId }) => responseId !== null).length > 1,
      },
      {
        task: 'Find the offset, look at the landscape of the misfit, and take it over.',
        why: 'A second valley of nearly the same depth would be a wave length away.',
        table: 'depth',
        isDone: some(({ position }) => position.zMm !== 0),
      },
    ],
  },
  {
    id: 'parameters',
    name: 'Parameters with a mass on the cone',
    steps: [
      {
        task: 'Measure the impedance of a driver, an invented one or one of the demo’s.',
        why: 'The peak tells resonance and losses, but not how heavy the cone is.',
        table: 'measure',
        isDone: weighed(/ impedance$/),
      },
      {
        task: 'Measure it again with a mass.',
        why: 'A known mass moves the resonance; from how far, the moving mass follows.',
        table: 'measure',
        isDone: weighed(/ with [\d.]+ g$/),
      },
      {
        task: 'Give the first one to a driver.',
        why: 'The second is named in the next step.',
        table: 'measurement',
        isDone: some(({ impedanceId }) => impedanceId !== null),
      },
      {
        task: 'Write the cone’s area, name the second impedance and its mass, fit, and take the figures over.',
        why: 'The first error says what the noise leaves open, the second also what area, mass and air usually are off by.',
        table: 'parameters',
        isDone: some(({ fitting, sheet }) => fitting.secondId !== null && sheet.fsHz !== null),
      },
    ],
  },
  {
    id: 'samples',
    name: 'Is it a pair?',
    steps: [
      {
        task: 'Measure the impedance of a driver twice.',
        why: 'How well does a measurement repeat? No pair can be judged more sharply than that.',
        table: 'measure',
        isDone: (design) => practised(design, 'impedance', /./).length > 1,
      },
      {
        task: 'Compare the two and keep their mean.',
        why: 'Design with the mean: it is wrong by half as much for each.',
        table: 'samples',
        isDone: ({ measurements }) => measurements.some(({ name }) => name.startsWith('mean of')),
      },
    ],
  },
];

/** The first step that is not done yet; null when all are. */
export function nextStep(
  { steps }: Lesson,
  design: Design,
): { readonly number: number; readonly step: LessonStep } | null {
  const index = steps.findIndex((step) => !step.isDone(design));
  return index < 0 ? null : { number: index + 1, step: steps[index] };
}
