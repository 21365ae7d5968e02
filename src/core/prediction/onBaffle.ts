import { createMountedDiffraction, type MountedDriver } from '@/core/baffle/mountedDriver';
import type { Diffraction, Observer } from '@/core/baffle/diffraction/sending';
import { isSimple, isWithin } from '@/core/baffle/dents';
import type { BaffleShape } from '@/core/baffle/shape';
import { bodyDepthMm, boundsOf, type Mounting, type PanelBody } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { coneRadiusM } from '@/core/radiation/piston';
import type { Heading } from '@/core/radiation/direction';

/** A driver on its panel, with where the panel's front is; metres. */
export interface OnBaffle extends MountedDriver {
  readonly setBackM: number;
}

/** An outline in metres, as diffraction takes it. */
const shapeOf = (corners: PanelBody['corners'], depthMm: number): BaffleShape => ({
  outline: corners.map(({ xMm, yMm }) => ({ x: xMm / 1000, y: yMm / 1000 })),
  edges: corners.map(({ edge }) => ({ kind: edge.kind, sizeM: edge.sizeMm / 1000 })),
  depthM: depthMm / 1000,
});

type Seat = Pick<Mounting, 'kind' | 'byMm' | 'frameMm' | 'mouthMm'>;

const half = (mm: number | null) => (mm === null ? null : mm / 2000);

/**
 * An open baffle with its wings folded out: low down only the way around counts (common practice,
 * an estimate above).
 */
function unfolded({ kind, corners, wingsMm }: PanelBody): PanelBody['corners'] {
  if (kind === 'box' || wingsMm === 0) return corners;
  const { leftMm, rightMm } = boundsOf(corners);
  const middle = (leftMm + rightMm) / 2;
  return corners.map((corner) => ({
    ...corner,
    xMm: corner.xMm + Math.sign(corner.xMm - middle) * wingsMm,
  }));
}

/** @param radiusM of the cone; 0 for a point */
export const mountedOn = (
  body: PanelBody,
  setBackMm: number,
  place: { readonly xMm: number; readonly yMm: number },
  radiusM: number,
  seat: Seat,
): OnBaffle => ({
  kind: body.kind,
  shape: shapeOf(unfolded(body), bodyDepthMm(body)),
  setBackM: setBackMm / 1000,
  ...{ x: place.xMm / 1000, y: place.yMm / 1000, radiusM },
  seating: seatingOf(seat),
});

/** What of a mounting is heard: a frame that is flush, of whatever size, is not. */
function seatingOf({ kind, byMm, frameMm, mouthMm }: Seat): OnBaffle['seating'] {
  const hasFrame = kind === 'proud' || kind === 'recessed';
  const hasMouth = kind === 'waveguide' || kind === 'behind';
  return {
    kind,
    byM: kind === 'flush' ? 0 : byMm / 1000,
    frameRadiusM: hasFrame ? half(frameMm) : null,
    mouthRadiusM: hasMouth ? half(mouthMm) : null,
  };
}

/** Radius of a driver's cone, m; null while its area is not known. */
export const radiusOf = ({ sheet }: Pick<Driver, 'sheet'>): number | null =>
  sheet.sdCm2 === null ? null : coneRadiusM(sheet.sdCm2);

/** A driver where the design has it; null while it is on no front that can be worked out. */
export function placedDriver({ panels }: Pick<Design, 'panels'>, driver: Driver): OnBaffle | null {
  const panel = panels.find(({ id }) => id === driver.mounting.panelId);
  if (!panel) return null;
  const placed = mountedOn(
    panel,
    panel.setBackMm,
    driver.position,
    radiusOf(driver) ?? 0,
    driver.mounting,
  );
  const { outline } = placed.shape;
  return isSimple(outline) && isWithin(outline, placed) ? placed : null;
}

/** A point of the design's axes as a panel's own have it. */
export const pointBefore = (
  { setBackM }: Pick<OnBaffle, 'setBackM'>,
  at: { readonly x: number; readonly y: number; readonly z: number },
): Observer => ({ kind: 'point', at: { ...at, z: at.z + setBackM } });

/** A point around the origin of the design's axes, m. */
export const pointToward = ({ x, y, z }: Heading, distanceMm: number) => ({
  x: (distanceMm / 1000) * x,
  y: (distanceMm / 1000) * y,
  z: (distanceMm / 1000) * z,
});

/** A driver on some baffle with what was worked out of it. */
export interface Bending {
  /** What is heard at a point of the design's axes, re the piston in an infinite wall on its axis. */
  at(point: {
    readonly x: number;
    readonly y: number;
    readonly z: number;
  }): ReturnType<Diffraction['toward']>;
}

/** Layouts that are remembered: those of a design, and of some to compare with. */
const mostKept = 24;

/**
 * Diffraction of drivers on baffles. What was worked out is kept by what is said of driver and
 * baffle, so that moving one driver leaves the others as they are.
 */
export function createBending(frequencyHz: Float64Array) {
  const kept = new Map<string, Bending>();
  return (driver: OnBaffle, speedOfSoundMps: number): Bending => {
    const key = JSON.stringify([driver, speedOfSoundMps]);
    const known = kept.get(key);
    if (known) {
      // The last used is the last to go.
      kept.delete(key);
      kept.set(key, known);
      return known;
    }
    const diffraction = createMountedDiffraction(driver, frequencyHz, speedOfSoundMps);
    const points = new Map<string, ReturnType<Diffraction['toward']>>();
    const bending: Bending = {
      at(point) {
        const name = `${point.x} ${point.y} ${point.z}`;
        const before = points.get(name);
        if (before) return before;
        const found = diffraction.toward(pointBefore(driver, point));
        points.set(name, found);
        return found;
      },
    };
    kept.set(key, bending);
    if (kept.size > mostKept) kept.delete(kept.keys().next().value!);
    return bending;
  };
}
