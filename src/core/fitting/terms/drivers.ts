import { excursionCrestFactor } from '@/core/document/programme';
import { ratingOf } from '@/core/driver/rating';
import type { LimitOf } from '@/core/fitting/goal';
import { resonanceNeedsDb, resonanceOf } from '@/core/driver/resonance';
import { addSlopes, type PlayedCurve } from '@/core/fitting/play/curve';
import { lowestOf, ratedVolts } from '@/core/prediction/strain';
import { nearestIndex } from '@/core/grid/nearest';
import { addMeanSlopes } from './level';
import { decibelsPerNeper, firmRate, singleTerm, type Term, type TermContext } from './term';

/** Σ w·|V|² over the frequencies. */
function meanSquare({ re, im }: PlayedCurve, weight: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < weight.length; i++) sum += weight[i] * (re[i] * re[i] + im[i] * im[i]);
  return sum;
}

/** Adds its slopes, times a factor. */
function addSquareSlopes(
  curve: PlayedCurve,
  weight: Float64Array,
  factor: number,
  out: Float64Array,
  at: number,
  variableCount: number,
): void {
  const { re, im } = curve;
  const { re: dRe, im: dIm } = curve.slopes();
  const points = weight.length;
  for (let v = 0; v < variableCount; v++) {
    let sum = 0;
    for (let i = 0; i < points; i++)
      sum += weight[i] * (re[i] * dRe[v * points + i] + im[i] * dIm[v * points + i]);
    out[at + v] += 2 * factor * sum;
  }
}

/** Shares of the programme's power for 1 V at the source. */
const sharesOf = ({ inputs, playback: { design } }: TermContext) =>
  inputs.shares.map((share) => share / design.amplifier.volts ** 2);

/** Power of each driver that has a rating, by the mean square of its voltage. */
export function driverPowerTerm(limit: LimitOf<'driver-power'>, context: TermContext): Term {
  const { playback } = context;
  const { variables, drivers } = playback;
  const shares = sharesOf(context);
  const rated = drivers.flatMap((one) => {
    const sheet = limit.drivers.find(({ id }) => id === one.driver.id)?.sheet;
    const rating = sheet && ratingOf(sheet, lowestOf(one.impedance));
    return rating ? [{ volts: one.volts, rating }] : [];
  });
  const drive = limit.driveVolts ?? ratedVolts(rated.map(({ rating }) => rating));
  const excess = (k: number) =>
    (meanSquare(rated[k].volts, shares) * drive ** 2) / rated[k].rating.voltsSquared;
  return singleTerm({
    limit,
    rate: firmRate,
    count: rated.length,
    excess: (k) => 10 * Math.log10(excess(k) * limit.least),
    slopes(k, out, at) {
      const { volts } = rated[k];
      const scale = decibelsPerNeper / 2 / meanSquare(volts, shares);
      addSquareSlopes(volts, shares, scale, out, at, variables.length);
    },
    figure: () => (rated.length === 0 ? null : 1 / Math.max(...rated.map((_, k) => excess(k)))),
  });
}

/** Excursion of each driver whose Xmax and motion are known. */
export function excursionTerm(limit: LimitOf<'excursion'>, context: TermContext): Term {
  const { playback, middle, inputs } = context;
  const { design, variables, drivers } = playback;
  const shares = sharesOf(context);
  const isAtLevel = limit.voltsAtZeroDb !== null;
  const resonances = drivers.map(({ driver, impedance }) => resonanceOf(driver.sheet, impedance));
  const lowestHz = Math.min(...resonances.flatMap((one) => one?.hz ?? []));
  const moving = drivers.flatMap((end, d) => {
    const { driver, volts } = end;
    const resonance = resonances[d];
    // At a drive, not a loudness, the lowest driver is the box's matter.
    if (!isAtLevel && (!resonance || resonanceNeedsDb(resonance.hz, lowestHz) === null)) return [];
    const sheet = limit.drivers.find(({ id }) => id === driver.id)?.sheet;
    const motion = inputs.motionOf(end, design);
    if (!motion || sheet?.xmaxMm == null) return [];
    // What is not known below the data does not count there.
    const weight = shares.map((share, i) => {
      const metres = motion.metresPerVolt[i];
      return Number.isNaN(metres) ? 0 : share * metres ** 2;
    });
    return [{ volts, weight, xmaxM: sheet.xmaxMm / 1000 }];
  });
  const ratings = drivers.flatMap(({ driver, impedance }) => {
    const sheet = limit.drivers.find(({ id }) => id === driver.id)?.sheet;
    return (sheet && ratingOf(sheet, lowestOf(impedance))) ?? [];
  });
  const fixedVolts = limit.driveVolts ?? ratedVolts(ratings);
  const driveVolts = () =>
    limit.voltsAtZeroDb !== null ? limit.voltsAtZeroDb * 10 ** (-middle.db() / 20) : fixedVolts;
  const ratio = (k: number) =>
    (excursionCrestFactor *
      driveVolts() *
      Math.sqrt(meanSquare(moving[k].volts, moving[k].weight))) /
    moving[k].xmaxM;
  return singleTerm({
    limit,
    rate: firmRate,
    count: moving.length,
    excess: (k) => 20 * Math.log10(ratio(k) * limit.least),
    slopes(k, out, at) {
      const { volts, weight } = moving[k];
      const scale = decibelsPerNeper / 2 / meanSquare(volts, weight);
      addSquareSlopes(volts, weight, scale, out, at, variables.length);
      if (isAtLevel) addMeanSlopes(middle, -1, out, at);
    },
    figure: () => (moving.length === 0 ? null : 1 / Math.max(...moving.map((_, k) => ratio(k)))),
  });
}

/** Attenuation at each resonance that must be kept from the amplifier. */
export function resonanceTerm(limit: LimitOf<'resonance'>, { playback }: TermContext): Term {
  const { frequencyHz, variables, drivers } = playback;
  const points = frequencyHz.length;
  const resonances = drivers.flatMap(({ driver, impedance, volts }) => {
    const resonance = resonanceOf(driver.sheet, impedance);
    return resonance ? [{ volts, hz: resonance.hz }] : [];
  });
  const lowestHz = Math.min(...resonances.map(({ hz }) => hz));
  const kept = resonances.flatMap(({ volts, hz }) => {
    const needsDb = resonanceNeedsDb(hz, lowestHz);
    return needsDb === null ? [] : [{ volts, at: nearestIndex(frequencyHz, hz), needsDb }];
  });
  /** Place above the resonance where the driver is driven hardest. */
  const loudest = ({ volts: { re, im }, at }: (typeof kept)[number]) => {
    let best = at;
    let most = 0;
    for (let i = at; i < points; i++) {
      const square = re[i] * re[i] + im[i] * im[i];
      if (square > most) [most, best] = [square, i];
    }
    return best;
  };
  const square = ({ re, im }: PlayedCurve, i: number) => re[i] * re[i] + im[i] * im[i];
  const reserveDb = (one: (typeof kept)[number]) =>
    10 * Math.log10(square(one.volts, loudest(one)) / square(one.volts, one.at)) - one.needsDb;
  return singleTerm({
    limit,
    rate: firmRate,
    count: kept.length,
    excess: (k) => limit.leastDb - reserveDb(kept[k]),
    slopes(k, out, at) {
      const { volts, at: there } = kept[k];
      addSlopes(volts, there, decibelsPerNeper, 0, out, at, variables.length);
      addSlopes(volts, loudest(kept[k]), -decibelsPerNeper, 0, out, at, variables.length);
    },
    figure: () => (kept.length === 0 ? null : Math.min(...kept.map(reserveDb))),
  });
}
