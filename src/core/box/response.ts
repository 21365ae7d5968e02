import { createBox, createLine, createOpenBaffle, type RearSide } from './acoustics';
import { mechanicsOf, type BoxSystem } from './enclosure';
import type { Source } from './source';

/** What a driver in a box does, over frequency. */
export interface BoxCurves {
  /** Level at 1 m in half space of all that moves air, leaks included, dB; and its phase. */
  readonly levelDb: Float64Array;
  readonly phaseDeg: Float64Array;
  /** The cone alone, and the port, passive radiator or mouth alone; −∞ without one. */
  readonly coneDb: Float64Array;
  readonly openingDb: Float64Array;
  /** Peak for a sine of the source's volts, to one side, mm. */
  readonly excursionMm: Float64Array;
  /** Peak speed of the air in the opening, or of the passive cone, m/s; 0 without one. */
  readonly openingSpeed: Float64Array;
  /** Peak pressure in the box, Pa. */
  readonly boxPressure: Float64Array;
  /** Impedance at the terminals, without the source's. */
  readonly ohms: Float64Array;
  readonly zDeg: Float64Array;
  /** True power into the driver, W. */
  readonly watts: Float64Array;
}

const referencePascals = 20e-6;
const degrees = 180 / Math.PI;

/** What is behind the driver of a system. */
export function rearSideOf({ driver, enclosure, air }: BoxSystem): RearSide {
  switch (enclosure.kind) {
    case 'open-baffle':
      return createOpenBaffle(enclosure.pathM, air);
    case 'line':
      return createLine(enclosure, air);
    default:
      return createBox(
        enclosure,
        air,
        driver.vasM3 / enclosure.volumeM3,
        2 * Math.PI * driver.fsHz,
      );
  }
}

/**
 * The whole electro-mechano-acoustical circuit at each frequency (Thiele 1971, Small 1972–74): the
 * source, the coil with its semi-inductance, the moving parts, and what is behind them.
 *
 * @throws RangeError when the source is of other frequencies
 */
export function boxCurves(system: BoxSystem, source: Source, frequencyHz: Float64Array): BoxCurves {
  const { driver, air } = system;
  const { massKg, complianceMN, resistanceNsM, forceFactorTm } = mechanicsOf(driver, air);
  const { sdM2, reOhm, leHenry, second } = driver;
  if (source.voltsRe.length !== frequencyHz.length)
    throw new RangeError(
      `The source has ${source.voltsRe.length} values for ${frequencyHz.length} frequencies.`,
    );
  const rear = rearSideOf(system);
  const of = () => new Float64Array(frequencyHz.length);
  const curves = {
    ...{ levelDb: of(), phaseDeg: of(), coneDb: of(), openingDb: of(), excursionMm: of() },
    ...{ openingSpeed: of(), boxPressure: of(), ohms: of(), zDeg: of() },
    watts: of(),
  };
  for (let i = 0; i < frequencyHz.length; i++) {
    const omega = 2 * Math.PI * frequencyHz[i];
    rear.at(omega);
    let eRe = reOhm;
    let eIm = omega * leHenry;
    if (second) {
      const x = omega * second.henry;
      const size = second.ohm * second.ohm + x * x;
      eRe += (second.ohm * x * x) / size;
      eIm += (second.ohm * second.ohm * x) / size;
    }
    const mRe = resistanceNsM + sdM2 * sdM2 * rear.load.re;
    const mIm = omega * massKg - 1 / (omega * complianceMN) + sdM2 * sdM2 * rear.load.im;
    // Motional impedance Bl²/Zm.
    const mSize = mRe * mRe + mIm * mIm;
    const zmRe = (forceFactorTm ** 2 * mRe) / mSize;
    const zmIm = (-(forceFactorTm ** 2) * mIm) / mSize;
    const zRe = eRe + zmRe;
    const zIm = eIm + zmIm;
    curves.ohms[i] = Math.sqrt(zRe * zRe + zIm * zIm);
    curves.zDeg[i] = Math.atan2(zIm, zRe) * degrees;
    // Current from the source, and the velocity that it makes.
    const tRe = zRe + source.ohmRe[i];
    const tIm = zIm + source.ohmIm[i];
    const tSize = tRe * tRe + tIm * tIm;
    const iRe = (source.voltsRe[i] * tRe + source.voltsIm[i] * tIm) / tSize;
    const iIm = (source.voltsIm[i] * tRe - source.voltsRe[i] * tIm) / tSize;
    curves.watts[i] = (iRe * iRe + iIm * iIm) * zRe;
    const vRe = (forceFactorTm * (iRe * mRe + iIm * mIm)) / mSize;
    const vIm = (forceFactorTm * (iIm * mRe - iRe * mIm)) / mSize;
    const speed = Math.sqrt(vRe * vRe + vIm * vIm);
    curves.excursionMm[i] = (1000 * Math.SQRT2 * speed) / omega;
    // Pressure jωρU/(2πr) at 1 m.
    const perFlow = (omega * air.density) / (2 * Math.PI) / referencePascals;
    const [uRe, uIm] = [sdM2 * vRe, sdM2 * vIm];
    const { all, opening, load } = rear;
    const sumRe = uRe * (1 + all.re) - uIm * all.im;
    const sumIm = uRe * all.im + uIm * (1 + all.re);
    const out = Math.sqrt(sumRe * sumRe + sumIm * sumIm);
    const flow = sdM2 * speed;
    const open = flow * Math.sqrt(opening.re * opening.re + opening.im * opening.im);
    curves.levelDb[i] = 20 * Math.log10(perFlow * out);
    curves.phaseDeg[i] = Math.atan2(sumRe, -sumIm) * degrees;
    curves.coneDb[i] = 20 * Math.log10(perFlow * flow);
    curves.openingDb[i] = 20 * Math.log10(perFlow * open);
    curves.openingSpeed[i] =
      rear.openingAreaM2 === null ? 0 : (Math.SQRT2 * open) / rear.openingAreaM2;
    curves.boxPressure[i] = Math.SQRT2 * flow * Math.sqrt(load.re * load.re + load.im * load.im);
  }
  return curves;
}
