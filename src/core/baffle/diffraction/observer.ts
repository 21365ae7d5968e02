import type { Observer } from './sending';

/** Planes of an orbit: horizontal and vertical. */
export type Plane = 'H' | 'V';

/** What rounding leaves of a right angle is none. */
const tidy = (value: number): number => (Math.abs(value) < 1e-12 ? 0 : value);

/**
 * A place on an orbit about a point of the front.
 *
 * @param angleDeg to the right, or up
 * @param distance m, or far away
 */
export function observerAt(
  { x, y }: { readonly x: number; readonly y: number },
  plane: Plane,
  angleDeg: number,
  distance: number | 'far',
): Observer {
  const angle = (angleDeg * Math.PI) / 180;
  const [sine, cosine] = [tidy(Math.sin(angle)), tidy(Math.cos(angle))];
  const direction = {
    x: plane === 'H' ? sine : 0,
    y: plane === 'V' ? sine : 0,
    z: cosine,
  };
  return distance === 'far'
    ? { kind: 'far', direction }
    : {
        kind: 'point',
        at: {
          x: x + distance * direction.x,
          y: y + distance * direction.y,
          z: distance * direction.z,
        },
      };
}
