/** A standing wave in a rectangular box. */
export interface BoxMode {
  readonly hz: number;
  /** Half waves along width, height and depth. */
  readonly order: readonly [number, number, number];
}

/** Inside width, height and depth, or a place in it from one corner, m. */
export type Inside = readonly [number, number, number];

/**
 * Standing waves of a rectangular box with hard walls up to a frequency, lowest first: f = c/2 ·
 * √((l/Lx)² + (m/Ly)² + (n/Lz)²) (Rayleigh; Kuttruff, Room Acoustics).
 *
 * @throws RangeError when a dimension is not positive
 */
export function boxModes(inside: Inside, upToHz: number, speedOfSound: number): BoxMode[] {
  if (!inside.every((metres) => metres > 0))
    throw new RangeError(`The inside is ${inside.join(' × ')} m; each must be above 0.`);
  const most = inside.map((metres) => Math.floor((2 * metres * upToHz) / speedOfSound));
  const modes: BoxMode[] = [];
  for (let l = 0; l <= most[0]; l++)
    for (let m = 0; m <= most[1]; m++)
      for (let n = 0; n <= most[2]; n++) {
        const hz = (speedOfSound / 2) * Math.hypot(l / inside[0], m / inside[1], n / inside[2]);
        if (l + m + n > 0 && hz <= upToHz) modes.push({ hz, order: [l, m, n] });
      }
  return modes.sort((a, b) => a.hz - b.hz);
}

/**
 * How strongly a mode is driven from a place, or heard in it: 1 at a pressure maximum, as in a
 * corner, 0 on a node.
 */
export const modeAt = ({ order }: BoxMode, inside: Inside, place: Inside): number =>
  order.reduce(
    (product, half, axis) =>
      product * Math.abs(Math.cos((Math.PI * half * place[axis]) / inside[axis])),
    1,
  );

/**
 * Resonances of a pipe of segments that is closed at its beginning and open at its end, lowest first: where
 * nothing moves at the closed end while the pressure at the open one is nought. Of an even pipe the odd
 * quarter waves (2n − 1)·c/(4L); one that narrows has them lower, one that widens higher.
 *
 * @param segments from the closed end, each at least a millimetre long
 */
export function quarterWavesHz(
  segments: readonly { readonly lengthM: number; readonly areaM2: number }[],
  count: number,
  speedOfSound: number,
): number[] {
  const lengthM = segments.reduce((sum, one) => sum + one.lengthM, 0);
  /** Real part of the chain's last element: [p, u] at the closed end from [0, 1] at the open one. */
  const flow = (hz: number): number => {
    // Pressure over j, and flow, from the open end backward, in units of the air's impedance.
    let [p, u] = [0, 1];
    for (const { lengthM: l, areaM2 } of [...segments].reverse()) {
      const [cos, sin] = [
        Math.cos((2 * Math.PI * hz * l) / speedOfSound),
        Math.sin((2 * Math.PI * hz * l) / speedOfSound),
      ];
      [p, u] = [p * cos + (u * sin) / areaM2, u * cos - p * areaM2 * sin];
    }
    return u;
  };
  const found: number[] = [];
  const step = speedOfSound / lengthM / 200;
  for (let hz = step; found.length < count && hz < (50 * speedOfSound) / lengthM; hz += step) {
    if (flow(hz - step) * flow(hz) > 0) continue;
    let [low, high] = [hz - step, hz];
    for (let k = 0; k < 40; k++) {
      const middle = (low + high) / 2;
      if (flow(low) * flow(middle) <= 0) high = middle;
      else low = middle;
    }
    found.push((low + high) / 2);
  }
  return found;
}

/**
 * How strongly such a resonance (1 for the lowest) is driven from a place: a third of the way from the
 * closed end is a node of the second, three quarter waves.
 */
export const quarterWaveAt = (number: number, lengthM: number, fromClosedEndM: number): number =>
  Math.abs(Math.cos(((2 * number - 1) * Math.PI * fromClosedEndM) / (2 * lengthM)));
