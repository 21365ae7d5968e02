import { endCorrectionM, mouthAreaM2, type PortEnd, type PortMouth } from './portEnd';

/** Air that a box is worked out in. */
export interface Air {
  /** kg/m³ */
  readonly density: number;
  /** m/s */
  readonly speedOfSound: number;
}

/** At 20 °C and 1013 hPa. */
export const usualAir: Air = { density: 1.2041, speedOfSound: 343.2 };

/** Small-signal parameters of a driver in free air. */
export interface BoxDriver {
  readonly fsHz: number;
  readonly qms: number;
  readonly qes: number;
  readonly vasM3: number;
  readonly sdM2: number;
  readonly reOhm: number;
  readonly leHenry: number;
  /** Second inductance with a resistor beside it, for a semi-inductance; null without. */
  readonly second: { readonly henry: number; readonly ohm: number } | null;
}

/** Ports, all alike. */
export type Port = PortMouth & {
  readonly count: number;
  readonly lengthM: number;
  /** Inside and outside. */
  readonly ends: readonly [PortEnd, PortEnd];
  /** Losses as a Q at the tuning; null without. */
  readonly qp: number | null;
};

/** A cone without a motor. */
export interface PassiveRadiator {
  readonly fsHz: number;
  readonly qms: number;
  readonly vasM3: number;
  readonly sdM2: number;
  readonly addedMassKg: number;
  readonly count: number;
}

/** A stretch of a lined pipe. */
export interface PipeSegment {
  readonly lengthM: number;
  readonly areaM2: number;
  /** Flow resistivity of what it is filled with, Pa·s/m²; 0 for nothing. */
  readonly flowResistivity: number;
  /** Whether its fibre holds the air at one temperature, the slower it moves the more. */
  readonly takesHeat?: boolean;
}

/** Losses of a box as Q at its tuning, leakage and absorption; null without. */
interface BoxLosses {
  readonly volumeM3: number;
  readonly ql: number | null;
  readonly qa: number | null;
}

/** What is behind a driver. */
export type Enclosure =
  | ({ readonly kind: 'sealed' } & BoxLosses)
  | ({ readonly kind: 'vented'; readonly port: Port } & BoxLosses)
  | ({ readonly kind: 'passive-radiator'; readonly passive: PassiveRadiator } & BoxLosses)
  /** A baffle alone: the rear comes round by a path. */
  | { readonly kind: 'open-baffle'; readonly pathM: number }
  | {
      readonly kind: 'line';
      /** From the end that the driver is nearer to; the first of it is closed. */
      readonly segments: readonly PipeSegment[];
      /** Of the driver from that end, m. */
      readonly driverAtM: number;
      readonly end: 'open' | 'closed';
    };

export interface BoxSystem {
  readonly driver: BoxDriver;
  readonly enclosure: Enclosure;
  readonly air: Air;
}

/** Mechanical figures that follow from those of a data sheet (Small 1972). */
export function mechanicsOf(
  { fsHz, qms, qes, vasM3, sdM2, reOhm }: BoxDriver,
  { density, speedOfSound }: Air,
) {
  const omega = 2 * Math.PI * fsHz;
  const complianceMN = vasM3 / (density * speedOfSound ** 2 * sdM2 ** 2);
  const massKg = 1 / (omega ** 2 * complianceMN);
  return {
    complianceMN,
    massKg,
    resistanceNsM: (omega * massKg) / qms,
    forceFactorTm: Math.sqrt((omega * massKg * reOhm) / qes),
  };
}

/** Area of all ports, m². */
export const portAreaM2 = (port: Port): number => port.count * mouthAreaM2(port);

/** Length with both end corrections, m. */
export const effectiveLengthM = (port: Port): number =>
  port.lengthM + endCorrectionM(port, port.ends[0]) + endCorrectionM(port, port.ends[1]);

/** Acoustic mass of all ports together, kg/m⁴. */
export const portMass = (port: Port, { density }: Air): number =>
  (density * effectiveLengthM(port)) / portAreaM2(port);

/** Helmholtz resonance of a vented box, Hz. */
export const tuningHz = (volumeM3: number, port: Port, { speedOfSound }: Air): number =>
  (speedOfSound / (2 * Math.PI)) *
  Math.sqrt(portAreaM2(port) / (volumeM3 * effectiveLengthM(port)));

/** Length of a port for a tuning, m; below 0 where its end corrections alone tune lower. */
export const portLengthM = (
  volumeM3: number,
  tunedToHz: number,
  port: Port,
  { speedOfSound }: Air,
): number =>
  portAreaM2(port) / volumeM3 / ((2 * Math.PI * tunedToHz) / speedOfSound) ** 2 -
  (effectiveLengthM(port) - port.lengthM);

/** First resonance of a port as a pipe that is open at both ends, Hz. */
export const pipeResonanceHz = (port: Port, { speedOfSound }: Air): number =>
  speedOfSound / (2 * effectiveLengthM(port));
