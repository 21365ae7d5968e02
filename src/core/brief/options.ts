import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { Design } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
import { efficiencyForLevel } from '@/core/driver/efficiency';
import {
  coneRadiusM,
  frequencyOfKa,
  kaSixDown,
  kaTakeOver,
  pistonDirectivityIndexDb,
} from '@/core/radiation/piston';
import {
  cornerDelayMs,
  closedBoxLevelDb,
  closedBoxLitres,
  realBoxShare,
  usualClosedBox,
} from './arithmetic';
import { bassOf } from './bass';
import { decibels, hertz, litres, metres } from './consequence';
import { bassAskedFor, plainQ } from './trade';
import { wooferOf } from './woofers';

/** A way to build it, with what the answers say for and against it. */
export interface Option {
  readonly id: string;
  readonly name: string;
  /** What those who build it value; no side is taken. */
  readonly school: string;
  readonly pros: readonly string[];
  readonly cons: readonly string[];
  /** Why the answers rule it out; null when they don't. */
  readonly ruledOut: string | null;
  /** How the figures in it were found, one line per step. */
  readonly arithmetic: readonly string[];
}

/**
 * Best efficiency of a vented box over that of a closed one at the same F3 and volume (Small 1973:
 * 3.9 to 2.0).
 */
const ventedGain = 3.9 / 2.05;

interface Facts {
  readonly design: Design;
  readonly efficiency: number | null;
  readonly f3Hz: number | null;
  readonly net: number | null;
}

const facts = (design: Design): Facts => {
  const { levelDb, f3Hz, netLitres } = bassAskedFor(design);
  return {
    design,
    efficiency: levelDb === null ? null : efficiencyForLevel(levelDb),
    f3Hz,
    net: netLitres,
  };
};

const said = (...sentences: (string | false | null | undefined)[]): string[] =>
  sentences.filter((sentence): sentence is string => Boolean(sentence));

/** Enclosure kinds, weighed by the answers. */
export function enclosureOptions(design: Design): Option[] {
  const known = facts(design);
  return [
    boxed(known, 'sealed', 1),
    boxed(known, 'vented', ventedGain),
    passiveRadiator(known),
    openBaffle(known),
    linedPipe(known),
  ];
}

/** Least and most of a quantity. */
type Range = readonly [number, number];

/**
 * Net volumes that the bass takes in real boxes without a rise, with a gain over closed ones; null
 * where not answered.
 */
function volumesFor({ efficiency, f3Hz }: Facts, gain: number): Range | null {
  if (efficiency === null || f3Hz === null) return null;
  const { leastAlpha, mostAlpha, qmc } = usualClosedBox;
  const litresAt = (alpha: number) =>
    closedBoxLitres(efficiency, f3Hz, plainQ) / realBoxShare(plainQ, alpha, qmc) / gain;
  return [litresAt(mostAlpha), litresAt(leastAlpha)];
}

const between = ([least, most]: Range) => `${formatNumber(least, 3)} to ${litres(most)}`;

/**
 * Q of the second-order parts of the alignments that are meant: Butterworth (1930) of second and of
 * fourth order.
 */
const sealedQs = [plainQ];
const ventedQs = [0.5412, 1.3066];

/** Fall of a box without a rise an octave under its −3 dB frequency, dB. */
const octaveFallDb = -closedBoxLevelDb(0.5, 1, plainQ);

