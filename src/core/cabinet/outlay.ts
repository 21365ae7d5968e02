import type { Fill } from '@/core/box/fill';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { materialTable } from './materials';
import { netVolumeOf } from './netVolume';
import { boardsOf } from './panels';

/** What a box costs besides its drivers, in the currency of the brief. */
export interface BoxOutlay {
  readonly boards: number;
  readonly fill: number;
  /** Tubes with their flares, or cones without a motor. */
  readonly opening: number;
  readonly whole: number;
}

/** Thickness that prices of boards are told at, mm. */
const pricedMm = 18;
/** Share of a sheet that becomes boards (common practice, no source). */
const usedShare = 0.75;
/** Of loose fibre, for a litre that is filled with it (common practice, no source). */
const perLitre = 0.25;
/** Share of the room that is filled. */
const filledShare: Readonly<Record<Fill, number>> = { none: 0, walls: 0.25, half: 0.5, full: 1 };
/** A tube costs so much, and more with its bore; so does a passive cone (common practice, no source). */
const tube = { each: 3, perMm: 0.07, perBend: 4, perFlare: 4 };
const passiveCone = { each: 15, perCm2: 0.12 };
/** Above this flow resistivity a stretch of a line is filled, Pa·s/m²; it takes this for a litre. */
const densestLining = 10_000;

/** Price of the walls' board, for a square metre: as it is stated, or the usual one of its thickness. */
export const boardPriceOf = ({
  boardPrice,
  material,
  wallMm,
}: Pick<Box['shell'], 'boardPrice' | 'material' | 'wallMm'>): number =>
  boardPrice ?? (materialTable[material].price * wallMm) / pricedMm;

function fillCost(box: Box, design: Pick<Design, 'boxes' | 'drivers'>): number {
  if (box.kind === 'open-baffle') return 0;
  if (box.kind !== 'line')
    return perLitre * filledShare[box.fill] * netVolumeOf(box, design).netLitres;
  // As much fibre as gives a stretch its resistance, which grows with its density.
  return box.pipe.segments.reduce(
    (sum, { lengthMm, areaCm2, flowResistivity }) =>
      sum +
      perLitre * Math.min(1, flowResistivity / densestLining) * ((lengthMm * areaCm2 * 100) / 1e6),
    0,
  );
}

function openingCost({ kind, port, passive }: Box): number {
  if (kind === 'passive-radiator')
    return passive.count * (passiveCone.each + passiveCone.perCm2 * passive.sdCm2);
  // A slot is a board more, which the thickness of its wall hardly tells.
  if (kind !== 'vented' || port.shape === 'slot') return 0;
  const flares = [port.innerEnd, port.outerEnd].filter((end) => end === 'flared').length;
  return (
    port.count *
    (tube.each + tube.perMm * port.diameterMm + tube.perBend * port.bends + tube.perFlare * flares)
  );
}

/**
 * What boards, fill and opening of a box cost, from areas and volumes: an estimate before anything is
 * cut, with a quarter of each sheet lost.
 */
export function boxOutlay(box: Box, design: Pick<Design, 'boxes' | 'drivers'>): BoxOutlay {
  const { shell } = box;
  const perMm = boardPriceOf(shell) / shell.wallMm;
  const boards = boardsOf(box).reduce(
    (sum, { count, lengthMm, widthMm, thicknessMm }) =>
      sum + (count * lengthMm * widthMm * thicknessMm * perMm) / 1e6 / usedShare,
    0,
  );
  const [fill, opening] = [fillCost(box, design), openingCost(box)];
  return { boards, fill, opening, whole: boards + fill + opening };
}
