import type { Brief } from '@/core/document/briefSchema';
import { lowestEquivalentOhms, lowestOhms, sourceOhmsOf } from '@/core/prediction/figures';
import type { Prediction } from '@/core/prediction/prediction';
import type { Design } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
import { leastOhms, sourceSwingDb } from './arithmetic';
import { decibels, hertz, type Consequence } from './consequence';

/** What the amplifier and the impedance do to each other. */
export function loadConsequences(design: Design, prediction: Prediction | null): Consequence[] {
  return [...ratedImpedance(design), swing(design, prediction), ...present(design, prediction)];
}

const ohms = (value: number) => `${formatNumber(value, 3)} Ω`;

/**
 * Lowest impedance that rated impedance and amplifier allow together, Ω; null while neither is
 * said.
 */
export function impedanceFloor({ ratedOhms, lowestLoadOhms }: Brief): number | null {
  const floor = Math.max(ratedOhms === null ? 0 : leastOhms(ratedOhms), lowestLoadOhms ?? 0);
  return floor > 0 ? floor : null;
}

function ratedImpedance({ brief }: Design): Consequence[] {
  const { ratedOhms, lowestLoadOhms } = brief;
  if (ratedOhms === null) return [];
  const least = leastOhms(ratedOhms);
  const isFine = lowestLoadOhms === null || least >= lowestLoadOhms;
  return [
    {
      id: 'rated',
      tone: isFine ? (lowestLoadOhms === null ? 'plain' : 'fine') : 'conflict',
      text: isFine
        ? `Rated ${ohms(ratedOhms)}, the impedance may fall to ${ohms(least)} in the rated frequency range.${lowestLoadOhms === null ? '' : ` The amplifier bears ${ohms(lowestLoadOhms)}.`}`
        : `Rated ${ohms(ratedOhms)}, the impedance may fall to ${ohms(least)}, but the amplifier bears no less than ${ohms(lowestLoadOhms)}: that floor holds.`,
      arithmetic: [
        `0.8 × ${ohms(ratedOhms)} = ${ohms(least)} (IEC 60268-5); lower values outside the rated range, direct current included, are to be stated.`,
      ],
    },
  ];
}

/**
 * Broad deviations from which on a difference may be heard side by side, and is heard by itself, dB
 * (common practice).
 */
const audible = { perhaps: 0.2, surely: 1 };

/**
 * Impedance of a speaker that nobody measured: it falls to 80 % of the rated value and peaks near
 * five times it.
 */
const usualPeak = 5;

function swing(design: Design, prediction: Prediction | null): Consequence {
  const outputOhms = sourceOhmsOf(design.amplifier);
  const impedance = prediction?.impedance;
  const rated = design.brief.ratedOhms ?? 8;
  let [low, high, from] = [
    leastOhms(rated),
    usualPeak * rated,
    'of a usual speaker (common practice)',
  ];
  if (impedance) {
    low = Infinity;
    high = 0;
    for (const value of impedance.ohms) {
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
    from = 'of this network';
  }
  const db = sourceSwingDb(outputOhms, low, high);
  const said = `The ${ohms(outputOhms)} of amplifier and cable bend the response by ${decibels(db, 2)}`;
  return {
    id: 'swing',
    tone: db > audible.surely ? 'conflict' : 'plain',
    text:
      db > audible.surely
        ? `${said}: impedance compensation is worth its parts.`
        : db > audible.perhaps
          ? `${said}: small, perhaps audible side by side.`
          : `${said}: inaudible.`,
    arithmetic: [
      `The impedance ${from} runs from ${ohms(low)} to ${ohms(high)}.`,
      `20·log[ ${formatNumber(high, 3)}/(${formatNumber(high, 3)} + ${formatNumber(outputOhms, 3)}) ÷ ${formatNumber(low, 3)}/(${formatNumber(low, 3)} + ${formatNumber(outputOhms, 3)}) ] = ${decibels(db, 2)}.`,
    ],
  };
}

function present(design: Design, prediction: Prediction | null): Consequence[] {
  const lowest = prediction && lowestOhms(prediction);
  const floor = impedanceFloor(design.brief);
  if (!lowest || !prediction.impedance || floor === null) return [];
  const worst = lowestEquivalentOhms(prediction)!;
  const isFine = lowest.value >= floor;
  const { ohms: size, phaseDeg } = worst;
  const warming = size * Math.cos((phaseDeg * Math.PI) / 180);
  return [
    {
      id: 'present-load',
      tone: isFine ? 'fine' : 'conflict',
      text: `As it is the impedance falls to ${ohms(lowest.value)} at ${hertz(lowest.atHz)}${isFine ? '' : `, under the ${ohms(floor)} that are allowed`}. The hardest moment for the output devices of a class-B stage comes at ${hertz(worst.atHz)}, as with a resistor of ${ohms(worst.value)}; they are warmed there as by ${ohms(warming)}.`,
      arithmetic: [
        `At ${hertz(worst.atHz)}: |Z| = ${ohms(size)}, phase ${formatNumber(phaseDeg, 2)}°.`,
        'Greatest instantaneous stress: equivalent peak dissipation resistance of a class-B stage (Benjamin 1994). It says nothing of valves and single-ended stages.',
        `Mean heat, at its worst level: |Z|·cos φ = ${ohms(warming)}.`,
      ],
    },
  ];
}