function boxed(known: Facts, id: 'sealed' | 'vented', gain: number): Option {
  const { brief } = known.design;
  const { net, f3Hz } = known;
  const needed = volumesFor(known, gain);
  const fits = needed === null || net === null || needed[0] <= net;
  const spare =
    fits &&
    needed !== null &&
    net !== null &&
    `It takes ${between(needed)} of the ${litres(net)} that there are.`;
  const { leastAlpha, mostAlpha, qmc } = usualClosedBox;
  const arithmetic =
    needed === null
      ? []
      : [
          `V = η/(1.38·10⁻⁶·f³) for a closed box of Q = 0.71 with η = ${formatNumber(known.efficiency!, 3)} and f = ${hertz(f3Hz!)} (Small), over α/(1 + α)·(1 − Q/Qmc) for Vas/V = α of ${leastAlpha} to ${mostAlpha} and Qmc = ${qmc}: ${between([needed[0] * gain, needed[1] * gain])}.`,
          ...(gain === 1
            ? []
            : [
                `A vented box at its best is ${gain.toFixed(1)} times as efficient, as bounds without losses go (3.9 to 2.05, Small): ${between(needed)}.`,
              ]),
        ];
  const tooSmall = !fits && `It would take ${between(needed)}, and there are ${litres(net)}.`;
  if (id === 'sealed')
    return {
      id,
      name: 'Sealed',
      school:
        'Its friends value the gentle 12 dB per octave, small group delay and that little can go wrong.',
      pros: said(
        spare,
        brief.place === 'near-wall' && 'The wall lifts the low end just where it begins to fall.',
        brief.place === 'in-cabinet' && 'It needs no air behind it.',
        f3Hz !== null &&
          `Its group delay at ${hertz(f3Hz)}, without a rise, is ${formatNumber(cornerDelayMs(f3Hz, sealedQs), 2)} ms, the smallest of all${brief.purpose === 'mixing' ? ', which helps to judge the lows' : ''}.`,
        brief.carpentry === 'straight-cuts' && 'Six straight panels.',
      ),
      cons: said(
        f3Hz !== null &&
          `Without a rise (Q = 0.71) it is ${decibels(octaveFallDb, 0)} down an octave under ${hertz(f3Hz)}, but still useful.`,
        brief.purpose === 'film' && 'Loud bass costs the most excursion.',
      ),
      ruledOut: tooSmall || null,
      arithmetic,
    };
  return {
    id,
    name: 'Vented',
    school: 'Its friends value extension and level from little excursion around the tuning.',
    pros: said(
      spare,
      'About 3 dB more efficiency at the same F3 and size.',
      brief.purpose === 'film' && 'Least excursion where films are loudest.',
    ),
    cons: said(
      'Below the tuning the cone runs free and the level falls by 24 dB per octave.',
      f3Hz !== null &&
        `Its group delay at ${hertz(f3Hz)} is about ${formatNumber(cornerDelayMs(f3Hz, ventedQs), 2)} ms (Butterworth of fourth order).`,
      brief.place === 'near-wall' &&
        'A port at the back needs a hand’s breadth of air; put it in front.',
      brief.place === 'in-cabinet' && 'The port must face forward.',
      f3Hz !== null && f3Hz < 30 && `Tuned near ${hertz(f3Hz)}, the port becomes long.`,
    ),
    ruledOut: tooSmall || null,
    arithmetic,
  };
}

function passiveRadiator(known: Facts): Option {
  const { brief } = known.design;
  const needed = volumesFor(known, ventedGain);
  const isSmall = known.net !== null && known.net < 15;
  return {
    id: 'passive-radiator',
    name: 'Passive radiator',
    school: 'Its friends value a vented box’s extension without pipe, wind or pipe resonance.',
    pros: said(
      isSmall && `In ${litres(known.net)} a port long enough would not fit.`,
      'No port noise.',
    ),
    cons: said(
      'A second cone, of at least twice the displacement, costs money and front area.',
      brief.givesWay[0] !== 'money' && brief.money !== null && 'Money is limited.',
    ),
    ruledOut:
      needed !== null && known.net !== null && needed[0] > known.net
        ? `It would take ${between(needed)}, and there are ${litres(known.net)}.`
        : null,
    arithmetic: needed === null ? [] : ['The volume is that of a vented box.'],
  };
}

