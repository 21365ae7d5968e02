import { spacingOf, type Centre, type Seat, type Spacing } from './spacing';

/** Drivers of two ways that hand over to each other; those of one way play alike. */
interface Groups {
  readonly lower: readonly Centre[];
  readonly upper: readonly Centre[];
  readonly crossoverHz: number;
  /** As for a pair: how far the upper ones lead where the axis is heard, degrees. */
  readonly leadDeg: number;
}

const stepDeg = 0.25;
const farthestDeg = 89;
/** What loses this much between louder directions counts as a null. */
const nullDb = -12;
const windowDb = -1;

/**
 * Spacing of two ways of which either may have several drivers: symmetric pairs and arrays
 * (D'Appolito 1983). Distances are between the middles of the ways; lobe, nulls and window are those
 * of the sum of all drivers at the crossover, each way as loud as the other.
 */
export function groupSpacing(
  { lower, upper, crossoverHz, leadDeg }: Groups,
  seat: Seat,
  speedOfSoundMps: number,
): Spacing {
  const pair = { lower: middleOf(lower), upper: middleOf(upper), crossoverHz, leadDeg };
  const alike = spacingOf(pair, seat, speedOfSoundMps);
  if (lower.length === 1 && upper.length === 1) return alike;
  const k = (2 * Math.PI * crossoverHz) / speedOfSoundMps;
  const sources = [
    ...lower.map((at) => ({ at, share: 0.5 / lower.length, lead: 0 })),
    ...upper.map((at) => ({ at, share: 0.5 / upper.length, lead: (leadDeg * Math.PI) / 180 })),
  ];
  /** Level of the sum, dB, for the paths that sound takes from each driver. */
  const levelDb = (pathOf: (at: Centre) => number, referenceOf: (at: Centre) => number) => {
    let [re, im] = [0, 0];
    for (const { at, share, lead } of sources) {
      const angle = lead - k * (pathOf(at) - referenceOf(at));
      re += share * Math.cos(angle);
      im += share * Math.sin(angle);
    }
    return 20 * Math.log10(Math.max(1e-6, Math.hypot(re, im)));
  };
  // Each way's own drivers are timed by where they are; only the lead between the ways is given.
  const [lowerMiddle, upperMiddle] = [pair.lower, pair.upper];
  const wayOf = (at: Centre) => (lower.includes(at) ? lowerMiddle : upperMiddle);
  const toward = (deg: number) => {
    const angle = (deg * Math.PI) / 180;
    const nearer = ({ y, z }: Centre) => y * Math.sin(angle) + z * Math.cos(angle);
    return levelDb(
      (at) => -nearer(at),
      (at) => -wayOf(at).z,
    );
  };
  const atHeight = (height: number) => {
    const path = ({ x, y, z }: Centre, h: number) => Math.hypot(x, h - y, seat.distanceM - z);
    return levelDb(
      (at) => path(at, height),
      (at) => path(wayOf(at), seat.heightM),
    );
  };
  const angles = Array.from(
    { length: Math.round((2 * farthestDeg) / stepDeg) + 1 },
    (_, i) => -farthestDeg + i * stepDeg,
  );
  const levels = angles.map(toward);
  const loudest = levels.reduce((best, db, i) => {
    const [near, far] = [Math.abs(angles[i]), Math.abs(angles[best])];
    return db > levels[best] + 0.01 || (Math.abs(db - levels[best]) <= 0.01 && near < far)
      ? i
      : best;
  }, 0);
  const firstNull = (side: 1 | -1): number | null => {
    for (let i = loudest + side; i > 0 && i < angles.length - 1; i += side)
      if (
        levels[i] < levels[loudest] + nullDb &&
        levels[i] <= levels[i - 1] &&
        levels[i] <= levels[i + 1]
      )
        return angles[i];
    return null;
  };
  return {
    ...alike,
    lobeDeg: angles[loudest],
    nullsDeg: [firstNull(-1), firstNull(1)],
    window: windowAround(atHeight, seat),
  };
}

function middleOf(centres: readonly Centre[]): Centre {
  const mean = (axis: keyof Centre) =>
    centres.reduce((sum, centre) => sum + centre[axis], 0) / centres.length;
  return { x: mean('x'), y: mean('y'), z: mean('z') };
}

/** Heights around the seat's at which at most 1 dB of the level there is lost. */
function windowAround(levelAt: (height: number) => number, { heightM, distanceM }: Seat) {
  const least = levelAt(heightM) + windowDb;
  const most = 2 * distanceM;
  const step = most / 2000;
  const edge = (side: 1 | -1) => {
    let away = 0;
    while (away < most && levelAt(heightM + side * (away + step)) >= least) away += step;
    return heightM + side * away;
  };
  return { fromM: edge(-1), toM: edge(1) };
}
