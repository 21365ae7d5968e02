/**
 * A direction on one of the two orbits around a speaker, seen from its front: right of it and above
 * it are positive, 180° is behind.
 */
export interface Direction {
  readonly plane: 'horizontal' | 'vertical';
  readonly degrees: number;
}

/** Any direction, as a vector of length 1 in the axes of the design. */
export interface Heading {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

/** The design axis. */
export const straight: Direction = { plane: 'horizontal', degrees: 0 };

const radians = (degrees: number) => (degrees * Math.PI) / 180;

export function headingOf({ plane, degrees }: Direction): Heading {
  const aside = Math.sin(radians(degrees));
  return {
    x: plane === 'horizontal' ? aside : 0,
    y: plane === 'vertical' ? aside : 0,
    z: Math.cos(radians(degrees)),
  };
}

/** Where a driver points: turned to the right and up from the design axis. */
export interface Aim {
  readonly yawDeg: number;
  readonly pitchDeg: number;
}

export const isAimed = ({ yawDeg, pitchDeg }: Aim): boolean => yawDeg !== 0 || pitchDeg !== 0;

/** A vector of the design's axes in those of a driver that points elsewhere. */
export function fromDriver({ yawDeg, pitchDeg }: Aim, { x, y, z }: Heading): Heading {
  const [sinYaw, cosYaw] = [Math.sin(radians(yawDeg)), Math.cos(radians(yawDeg))];
  const [sinPitch, cosPitch] = [Math.sin(radians(pitchDeg)), Math.cos(radians(pitchDeg))];
  const ahead = x * sinYaw + z * cosYaw;
  return {
    x: x * cosYaw - z * sinYaw,
    y: y * cosPitch - ahead * sinPitch,
    z: y * sinPitch + ahead * cosPitch,
  };
}

/** How far a heading is off the axis, and on which sides of it. */
interface OffAxisAngles {
  readonly offDeg: number;
  /** Shares of the horizontal and the vertical plane, together 1. */
  readonly horizontalShare: number;
  readonly verticalShare: number;
  /** Angles on the two orbits that are as far off the axis on the same side. */
  readonly horizontalDeg: number;
  readonly verticalDeg: number;
}

/** A heading between the orbits, as a mixture of one direction on each (an estimate). */
export function betweenOrbits({ x, y, z }: Heading): OffAxisAngles {
  const aside = Math.hypot(x, y);
  const offDeg = (Math.atan2(aside, z) * 180) / Math.PI;
  const horizontalShare = aside < 1e-12 ? 1 : (x / aside) ** 2;
  return {
    offDeg,
    horizontalShare,
    verticalShare: 1 - horizontalShare,
    horizontalDeg: x < 0 ? -offDeg : offDeg,
    verticalDeg: y < 0 ? -offDeg : offDeg,
  };
}

/** What the level in a direction rests on; what comes later is less certain. */
export const radiationSources = ['measured', 'interpolated', 'modelled'] as const;
export type RadiationSource = (typeof radiationSources)[number];

/** The least certain of some. */
export const leastCertain = (sources: readonly RadiationSource[]): RadiationSource =>
  sources.reduce<RadiationSource>(
    (worst, one) => (radiationSources.indexOf(one) > radiationSources.indexOf(worst) ? one : worst),
    'measured',
  );
