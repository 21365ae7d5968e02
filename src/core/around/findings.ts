import { crossingRange } from '@/core/brief/crossing';
import type { Design, Driver } from '@/core/document/schema';
import type { Change } from '@/core/editing/change';
import { nearestIndex } from '@/core/grid/nearest';
import type { WayId } from '@/core/fields';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Crossover } from '@/core/prediction/crossovers';
import type { Band } from '@/core/prediction/figures';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { anomaliesOf, type Anomaly } from './anomalies';
import { createCauseStudy, withRoundedEdges, type Cause, type Shift } from './causes';
import type { AroundView } from './orbits';

/** A cause that was left out, and what that took away. */
interface TakenOut {
  readonly told: string;
  /** What is left, without sign, dB. */
  readonly leftDb: number;
  /** Below 0 when it takes away. */
  readonly byDb: number;
}

/** Something to do about it. */
export interface AroundMend {
  readonly told: string;
  readonly leftDb: number;
  /** One step to undo together; none where only the designer can do it. */
  readonly changes: readonly Change[];
}

/** Something that directivity does, with its likeliest cause and what would mend it. */
export interface AroundFinding {
  readonly anomaly: Anomaly;
  readonly title: string;
  readonly reason: string;
  readonly takenOut: readonly TakenOut[];
  readonly mends: readonly AroundMend[];
  readonly equalising: string;
}

const hertz = (hz: number) => formatQuantity(Number(hz.toPrecision(2)), 'hertz');
const db = (value: number) => `${formatFixed(value, 1)} dB`;

/** A cause that takes away less than this share of it is none. */
const leastShare = 0.25;
/** A mend must leave at most this share. */
const mendShare = 0.7;

/** Looks around designs for what directivity does and why, one after the other. */
export function createAroundStudy() {
  const studyOf = createCauseStudy();
  /**
   * @param crossovers of the same design
   * @returns when all is told; each step gives what was found so far
   */
  return function* (
    design: Design,
    data: MeasurementData,
    view: AroundView,
    crossovers: readonly Crossover[],
    band: Band,
  ): Generator<readonly AroundFinding[], readonly AroundFinding[]> {
    let found: readonly AroundFinding[] = [];
    for (const anomaly of anomaliesOf(view, band)) {
      const study = studyOf(design, data, crossovers, anomaly.atHz, band, bearing(design));
      for (;;) {
        const { done, value } = study.next();
        if (!done) {
          yield found;
          continue;
        }
        if (value)
          found = [
            ...found,
            findingOf(design, view, anomaly, value.nowDb, value.causes, value.shift),
          ];
        break;
      }
      yield found;
    }
    return found;
  };
}

/** Whether the upper driver of two ways bears a crossover so low, and the lower one so high. */
const bearing =
  (design: Design) =>
  (lowerId: WayId, upperId: WayId, hz: number): boolean => {
    const [lower, upper] = [firstDriver(design, lowerId), firstDriver(design, upperId)];
    if (!lower || !upper) return true;
    const { least } = crossingRange(design, lower, upper, 4);
    return least === null || hz >= least.hz;
  };

function firstDriver({ ways, drivers }: Design, wayId: WayId): Driver | undefined {
  const end = ways.find(({ id }) => id === wayId)?.ends.at(0);
  return drivers.find(({ id }) => id === end?.driverId);
}

function findingOf(
  design: Design,
  view: AroundView,
  anomaly: Anomaly,
  nowDb: number,
  causes: readonly Cause[],
  shift: Shift | null,
): AroundFinding {
  const size = Math.abs(nowDb);
  const takenOut = causes.map((cause): TakenOut => {
    const leftDb = Math.abs(cause.leftDb);
    return { told: causeWords(design, cause), leftDb, byDb: leftDb - size };
  });
  const [likeliest] = causes;
  const isClear = takenOut.length > 0 && -takenOut[0].byDb >= leastShare * size;
  const { kind, fromHz, toHz, plane, degrees } = anomaly;
  const where = `${Math.abs(degrees)}° ${plane === 'horizontal' ? 'to the side' : degrees > 0 ? 'up' : 'down'}`;
  return {
    anomaly,
    title: `${kind === 'widens' ? 'Widens' : 'Narrows'} by ${db(size)} from ${hertz(fromHz)} to ${hertz(toHz)}`,
    reason: `It shows most ${where}. ${
      isClear
        ? `Likeliest cause: ${reasonWords(design, likeliest, kind)}.`
        : 'No single cause explains it: size, spacing, phase and edges act together.'
    }`,
    takenOut,
    mends: mendsOf(design, causes, shift, size),
    equalising: equalisingWords(view, anomaly, size),
  };
}