function openBaffle({ design, f3Hz, net }: Facts): Option {
  const { brief } = design;
  const c = speedOfSoundMps(design.airTemperatureC);
  const pathM = brief.widthMm === null ? null : brief.widthMm / 2000;
  const lossDb =
    pathM === null || f3Hz === null
      ? null
      : -20 * Math.log10(2 * Math.sin(Math.min(Math.PI / 2, (Math.PI * f3Hz * pathM) / c)));
  const bass = bassOf(design);
  // What the loss leaves of the level that the excursion makes, against what is asked for; the
  // floor counts for both.
  const short =
    lossDb === null || !bass ? null : bass.askedDb - (bass.possibleDb - Math.max(0, lossDb));
  const excursionMm = short === null ? null : bass!.xmaxMm * 10 ** (short / 20);
  return {
    id: 'open-baffle',
    name: 'Open baffle',
    school: 'Its friends value the absence of a box’s own voice and that the sides stay quiet.',
    pros: said(
      brief.place === 'free' && 'It stands free, as it must.',
      net === null && 'No volume is needed.',
      brief.carpentry === 'straight-cuts' && 'One panel.',
    ),
    cons: said(
      lossDb !== null &&
        lossDb > 0 &&
        `At ${hertz(f3Hz!)} the rear wave takes away ${decibels(lossDb, 0)} from a baffle ${metres(brief.widthMm!)} wide, to be made good by equalising.`,
      excursionMm !== null &&
        short! <= 0 &&
        `Equalised, its peaks at ${hertz(f3Hz!)} are ±${formatNumber(excursionMm, 2)} mm of ±${formatNumber(bass!.xmaxMm, 2)} mm.`,
      brief.place === 'near-wall' && 'A wall close behind sends the rear wave back.',
      brief.place === 'in-cabinet' && 'A cabinet around it takes away the rear wave’s way out.',
    ),
    ruledOut:
      excursionMm !== null && short! > 0
        ? `Equalised, its peaks at ${hertz(f3Hz!)} would be ±${formatNumber(excursionMm, 2)} mm, and the woofers allow ±${formatNumber(bass!.xmaxMm, 2)} mm.`
        : brief.place === 'in-cabinet'
          ? 'It can’t stand in a cabinet.'
          : null,
    arithmetic:
      lossDb === null
        ? []
        : [
            `−20·log(2·sin(π·f·D/c)) with D = half the width, ${metres(brief.widthMm! / 2)}, at ${hertz(f3Hz!)}: ${decibels(lossDb)}.`,
          ],
  };
}

const times = (count: number) => ['never', 'once', 'twice'].at(count) ?? `${count} times`;

function linedPipe({ design, f3Hz }: Facts): Option {
  const { brief } = design;
  const c = speedOfSoundMps(design.airTemperatureC);
  const lengthMm = f3Hz === null ? null : (1000 * c) / (4 * f3Hz);
  const folds =
    lengthMm === null || brief.heightMm === null ? null : Math.ceil(lengthMm / brief.heightMm);
  return {
    id: 'lined-pipe',
    name: 'Lined pipe',
    school: 'Its friends value deep bass with a gentler end than a vented box.',
    pros: said(lengthMm !== null && `A quarter wave of ${hertz(f3Hz!)} is ${metres(lengthMm)}.`),
    cons: said(
      folds !== null &&
        folds > 1 &&
        `In ${metres(brief.heightMm!)} of height the pipe folds ${times(folds - 1)}.`,
      brief.carpentry === 'straight-cuts' && 'Many inner panels, each cut at its own size.',
      'Lining decides the result, and is found by trying.',
    ),
    ruledOut:
      folds !== null && folds > 4
        ? `It would fold ${times(folds - 1)}: too narrow to work as a pipe.`
        : null,
    arithmetic:
      lengthMm === null
        ? []
        : [`c/(4·f) = ${formatNumber(c, 4)}/(4·${formatNumber(f3Hz!)}) = ${metres(lengthMm)}.`],
  };
}

/** Directivity index of a small dome in its wall, dB: half space and a little. */
const domeIndexDb = 3.2;
/**
 * Frequency above which a dome of the usual size may take over when no data sheet says more (common
 * practice).
 */
const usualDomeHz = 2000;

/** Up to where every seat shall hear (common practice). */
const mostAskedHz = 10_000;
/** Half the angle at which seats at the side begin to count, degrees (common practice). */
const sideDeg = 10;

