import {
  portAreaM2,
  portMass,
  type Air,
  type Enclosure,
  type PassiveRadiator,
  type PipeSegment,
} from './enclosure';

/** A complex number that is written over and over. */
export interface Complex {
  re: number;
  im: number;
}

export const complex = (): Complex => ({ re: 0, im: 0 });

/** What is behind a driver, one frequency at a time. */
export interface RearSide {
  /** Works everything out for an angular frequency. */
  at(omega: number): void;
  /** Acoustic impedance that the cone works into, Pa·s/m³. */
  readonly load: Complex;
  /**
   * Volume velocity outward, over that of the cone outward, of each opening; and of all of them
   * together, leaks included.
   */
  readonly opening: Complex;
  readonly all: Complex;
  /** Area over which the opening's air moves, m²; null without one. */
  readonly openingAreaM2: number | null;
}

/** Angular frequency at which the losses of a box are told. */
function lossOmega(
  enclosure: Extract<Enclosure, { volumeM3: number }>,
  air: Air,
  alpha: number,
  omegaS: number,
) {
  const compliance = enclosure.volumeM3 / (air.density * air.speedOfSound ** 2);
  switch (enclosure.kind) {
    case 'sealed':
      return omegaS * Math.sqrt(1 + alpha);
    case 'vented':
      return 1 / Math.sqrt(portMass(enclosure.port, air) * compliance);
    case 'passive-radiator': {
      const { mass, compliance: own } = passiveBranch(enclosure.passive, air);
      return Math.sqrt((1 / compliance + 1 / own) / mass);
    }
  }
}

/** Acoustic mass, compliance and resistance of passive radiators together. */
export function passiveBranch(
  { fsHz, qms, vasM3, sdM2, addedMassKg, count }: PassiveRadiator,
  { density, speedOfSound }: Air,
) {
  const omega = 2 * Math.PI * fsHz;
  const one = vasM3 / (density * speedOfSound ** 2);
  const bare = 1 / (omega ** 2 * one);
  return {
    mass: (bare + addedMassKg / sdM2 ** 2) / count,
    compliance: one * count,
    resistance: (omega * bare) / qms / count,
  };
}

/**
 * Sealed, vented and passive-radiator boxes: compliance with absorption, leakage and one opening
 * beside each other at the box's pressure (Small 1972, 1973, 1974).
 *
 * @param alpha Vas over the volume
 * @param omegaS of the driver in free air
 */
export function createBox(
  enclosure: Extract<Enclosure, { volumeM3: number }>,
  air: Air,
  alpha: number,
  omegaS: number,
): RearSide {
  const compliance = enclosure.volumeM3 / (air.density * air.speedOfSound ** 2);
  const omega0 = lossOmega(enclosure, air, alpha, omegaS);
  const { ql, qa } = enclosure;
  const leakage = ql === null ? 0 : (omega0 * compliance) / ql;
  const absorption = qa === null ? 0 : 1 / (qa * omega0 * compliance);
  const branch =
    enclosure.kind === 'vented'
      ? {
          mass: portMass(enclosure.port, air),
          compliance: Infinity,
          resistance:
            enclosure.port.qp === null
              ? 0
              : (omega0 * portMass(enclosure.port, air)) / enclosure.port.qp,
        }
      : enclosure.kind === 'passive-radiator'
        ? passiveBranch(enclosure.passive, air)
        : null;
  const [load, opening, all] = [complex(), complex(), complex()];
  return {
    ...{ load, opening, all },
    openingAreaM2:
      enclosure.kind === 'vented'
        ? portAreaM2(enclosure.port)
        : enclosure.kind === 'passive-radiator'
          ? enclosure.passive.sdM2 * enclosure.passive.count
          : null,
    at(omega) {
      // Admittances: of the volume with its absorption, the leak, the opening.
      const reactance = -1 / (omega * compliance);
      const size = absorption ** 2 + reactance ** 2;
      let [gRe, gIm] = [absorption / size + leakage, -reactance / size];
      let [oRe, oIm] = [0, 0];
      if (branch) {
        const x = omega * branch.mass - 1 / (omega * branch.compliance);
        const square = branch.resistance ** 2 + x ** 2;
        [oRe, oIm] = [branch.resistance / square, -x / square];
        gRe += oRe;
        gIm += oIm;
      }
      const square = gRe ** 2 + gIm ** 2;
      load.re = gRe / square;
      load.im = -gIm / square;
      // The cone's outward flow thins the air in the box, and what is open draws inward.
      opening.re = -(load.re * oRe - load.im * oIm);
      opening.im = -(load.re * oIm + load.im * oRe);
      all.re = opening.re - load.re * leakage;
      all.im = opening.im - load.im * leakage;
    },
  };
}

