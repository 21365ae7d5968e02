/** An acoustic centre on the axes of the baffle, m: to the right, up, toward the listener. */
export interface Centre {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

/** Two drivers that hand over to each other. */
interface Pair {
  readonly lower: Centre;
  readonly upper: Centre;
  readonly crossoverHz: number;
  /**
   * How far the upper one leads the lower one at the crossover where the axis is heard, degrees; 0
   * for drivers that are in phase there.
   */
  readonly leadDeg: number;
}

/** A listener: how far in front of the baffle, and how high over its origin, m. */
export interface Seat {
  readonly distanceM: number;
  readonly heightM: number;
}

/** What the spacing of two drivers does around their crossover. */
export interface Spacing {
  /** From centre to centre in the plane of the baffle, m, and in waves at the crossover. */
  readonly apartM: number;
  readonly waves: number;
  /** How much farther from the baffle's plane toward the listener the upper one is, m. */
  readonly depthM: number;
  /** Path from the upper less that from the lower at the seat, m. */
  readonly pathM: number;
  /** Direction in which both are in phase, degrees up; null where there is none. */
  readonly lobeDeg: number | null;
  /** Directions in which they cancel first, below and above the lobe; null where there is none. */
  readonly nullsDeg: readonly [below: number | null, above: number | null];
  /** Heights at the seat's distance between which the two lose at most 1 dB; null where none. */
  readonly window: { readonly fromM: number; readonly toM: number } | null;
}

/** Two alike that are 54.0° apart lose 1 dB: 20·log cos(φ/2). */
const windowRad = 2 * Math.acos(10 ** (-1 / 20));
const farthestDeg = 89;

/**
 * Interference of two drivers at their crossover, where both are as loud (Linkwitz 1976; paths are
 * exact). What is in phase on the axis stays so where the difference of the paths stays.
 *
 * @param seat where the axis is heard: its height is where `leadDeg` holds
 */
export function spacingOf(
  { lower, upper, crossoverHz, leadDeg }: Pair,
  seat: Seat,
  speedOfSoundMps: number,
): Spacing {
  const k = (2 * Math.PI * crossoverHz) / speedOfSoundMps;
  const lead = (leadDeg * Math.PI) / 180;
  const pathTo = ({ x, y, z }: Centre, height: number) =>
    Math.hypot(x, height - y, seat.distanceM - z);
  const differenceAt = (height: number) => pathTo(upper, height) - pathTo(lower, height);
  const atSeat = differenceAt(seat.heightM);
  /** Phase by which the upper one leads at a height, and far away in a direction. */
  const leadAt = (height: number) => lead - k * (differenceAt(height) - atSeat);
  const along = (deg: number, { y, z }: Centre) => {
    const angle = (deg * Math.PI) / 180;
    return y * Math.sin(angle) + z * Math.cos(angle);
  };
  const nearer = (deg: number) => along(deg, upper) - along(deg, lower);
  const leadToward = (deg: number) => lead + k * (nearer(deg) - nearer(0));
  const lobeDeg = firstWhere(leadToward, 0, 0, farthestDeg);
  const [below, above] = [-1, 1].map((side) => {
    const from = lobeDeg ?? 0;
    const places = [Math.PI, -Math.PI].flatMap(
      (wanted) => firstWhere((deg) => leadToward(deg) - wanted, from, side, farthestDeg) ?? [],
    );
    return places.length === 0
      ? null
      : places.reduce((near, one) => (Math.abs(one - from) < Math.abs(near - from) ? one : near));
  });
  const apartM = Math.hypot(upper.x - lower.x, upper.y - lower.y);
  return {
    apartM,
    waves: (apartM * crossoverHz) / speedOfSoundMps,
    depthM: upper.z - lower.z,
    pathM: atSeat,
    lobeDeg,
    nullsDeg: [below, above],
    window: windowOf(leadAt, seat),
  };
}

/** Heights around the seat's at which the phase stays within what loses 1 dB. */
function windowOf(leadAt: (height: number) => number, { heightM, distanceM }: Seat) {
  const isKept = (height: number) => {
    const lead = leadAt(height);
    return Math.abs(lead - 2 * Math.PI * Math.round(lead / (2 * Math.PI))) <= windowRad;
  };
  if (!isKept(heightM)) return null;
  const edge = (side: 1 | -1) => {
    const most = 2 * distanceM;
    const step = most / 400;
    let height = heightM;
    while (isKept(height + side * step) && Math.abs(height - heightM) < most) height += side * step;
    let [kept, lost] = [height, height + side * step];
    for (let i = 0; i < 40; i++) {
      const middle = (kept + lost) / 2;
      if (isKept(middle)) kept = middle;
      else lost = middle;
    }
    return kept;
  };
  return { fromM: edge(-1), toM: edge(1) };
}

/**
 * Where a function first crosses nought, in degrees: on either side for `side` 0, else on one.
 *
 * @returns null when it does not up to `most`
 */
function firstWhere(
  of: (deg: number) => number,
  from: number,
  side: number,
  most: number,
): number | null {
  if (of(from) === 0) return from;
  const stepDeg = 0.25;
  for (let away = 0; away < 2 * most; away += stepDeg)
    for (const sign of side === 0 ? [1, -1] : [side]) {
      const [near, far] = [from + sign * away, from + sign * (away + stepDeg)];
      if (Math.abs(far) > most || of(near) * of(far) > 0) continue;
      let [a, b] = [near, far];
      for (let i = 0; i < 40; i++) {
        const middle = (a + b) / 2;
        if (of(a) * of(middle) <= 0) b = middle;
        else a = middle;
      }
      return (a + b) / 2;
    }
  return null;
}