/** Numbers of ways, weighed by how large the woofer must be and where it begins to beam. */
export function wayOptions(design: Design): Option[] {
  const { brief, drivers } = design;
  const c = speedOfSoundMps(design.airTemperatureC);
  const woofer = wooferOf(design);
  const domeFs = drivers.flatMap(({ sheet }) =>
    sheet.fsHz !== null && sheet.fsHz > 400 ? [sheet.fsHz] : [],
  )[0];
  const domeHz = domeFs === undefined ? usualDomeHz : 2 * domeFs;
  const areaCm2 = woofer?.sheet.sdCm2 ?? null;
  const atKa = (ka: number) => (areaCm2 === null ? null : frequencyOfKa(ka, areaCm2, c));
  const beamHz = atKa(kaTakeOver);
  const spread = brief.spreadDeg;
  const sideHz = spread === null ? null : atKa(kaSixDown(spread));
  const size = areaCm2 === null ? '' : `A cone of ${formatNumber(areaCm2, 3)} cm²`;
  const beam =
    beamHz !== null &&
    `${size} narrows from about ${hertz(beamHz)} on${sideHz === null ? '' : `, and is 6 dB down at ±${formatNumber(spread!)}° from ${hertz(sideHz)} on`}.`;
  const jump =
    areaCm2 === null
      ? 0
      : pistonDirectivityIndexDb((2 * Math.PI * domeHz * coneRadiusM(areaCm2)) / c) - domeIndexDb;
  const arithmetic =
    beamHz === null
      ? []
      : [
          `ka = ${kaTakeOver}: ${kaTakeOver}·c/(2π·a) = ${hertz(beamHz)}, directivity index ${decibels(pistonDirectivityIndexDb(kaTakeOver))} against about ${decibels(domeIndexDb)} of a dome.`,
          ...(sideHz === null
            ? []
            : [
                `A piston is 6 dB down at ${formatNumber(spread!)}° from ka = 2.215/sin θ = ${formatNumber(kaSixDown(spread!), 3)} on: ${hertz(sideHz)}.`,
              ]),
          domeFs === undefined
            ? `A dome may start near ${hertz(usualDomeHz)} (common practice).`
            : `A dome may start at twice its resonance: ${hertz(domeHz)} (common practice).`,
        ];
  return [
    {
      id: 'one-way',
      name: 'One way',
      school: 'Its friends value one source and no crossover at all.',
      pros: said(
        'No crossover, no parts to pay for.',
        brief.purpose === 'desk' && 'A single source suits a close seat.',
      ),
      cons: said(
        beam,
        spread !== null && spread > sideDeg && `Seats at ±${formatNumber(spread)}° lose the highs.`,
      ),
      ruledOut:
        sideHz !== null && sideHz < mostAskedHz && spread !== null && spread > sideDeg
          ? `Above ${hertz(sideHz)} the seats at ±${formatNumber(spread)}° get too little: 6 dB less, and falling.`
          : null,
      arithmetic,
    },
    {
      id: 'two-way',
      name: 'Two ways',
      school: 'Its friends value few parts and drivers that sit close together.',
      pros: said(
        beamHz !== null &&
          beamHz >= domeHz &&
          `The woofer is still wide at ${hertz(domeHz)}, where a dome can take over.`,
        brief.money !== null && 'Fewer drivers and parts.',
      ),
      cons: said(
        beam,
        beamHz !== null &&
          beamHz < domeHz &&
          `A dome wants to start near ${hertz(domeHz)}: there the woofer has narrowed, and the directivity index jumps by ${decibels(jump, 0)}.`,
      ),
      ruledOut: null,
      arithmetic,
    },
    {
      id: 'three-way',
      name: 'Three ways',
      school: 'Its friends value drivers that each work only where they are at their best.',
      pros: said(
        beamHz !== null &&
          beamHz < domeHz &&
          `A midrange covers the stretch from ${hertz(beamHz)} to ${hertz(domeHz)}.`,
        'More level with less distortion.',
      ),
      cons: said(
        'The first crossover takes large coils and capacitors.',
        brief.money !== null &&
          'A fifth to two fifths of the money go into the crossover (common practice).',
      ),
      ruledOut: null,
      arithmetic,
    },
  ];
}
