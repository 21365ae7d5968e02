import type { Yielding } from '@/core/design/briefSchema';
import type { Design } from '@/core/design/schema';
import { formatNumber } from '@/core/units/quantity';
import { seatOf, wantedPeakDb } from './answers';
import {
  closedBoxEfficiency,
  closedBoxLitres,
  closedBoxReachHz,
  efficiencyForLevel,
  levelForEfficiencyDb,
  referenceEfficiency,
  seatGainsDb,
  sensitivityVolts,
} from './arithmetic';
import { decibels, hertz, litres, wooferOf, type Consequence } from './consequence';

/** Thickness of the panels assumed while there is no box, mm, and share of the inside left by drivers and braces. */
const panelMm = 19;
const netShare = 0.85;

/** Net volume that an outside size leaves, litres. */
export function netLitres(widthMm: number, heightMm: number, depthMm: number): number {
  const inside = [widthMm, heightMm, depthMm].map((mm) => Math.max(0, mm - 2 * panelMm));
  return (netShare * inside[0] * inside[1] * inside[2]) / 1e6;
}

/** What is asked of the bass: level for 1 W in half space, reach and net volume; null where not answered. */
export function bassAskedFor(design: Design) {
  const { brief } = design;
  const wanted = wantedPeakDb(brief);
  const seat = seatOf(brief, 'farthest');
  const { widthMm, heightMm, depthMm, reach3Hz } = brief;
  let levelDb: number | null = null;
  if (wanted !== null && seat) {
    const { drive, distance, count, room } = seatGainsDb(seat);
    const sensitivity = wanted - drive - distance - count - room;
    levelDb = sensitivity - 10 * Math.log10(sensitivityVolts ** 2 / (brief.ratedOhms ?? 8));
  }
  return {
    levelDb,
    reachHz: reach3Hz,
    netLitres:
      widthMm === null || heightMm === null || depthMm === null
        ? null
        : netLitres(widthMm, heightMm, depthMm),
  };
}

/** Sensitivity, size and reach can't all be had: what a closed box at its best makes of them. */
export function tradeConsequences(design: Design): Consequence[] {
  return [...wooferEfficiency(design), boxTrade(design)];
}

function wooferEfficiency(design: Design): Consequence[] {
  const woofer = wooferOf(design);
  const { fsHz = null, vasLitres = null, qes = null } = woofer?.sheet ?? {};
  if (!woofer || fsHz === null || vasLitres === null || qes === null) return [];
  const efficiency = referenceEfficiency(fsHz, vasLitres, qes);
  return [
    {
      id: 'efficiency',
      tone: 'plain',
      text: `The ${woofer.name.toLowerCase()} turns ${formatNumber(100 * efficiency, 2)} % of the power into sound: ${decibels(levelForEfficiencyDb(efficiency))} for 1 W at 1 m against a wall-sized baffle.`,
      arithmetic: [
        `η₀ = 4π²/c³ · fs³·Vas/Qes = 4π²/343.2³ · ${formatNumber(fsHz)}³ · ${formatNumber(vasLitres / 1000)} m³/${formatNumber(qes)} = ${formatNumber(efficiency, 3)}.`,
        `112.1 + 10·log η₀ = ${decibels(levelForEfficiencyDb(efficiency))}.`,
      ],
    },
  ];
}

/** What is written with one decimal and is not 0. */
const leastDb = 0.05;

function boxTrade(design: Design): Consequence {
  const { levelDb, reachHz, netLitres: net } = bassAskedFor(design);
  if (levelDb === null || reachHz === null || net === null)
    return {
      id: 'trade',
      tone: 'waits',
      text: 'With loudness, reach and outside size I can say whether they can be had together.',
      arithmetic: [],
    };
  const asked = efficiencyForLevel(levelDb);
  const possible = closedBoxEfficiency(reachHz, net);
  const spare = 10 * Math.log10(possible / asked);
  const arithmetic = [
    `Asked for: ${decibels(levelDb)} for 1 W at 1 m in half space, η = ${formatNumber(asked, 3)}.`,
    `Inside, with ${panelMm} mm panels and ${Math.round(100 * (1 - netShare))} % for drivers and braces: ${litres(net)}.`,
    `Closed box at its best (Q = 1.1): η = 2.05·10⁻⁶ · ${formatNumber(reachHz, 3)}³ · ${formatNumber(net / 1000, 3)} m³ = ${formatNumber(possible, 3)} (Small).`,
  ];
  // A difference that is written as 0.0 dB contradicts nothing.
  if (spare >= -leastDb)
    return {
      id: 'trade',
      tone: 'fine',
      text: `Loudness, reach and size go together: a closed box of ${litres(net)} could give ${spare < leastDb ? 'just what is' : `${decibels(spare)} more than`} asked for at ${hertz(reachHz)}.`,
      arithmetic,
    };
  const ways = {
    size: `the box grows to ${litres(closedBoxLitres(asked, reachHz))} inside`,
    reach: `the reach rises to ${hertz(closedBoxReachHz(asked, net))}`,
    loudness: `the loudness falls by ${decibels(-spare)}`,
  };
  const isWay = (yielding: Yielding): yielding is keyof typeof ways => yielding in ways;
  const first = design.brief.givesWay.find(isWay);
  const list = Object.values(ways);
  return {
    id: 'trade',
    tone: 'conflict',
    text: `Loudness, reach and size contradict each other: either ${list[0]}, or ${list[1]}, or ${list[2]}.${first ? ` Of these ${first} gives way first in your order: ${ways[first]}.` : ''} A vented box gains about 3 dB.`,
    arithmetic,
  };
}