/** Front and rear of a cone in a baffle: the rear comes round later, in opposite polarity. */
export function createOpenBaffle(pathM: number, { speedOfSound }: Air): RearSide {
  const [load, opening, all] = [complex(), complex(), complex()];
  return {
    ...{ load, opening, all },
    openingAreaM2: null,
    at(omega) {
      const angle = (omega * pathM) / speedOfSound;
      all.re = -Math.cos(angle);
      all.im = Math.sin(angle);
    },
  };
}

/** A two-port over a pipe: pressure and flow at one end from those at the other. */
class Chain {
  readonly a = { re: 1, im: 0 };
  readonly b = complex();
  readonly c = complex();
  readonly d = { re: 1, im: 0 };

  reset(): void {
    [this.a.re, this.a.im, this.d.re, this.d.im] = [1, 0, 1, 0];
    [this.b.re, this.b.im, this.c.re, this.c.im] = [0, 0, 0, 0];
  }
}

/**
 * A pipe behind a driver: segments as two-ports with the wave number of a porous filling, jω/c·√(1 −
 * jR/(ωρ)) (Rayleigh's model of a fibrous medium; Beranek, Acoustics, 1954). Both sides of the driver
 * stand beside each other at its place. The open end has the mass of a free end and radiates.
 */
export function createLine(
  { segments, driverAtM, end }: Extract<Enclosure, { kind: 'line' }>,
  air: Air,
): RearSide {
  const [before, behind] = split(segments, driverAtM);
  const [load, opening, all] = [complex(), complex(), complex()];
  const [closed, onward] = [new Chain(), new Chain()];
  const last = segments[segments.length - 1];
  const mouthRadiusM = Math.sqrt(last.areaM2 / Math.PI);
  const [y, total] = [complex(), complex()];
  return {
    ...{ load, opening, all },
    openingAreaM2: end === 'open' ? last.areaM2 : null,
    at(omega) {
      // From the driver toward the closed end: admittance C/A.
      follow(closed, [...before].reverse(), omega, air);
      divide(closed.c, closed.a, total);
      follow(onward, behind, omega, air);
      if (end === 'closed') {
        divide(onward.c, onward.a, y);
        opening.re = 0;
        opening.im = 0;
      } else {
        // Radiation of a mouth without a wall at low frequencies: (ka)²/4 and a mass of 0.6133 a.
        const k = omega / air.speedOfSound;
        const unit = (air.density * air.speedOfSound) / last.areaM2;
        const z = {
          re: (unit * (k * mouthRadiusM) ** 2) / 4,
          im: unit * k * 0.6133 * mouthRadiusM,
        };
        // p = A·p′ + B·U′, U = C·p′ + D·U′ with p′ = z·U′.
        const p = {
          re: onward.a.re * z.re - onward.a.im * z.im + onward.b.re,
          im: onward.a.re * z.im + onward.a.im * z.re + onward.b.im,
        };
        const u = {
          re: onward.c.re * z.re - onward.c.im * z.im + onward.d.re,
          im: onward.c.re * z.im + onward.c.im * z.re + onward.d.im,
        };
        divide(u, p, y);
        divide({ re: 1, im: 0 }, p, opening);
      }
      total.re += y.re;
      total.im += y.im;
      divide({ re: 1, im: 0 }, total, load);
      // Flow at the mouth for the pressure at the driver, which its outward flow makes −Z.
      const { re, im } = opening;
      opening.re = -(load.re * re - load.im * im);
      opening.im = -(load.re * im + load.im * re);
      all.re = opening.re;
      all.im = opening.im;
    },
  };
}