const nameOf = ({ drivers }: Design, id: string) =>
  drivers.find((one) => one.id === id)?.name.toLowerCase() ?? 'driver';

function causeWords(design: Design, cause: Cause): string {
  switch (cause.kind) {
    case 'size':
      return `${nameOf(design, cause.driverId)} as small as a point`;
    case 'edges':
      return `edges rounded by ${cause.radiusMm} mm`;
    case 'spacing':
      return 'all drivers in one place';
    case 'phase':
      return 'no interference between the ways';
  }
}

function reasonWords(design: Design, cause: Cause, kind: Anomaly['kind']): string {
  switch (cause.kind) {
    case 'size':
      return kind === 'narrows'
        ? `the ${nameOf(design, cause.driverId)} is large against the wave here`
        : `the ${nameOf(design, cause.driverId)} beams just below, and what takes over is wide again`;
    case 'edges':
      return 'diffraction at the edges of the front';
    case 'spacing':
      return 'the drivers are far apart against the wave at the crossover';
    case 'phase':
      return 'how the ways add up around the crossover';
  }
}

function mendsOf(
  design: Design,
  causes: readonly Cause[],
  shift: Shift | null,
  size: number,
): AroundMend[] {
  const slope = (hz: number) => ({
    ...({ alignment: 'linkwitz-riley', order: 4 } as const),
    hz: Number(hz.toPrecision(2)),
  });
  const crossing = ({ lowerId, upperId, fromHz, toHz, leftDb }: Shift): AroundMend => {
    const [lower, upper] = [lowerId, upperId].map((id) => design.ways.find((way) => way.id === id));
    return {
      told: `cross over at ${hertz(toHz)} in the place of ${hertz(fromHz)}`,
      leftDb: Math.abs(leftDb),
      changes:
        lower && upper
          ? [
              {
                type: 'editWay',
                id: lowerId,
                set: { target: { highPass: lower.target?.highPass ?? null, lowPass: slope(toHz) } },
              },
              {
                type: 'editWay',
                id: upperId,
                set: { target: { highPass: slope(toHz), lowPass: upper.target?.lowPass ?? null } },
              },
            ]
          : [],
    };
  };
  const edges = causes.find((cause) => cause.kind === 'edges');
  const rounded = edges?.kind === 'edges' ? withRoundedEdges(design, edges.radiusMm) : null;
  const mends: AroundMend[] = [
    ...(shift ? [crossing(shift)] : []),
    ...(edges?.kind === 'edges' && rounded
      ? [
          {
            told: `round the edges by ${edges.radiusMm} mm`,
            leftDb: Math.abs(edges.leftDb),
            changes: rounded.panels
              .filter((panel, p) => panel !== design.panels[p])
              .map((panel): Change => ({ type: 'setPanel', panel })),
          },
        ]
      : []),
  ];
  return mends
    .filter(({ leftDb }) => leftDb <= mendShare * size)
    .sort((a, b) => a.leftDb - b.leftDb);
}

/** What an equaliser would mend of it, and what not. */
function equalisingWords(
  { frequencyHz, curves: { onAxis } }: AroundView,
  { atHz, kind }: Anomaly,
  size: number,
): string {
  const band = [...onAxis].filter(
    (level, i) => frequencyHz[i] >= 200 && frequencyHz[i] <= 10_000 && Number.isFinite(level),
  );
  const mean = band.reduce((sum, level) => sum + level, 0) / Math.max(1, band.length);
  const i = nearestIndex(frequencyHz, atHz);
  const over = onAxis[i] - mean;
  const axis =
    Math.abs(over) < 0.5
      ? 'The axis is flat here'
      : `On the axis it is ${db(Math.abs(over))} ${over > 0 ? 'high' : 'low'}, which equalising mends`;
  return kind === 'widens'
    ? `${axis}; equalising what is too loud off the axis would leave a dip of ${db(size)} on it.`
    : `${axis}; equalising what is missing off the axis would leave a bump of ${db(size)} on it.`;
}
