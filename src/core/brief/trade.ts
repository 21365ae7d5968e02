import type { Yielding } from '@/core/document/briefSchema';
import type { Design } from '@/core/document/schema';
import {
  efficiencyForLevel,
  levelForEfficiencyDb,
  sensitivityVolts,
} from '@/core/driver/efficiency';
import { motorOf } from '@/core/driver/motor';
import { sheetFigures } from '@/core/driver/sheetFigures';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { seatOf, wantedSineDb } from './answers';
import {
  closedBoxEfficiency,
  closedBoxLevelDb,
  closedBoxLitres,
  closedBoxPeakDb,
  closedBoxF3Hz,
  realBoxShare,
  usualClosedBox,
} from './arithmetic';
import { closedBoxOf, netLitresOf, netShare, panelMm } from './box';
import { decibels, hertz, litres, type Consequence } from './consequence';
import { neededSensitivityDb, stepLoss } from './sensitivity';
import { wooferOf, woofersOf } from './woofers';

/**
 * Resistance of a voice coil over the rated impedance, where no data sheet tells it (common
 * practice).
 */
const coilShare = 0.72;
/** The alignment that is meant where nothing else is said: no peak, the corner at the resonance. */
export const plainQ = Math.SQRT1_2;

/**
 * What is asked of the bass: level for 1 W in half space, with what the step of the baffle takes;
 * reach and net volume; null where not answered.
 */
export function bassAskedFor(design: Design) {
  const { brief } = design;
  const wanted = wantedSineDb(brief);
  const seat = seatOf(design, 'farthest');
  let levelDb: number | null = null;
  let arithmetic = '';
  if (wanted !== null && seat) {
    const woofers = woofersOf(design);
    const stated = woofers.at(0)?.sheet.reOhm ?? null;
    const reOhm = stated ?? coilShare * (brief.ratedOhms ?? 8);
    const needed = neededSensitivityDb(wanted, seat);
    const step = stepLoss(brief).db;
    const watt = 10 * Math.log10(sensitivityVolts ** 2 / reOhm);
    levelDb = needed + step - watt;
    arithmetic = `Asked for: ${decibels(needed)} for 2.83 V + ${formatFixed(step, 1)} (step of the baffle) − ${formatFixed(watt, 1)} (8/Re, Re = ${formatNumber(reOhm, 3)} Ω${stated === null ? ', assumed' : ''}) = ${decibels(levelDb)} for 1 W at 1 m in half space.`;
  }
  return { levelDb, arithmetic, f3Hz: brief.reach3Hz, netLitres: netLitresOf(brief) };
}

/** Sensitivity, size and reach can't all be had: what closed boxes make of them. */
export function tradeConsequences(design: Design): Consequence[] {
  return [...wooferEfficiency(design), ...driverInBox(design), boxTrade(design)];
}

function wooferEfficiency(design: Design): Consequence[] {
  const woofer = wooferOf(design);
  const efficiency = woofer && sheetFigures(woofer.sheet).efficiency;
  if (!woofer || efficiency === null) return [];
  const { fsHz, qes } = woofer.sheet;
  const { vasLitres } = motorOf(woofer.sheet);
  return [
    {
      id: 'efficiency',
      tone: 'plain',
      text: `The ${woofer.name.toLowerCase()} turns ${formatNumber(100 * efficiency, 2)} % of the power into sound: ${decibels(levelForEfficiencyDb(efficiency))} for 1 W at 1 m in half space, as in a wall.`,
      arithmetic: [
        `η₀ = 4π²/c³ · fs³·Vas/Qes = 4π²/343.2³ · ${formatNumber(fsHz!)}³ · ${formatNumber(vasLitres! / 1000)} m³/${formatNumber(qes!)} = ${formatNumber(efficiency, 3)}.`,
        `112.2 + 10·log η₀ = ${decibels(levelForEfficiencyDb(efficiency))}.`,
      ],
    },
  ];
}

/** Octave below the reach in which the fall of a box is told. */
const octave = 2;

/** The woofer itself in the volume that there is, with the amplifier and the coils before it. */
function driverInBox(design: Design): Consequence[] {
  const woofers = woofersOf(design);
  const [woofer] = woofers;
  const net = netLitresOf(design.brief);
  if (!woofer || net === null) return [];
  const box = closedBoxOf(design, woofer, net / woofers.length);
  if (!box) return [];
  const { qtc, fcHz, f3Hz, qts, seriesOhms } = box;
  const name = woofer.name.toLowerCase();
  const asked = design.brief.reach3Hz;
  const plain = qts < plainQ ? motorOf(woofer.sheet).vasLitres! / ((plainQ / qts) ** 2 - 1) : null;
  const peak = closedBoxPeakDb(qtc);
  const best = plain === null ? null : closedBoxOf(design, woofer, plain);
  return [
    {
      id: 'driver-in-box',
      tone: asked !== null && f3Hz > asked * 1.02 ? 'conflict' : 'plain',
      text: [
        `In ${litres(box.litres)}${woofers.length > 1 ? ', its share of the inside' : ''}, closed and without fill, the ${name} has a Q of ${formatNumber(qtc, 2)} and is 3 dB down at ${hertz(f3Hz)}${asked === null ? '' : ` (asked for: ${hertz(asked)})`}${peak > 0.5 ? `, with a rise of ${decibels(peak)} above it` : ''}.`,
        best
          ? `Without a rise, at a Q of 0.71, it takes ${litres(plain!)} and reaches ${hertz(best.f3Hz)}.`
          : 'No closed box brings it down to a Q of 0.71.',
      ].join(' '),
      arithmetic: [
        `Qes·(Re + ${formatNumber(seriesOhms, 2)})/Re with amplifier, cable and coils before it: Qts = ${formatNumber(qts, 3)}.`,
        `Qtc = Qts·√(1 + Vas/V) = ${formatNumber(qtc, 3)}, fc = ${hertz(fcHz)}; −3 dB at ${formatNumber(f3Hz / fcHz, 3)}·fc (Small 1972).`,
        `An octave under that it is ${decibels(-closedBoxLevelDb(f3Hz / octave, fcHz, qtc))} down. Fill makes the box look up to a fifth larger (common practice); how the level is connected to a baffle is said under Loudness.`,
      ],
    },
  ];
}