/** The segments before and behind a place. */
function split(
  segments: readonly PipeSegment[],
  atM: number,
): [before: readonly PipeSegment[], behind: readonly PipeSegment[]] {
  const before: PipeSegment[] = [];
  const behind: PipeSegment[] = [];
  let begin = 0;
  for (const segment of segments) {
    const inside = Math.min(segment.lengthM, Math.max(0, atM - begin));
    if (inside > 0) before.push({ ...segment, lengthM: inside });
    if (inside < segment.lengthM) behind.push({ ...segment, lengthM: segment.lengthM - inside });
    begin += segment.lengthM;
  }
  return [before, behind];
}

/** Ratio of specific heats, and Prandtl's number, of air. */
const heats = 1.4;
const prandtl = 0.71;
/** Thermal resistivity of fibre over its flow resistivity, pores being twice as wide for heat. */
const thermalShare = 1 / 4;
const hard = { re: 1, im: 0 };

/**
 * Root of the air's compressibility among fibres over that of free air: from √1.4 where it has time to
 * give its heat away to 1 where it has not, κ = γ − (γ − 1)/(1 + σ′/(jωρPr)) (Champoux and Allard 1991, for
 * fibres with Λ′ = 2Λ, so that σ′ = σ/4).
 */
function softnessRoot(omega: number, density: number, flowResistivity: number): Complex {
  const x = (thermalShare * flowResistivity) / (omega * density * prandtl);
  // 1/(1 − jx)
  const size = 1 + x * x;
  const kappa = { re: heats - (heats - 1) / size, im: (-(heats - 1) * x) / size };
  const length = Math.hypot(kappa.re, kappa.im);
  return { re: Math.sqrt((length + kappa.re) / 2), im: -Math.sqrt((length - kappa.re) / 2) };
}

/** Multiplies the two-ports of segments from the driver outward. */
function follow(
  chain: Chain,
  segments: readonly PipeSegment[],
  omega: number,
  { density, speedOfSound }: Air,
): void {
  chain.reset();
  const { a, b, c, d } = chain;
  for (const { lengthM, areaM2, flowResistivity, takesHeat } of segments) {
    // √(1 − jR/(ωρ)): of the root with positive real part.
    const loss = flowResistivity / (omega * density);
    const size = Math.sqrt(1 + loss * loss);
    const root = { re: Math.sqrt((size + 1) / 2), im: -Math.sqrt((size - 1) / 2) };
    const soft = takesHeat ? softnessRoot(omega, density, flowResistivity) : hard;
    // γ = jω/c·√(1 − jR/(ωρ))·√κ, Z = ρc/A·√(1 − jR/(ωρ))/√κ.
    const product = {
      re: root.re * soft.re - root.im * soft.im,
      im: root.re * soft.im + root.im * soft.re,
    };
    const gamma = {
      re: (-omega / speedOfSound) * product.im,
      im: (omega / speedOfSound) * product.re,
    };
    const unit = (density * speedOfSound) / areaM2;
    const z = complex();
    divide({ re: unit * root.re, im: unit * root.im }, soft, z);
    const [x, y] = [gamma.re * lengthM, gamma.im * lengthM];
    const cosh = { re: Math.cosh(x) * Math.cos(y), im: Math.sinh(x) * Math.sin(y) };
    const sinh = { re: Math.sinh(x) * Math.cos(y), im: Math.cosh(x) * Math.sin(y) };
    const zs = { re: z.re * sinh.re - z.im * sinh.im, im: z.re * sinh.im + z.im * sinh.re };
    const ys = complex();
    divide(sinh, z, ys);
    for (const [p, q] of [
      [a, b],
      [c, d],
    ]) {
      const [pr, pi, qr, qi] = [p.re, p.im, q.re, q.im];
      p.re = pr * cosh.re - pi * cosh.im + qr * ys.re - qi * ys.im;
      p.im = pr * cosh.im + pi * cosh.re + qr * ys.im + qi * ys.re;
      q.re = pr * zs.re - pi * zs.im + qr * cosh.re - qi * cosh.im;
      q.im = pr * zs.im + pi * zs.re + qr * cosh.im + qi * cosh.re;
    }
  }
}

export function divide(a: Complex, b: Complex, out: Complex): void {
  const size = b.re * b.re + b.im * b.im;
  const re = (a.re * b.re + a.im * b.im) / size;
  out.im = (a.im * b.re - a.re * b.im) / size;
  out.re = re;
}
