import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { Boundary } from '@/core/document/surroundingsSchema';
import type { Design, Driver } from '@/core/document/schema';
import { mirrored, type Point } from '@/core/layout/mirrored';

interface Image {
  readonly at: Point;
  readonly strength: number;
}

/** Which way a boundary faces: two that face one way are no corner. */
const axisOf = ({ kind }: Boundary): 'x' | 'y' | 'z' =>
  kind === 'front-wall' ? 'z' : kind === 'floor' || kind === 'desk' ? 'y' : 'x';

/**
 * What the boundaries of a design add to the lows of a driver at the listener, dB: its image in each, and in
 * the corners that they make, √(1 − absorption) as strong for each; a point source, as a box is low down
 * (Allen and Berkley 1979).
 *
 * @returns null in a free field
 */
export function boundaryGainDb(
  design: Pick<Design, 'surroundings' | 'listeningDistanceMm' | 'airTemperatureC'>,
  { position }: Pick<Driver, 'position'>,
  frequencyHz: Float64Array,
): Float64Array | null {
  const { boundaries } = design.surroundings;
  if (boundaries.length === 0) return null;
  const source: Image = {
    at: { x: position.xMm, y: position.yMm, z: position.zMm },
    strength: 1,
  };
  let images: (Image & { readonly axes: string })[] = [{ ...source, axes: '' }];
  for (const boundary of boundaries) {
    const axis = axisOf(boundary);
    const strength = Math.sqrt(1 - boundary.absorption);
    images = [
      ...images,
      ...images
        .filter(({ axes }) => !axes.includes(axis))
        .map((image) => ({
          at: mirrored(boundary, image.at),
          strength: image.strength * strength,
          axes: image.axes + axis,
        })),
    ];
  }
  const pathMm = ({ x, y, z }: Point) => Math.hypot(x, y, z - design.listeningDistanceMm);
  const direct = pathMm(source.at);
  const speed = 1000 * speedOfSoundMps(design.airTemperatureC);
  return frequencyHz.map((hz) => {
    let [re, im] = [0, 0];
    for (const { at, strength } of images) {
      const path = pathMm(at);
      const angle = (-2 * Math.PI * hz * (path - direct)) / speed;
      const gain = (strength * direct) / path;
      re += gain * Math.cos(angle);
      im += gain * Math.sin(angle);
    }
    return 20 * Math.log10(Math.hypot(re, im));
  });
}