/** What is written with one decimal and is not 0. */
const leastDb = 0.05;

function boxTrade(design: Design): Consequence {
  const { levelDb, arithmetic: asking, f3Hz, netLitres: net } = bassAskedFor(design);
  if (levelDb === null || f3Hz === null || net === null)
    return {
      id: 'trade',
      tone: 'waits',
      text: 'Whether they can be had together is told once loudness, F3 and outside size are known.',
      arithmetic: [],
    };
  const asked = efficiencyForLevel(levelDb);
  const { leastAlpha, mostAlpha, qmc } = usualClosedBox;
  const bound = closedBoxEfficiency(f3Hz, net);
  const plain = closedBoxEfficiency(f3Hz, net, plainQ);
  const share = (alpha: number) => realBoxShare(plainQ, alpha, qmc);
  const [least, most] = [plain * share(leastAlpha), plain * share(mostAlpha)];
  const spare = (possible: number) => 10 * Math.log10(possible / asked);
  const arithmetic = [
    asking,
    `η = ${formatNumber(asked, 3)}. Inside, with ${panelMm} mm panels and ${Math.round(100 * (1 - netShare))} % for drivers and braces: ${litres(net)}.`,
    `Bound of every closed box (Q = 1.1, no losses, Vas without end; a rise of ${decibels(closedBoxPeakDb(1.1))}): η = 2.05·10⁻⁶ · ${formatNumber(f3Hz, 3)}³ · ${formatNumber(net / 1000, 3)} m³ = ${formatNumber(bound, 3)} (Small).`,
    `Real boxes without a rise (Q = 0.71, Vas/V ${leastAlpha} to ${mostAlpha}, Qmc ${qmc}): ${formatNumber(least, 3)} to ${formatNumber(most, 3)}, ${decibels(-10 * Math.log10(most / bound))} to ${decibels(-10 * Math.log10(least / bound))} under the bound.`,
  ];
  // A difference that is written as 0.0 dB contradicts nothing.
  if (spare(least) >= -leastDb)
    return {
      id: 'trade',
      tone: 'fine',
      text: `Loudness, F3 and size go together: real closed boxes of ${litres(net)}, without a rise, have ${spare(least) < leastDb ? 'just what is' : `${decibels(spare(least))} more than`} asked for at ${hertz(f3Hz)}, or better.`,
      arithmetic,
    };
  if (spare(most) >= -leastDb)
    return {
      id: 'trade',
      tone: 'plain',
      text: `Loudness, F3 and size may just go together: of ${litres(net)} closed boxes make ${decibels(-spare(least))} less to ${decibels(Math.max(0, spare(most)))} more than is asked for at ${hertz(f3Hz)}, by the woofer that is in them.`,
      arithmetic,
    };
  const range = (one: number, other: number, unit: string) => {
    const [low, high] = [Math.min(one, other), Math.max(one, other)].map((x) => formatNumber(x, 3));
    return `${low} to ${high} ${unit}`;
  };
  const at = (alpha: number) => asked / share(alpha);
  const ways = {
    size: `the box grows to ${range(closedBoxLitres(at(mostAlpha), f3Hz, plainQ), closedBoxLitres(at(leastAlpha), f3Hz, plainQ), 'litres')} inside`,
    reach: `F3 rises to ${range(closedBoxF3Hz(at(mostAlpha), net, plainQ), closedBoxF3Hz(at(leastAlpha), net, plainQ), 'Hz')}`,
    loudness: `the loudness falls by ${formatFixed(-spare(most), 1)} to ${decibels(-spare(least))}`,
  };
  const isWay = (yielding: Yielding): yielding is keyof typeof ways => yielding in ways;
  const first = design.brief.givesWay.find(isWay);
  const list = Object.values(ways);
  const isImpossible = spare(bound) < -leastDb;
  return {
    id: 'trade',
    tone: 'conflict',
    text: `Loudness, F3 and size contradict each other${isImpossible ? ': no closed box can have all three' : ''}. Without a rise either ${list[0]}, or ${list[1]}, or ${list[2]}.${first ? ` Of these ${first === 'reach' ? 'F3' : first} gives way first in your order: ${ways[first]}.` : ''} A vented box gains about 3 dB.`,
    arithmetic,
  };
}
