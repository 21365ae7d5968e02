import { lowestDrivers } from '@/core/lows/candidates';
import type { StageId } from '@/core/document/stageId';
import type { Design } from '@/core/document/schema';

/**
 * The stages in the order that people work. All are always named; those not built yet say what they
 * will do.
 */
export interface Stage {
  readonly id: StageId;
  readonly name: string;
  /** Key that opens it. */
  readonly key: string;
  /** The question it answers, or will answer. */
  readonly question: string;
  readonly isBuilt: boolean;
  /** It needs the height for itself: the curve shelf begins folded there. */
  readonly hasOwnCurves: boolean;
}

export const stages: readonly Stage[] = [
  {
    id: 'brief',
    name: 'Brief',
    key: '1',
    isBuilt: true,
    hasOwnCurves: true,
    question: 'What must this speaker do?',
  },
  {
    id: 'bench',
    name: 'Bench',
    key: '2',
    isBuilt: true,
    hasOwnCurves: true,
    question: 'What do my drivers really do?',
  },
  {
    id: 'box',
    name: 'Box',
    key: '3',
    isBuilt: true,
    hasOwnCurves: true,
    question: 'Which enclosure gives the bass?',
  },
  {
    id: 'baffle',
    name: 'Baffle',
    key: '4',
    isBuilt: true,
    hasOwnCurves: true,
    question: 'Where do the drivers go?',
  },
  {
    id: 'network',
    name: 'Network',
    key: '5',
    isBuilt: true,
    hasOwnCurves: false,
    question: 'Which parts make it fair?',
  },
  {
    id: 'around',
    name: 'Around',
    key: '6',
    isBuilt: true,
    hasOwnCurves: true,
    question: 'What do listener and room receive?',
  },
  {
    id: 'parts',
    name: 'Parts',
    key: '7',
    isBuilt: false,
    hasOwnCurves: false,
    question: 'Later: real parts, heat, cost',
  },
  {
    id: 'build',
    name: 'Build',
    key: '8',
    isBuilt: false,
    hasOwnCurves: false,
    question: 'Later: board, wiring, cut list',
  },
  {
    id: 'proof',
    name: 'Proof',
    key: '9',
    isBuilt: false,
    hasOwnCurves: false,
    question: 'Later: built against predicted',
  },
  {
    id: 'log',
    name: 'Log',
    key: '0',
    isBuilt: true,
    hasOwnCurves: true,
    question: 'What was changed, why, and was it better?',
  },
];

/** How much of a stage is there, 0 to 1, told from the document alone. */
const progressOf: Readonly<Partial<Record<StageId, (design: Design) => number>>> = {
  brief({ brief }) {
    const asked = Object.entries(brief).filter(([key]) => key !== 'currency' && key !== 'mustUse');
    const given = asked.filter(([, answer]) =>
      Array.isArray(answer) ? answer.length > 0 : answer !== null,
    );
    return given.length / asked.length;
  },
  bench: ({ drivers }) =>
    shareOf(
      drivers.flatMap((driver) => [driver.responseId, driver.impedanceId]),
      (slot) => slot !== null,
    ),
  box: ({ boxes, drivers }) => {
    const boxed = boxes.filter(({ isUsed }) => isUsed).flatMap(({ driverIds }) => driverIds);
    const low = lowestDrivers({ drivers });
    return shareOf(low, ({ id }) => boxed.includes(id));
  },
  baffle: ({ panels, drivers }) =>
    panels.length === 0 ? 0 : shareOf(drivers, ({ mounting }) => mounting.panelId !== null),
  network: ({ ways }) => shareOf(ways, ({ ends, parts }) => ends.length > 0 && parts.length > 0),
  around: ({ drivers }) =>
    shareOf(
      drivers,
      ({ offAxisIds, mounting, sheet }) =>
        offAxisIds.length > 0 || (mounting.panelId !== null && sheet.sdCm2 !== null),
    ),
  log: () => 1,
};

export const progress = (stage: StageId, design: Design): number =>
  progressOf[stage]?.(design) ?? 0;

const shareOf = <T>(all: readonly T[], isDone: (one: T) => boolean): number =>
  all.length === 0 ? 0 : all.filter(isDone).length / all.length;
