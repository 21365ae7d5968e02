import { lowestEquivalentOhms, lowestOhms } from '@/core/design/figures';
import type { Prediction } from '@/core/design/prediction';
import type { Design } from '@/core/design/schema';
import { formatNumber } from '@/core/units/quantity';
import { leastOhms, sourceSwingDb } from './arithmetic';
import { decibels, hertz, type Consequence } from './consequence';

/** What the amplifier and the impedance do to each other. */
export function loadConsequences(design: Design, prediction: Prediction | null): Consequence[] {
  return [...ratedImpedance(design), swing(design, prediction), ...present(design, prediction)];
}

const ohms = (value: number) => `${formatNumber(value, 3)} Ω`;

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
        ? `Rated ${ohms(ratedOhms)}, the impedance may fall to ${ohms(least)}.${lowestLoadOhms === null ? '' : ` The amplifier bears ${ohms(lowestLoadOhms)}.`}`
        : `Rated ${ohms(ratedOhms)}, the impedance may fall to ${ohms(least)}, but the amplifier bears no less than ${ohms(lowestLoadOhms)}: that floor holds.`,
      arithmetic: [`0.8 × ${ohms(ratedOhms)} = ${ohms(least)} (IEC 60268-5).`],
    },
  ];
}

/** Impedance of a speaker that nobody measured: it falls to 80 % of the rated value and peaks near five times it. */
const usualPeak = 5;

function swing(design: Design, prediction: Prediction | null): Consequence {
  const outputOhms = design.amplifier.outputOhms + design.amplifier.cableOhms;
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
  const isMuch = db > 1;
  return {
    id: 'swing',
    tone: isMuch ? 'conflict' : 'plain',
    text: isMuch
      ? `The amplifier’s ${ohms(outputOhms)} bends the response by ${decibels(db)}: an impedance correction pays.`
      : `The amplifier’s ${ohms(outputOhms)} bends the response by ${decibels(db, 2)}: not heard.`,
    arithmetic: [
      `The impedance ${from} runs from ${ohms(low)} to ${ohms(high)}.`,
      `20·log[ ${formatNumber(high, 3)}/(${formatNumber(high, 3)} + ${formatNumber(outputOhms, 3)}) ÷ ${formatNumber(low, 3)}/(${formatNumber(low, 3)} + ${formatNumber(outputOhms, 3)}) ] = ${decibels(db, 2)}.`,
    ],
  };
}

function present(design: Design, prediction: Prediction | null): Consequence[] {
  const lowest = prediction && lowestOhms(prediction);
  const { lowestLoadOhms } = design.brief;
  if (!lowest || !prediction.impedance || lowestLoadOhms === null) return [];
  const { impedance, frequencyHz } = prediction;
  const worst = lowestEquivalentOhms(prediction)!;
  const at = frequencyHz.indexOf(worst.atHz);
  const isFine = lowest.value >= lowestLoadOhms;
  return [
    {
      id: 'present-load',
      tone: isFine ? 'fine' : 'conflict',
      text: `As it stands the impedance falls to ${ohms(lowest.value)} at ${hertz(lowest.atHz)}; with its phase it heats the amplifier as ${ohms(worst.value)} would at ${hertz(worst.atHz)}.`,
      arithmetic: [
        `At ${hertz(worst.atHz)}: |Z| = ${ohms(impedance.ohms[at])}, phase ${formatNumber(impedance.phaseDeg[at], 2)}°.`,
        'Equivalent peak dissipation resistance of a class-B stage (Benjamin 1994).',
      ],
    },
  ];
}
