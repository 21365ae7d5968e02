import type { Prediction } from '@/core/prediction/prediction';
import { driveOf, driveVoltsOf } from '@/core/document/programme';
import type { Design } from '@/core/document/schema';
import type { DriverLoad } from '@/core/prediction/strain';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { roomSource, seatOf, wantedSineDb } from './answers';
import { seatGainsDb, seatLevelDb, wattsForLevel, type SeatConditions } from './arithmetic';
import { loadsAtDrive, loadsAtLoudness, sheetLoadsAtLoudness } from './asked';
import { bassOf } from './bass';
import { decibels, hertz, metres, term, watts, type Consequence } from './consequence';
import { tellLoad } from './loadWords';
import { neededSensitivityDb, sensitivityOf, stepLoss, type Sensitivity } from './sensitivity';

/**
 * How loud it gets at the seats, what power the wanted loudness takes, and whether the drivers bear
 * it.
 */
export function levelConsequences(design: Design, prediction: Prediction | null): Consequence[] {
  const { brief } = design;
  const near = seatOf(design, 'nearest');
  const far = seatOf(design, 'farthest');
  if (!near || !far)
    return [waiting('How loud it gets is told once seats and the amplifier’s power are known.')];
  const wanted = wantedSineDb(brief);
  const needed = wanted === null ? [] : [neededFor(design, wanted, far)];
  const sensitivity = sensitivityOf(design, prediction);
  if (!sensitivity)
    return [
      ...needed,
      waiting('How loud it gets is told once there is a woofer’s data sheet, or measured drivers.'),
    ];
  return [
    ...needed,
    loudest(design, sensitivity, near, far),
    ...(wanted === null ? [] : [powerFor(wanted, sensitivity, far)]),
    ...driverLoads(design, prediction, far),
    ...bassLimit(design),
  ];
}

const waiting = (text: string): Consequence => ({
  id: 'level',
  tone: 'waits',
  text,
  arithmetic: [],
});

/** `94.0 dB − 18.0 (60 W) + 13.1 (distance) …`: what a level at a seat asks of 1 m. */
function neededFor(design: Design, wanted: number, seat: SeatConditions): Consequence {
  const { drive, distance, count, room } = seatGainsDb(seat);
  const least = neededSensitivityDb(wanted, seat);
  const step = stepLoss(design.brief);
  const up = (db: number) => decibels(Math.ceil(10 * db - 1e-9) / 10);
  return {
    id: 'needed-sensitivity',
    tone: 'plain',
    text: `The loudness takes a speaker of at least ${up(least)} for 2.83 V at 1 m${step.db < 0.05 ? '' : `; in a data sheet, half space, that is ${up(least + step.db)}`}.`,
    arithmetic: [
      `${formatFixed(wanted, 1)} dB as a sine ${term(-drive)} (${formatNumber(seat.watts)} W into ${formatNumber(seat.ohms)} Ω) ${term(-distance)} (${metres(seat.distanceMm)}) ${term(-count)} (${seat.speakerCount} speakers, power) ${term(-room)} (room) = ${decibels(least)}.`,
      step.line,
    ],
  };
}

function loudest(
  { brief }: Design,
  sensitivity: Sensitivity,
  near: SeatConditions,
  far: SeatConditions,
): Consequence {
  const [nearDb, farDb] = [near, far].map((seat) => seatLevelDb(sensitivity.sourceDb, seat));
  const isOneSeat = near.distanceMm === far.distanceMm;
  return {
    id: 'level',
    tone: 'plain',
    text: `${isOneSeat ? `At the seat it reaches ${decibels(farDb, 0)} at most` : `At the nearest seat it reaches ${decibels(nearDb, 0)} at most, at the farthest ${decibels(farDb, 0)}`}: the level of a sine, before hot voice coils take 1 to 3 dB of it.`,
    arithmetic: [
      ...sensitivity.arithmetic,
      ...(isOneSeat ? [far] : [near, far]).map((seat) => sumLine(sensitivity, seat)),
      `Room: ${roomSource(brief)}.`,
    ],
  };
}

function sumLine({ sourceDb }: Sensitivity, seat: SeatConditions): string {
  const { drive, source, distance, count, room } = seatGainsDb(seat);
  const behind =
    Math.abs(source) < 0.05
      ? ''
      : ` ${term(source)} (source over load, 1 + ${formatNumber(seat.outputOhms, 3)}/${formatNumber(seat.ohms)})`;
  return `At ${metres(seat.distanceMm)}: ${formatFixed(sourceDb, 1)} ${term(drive)} (${formatNumber(seat.watts)} W into ${formatNumber(seat.ohms)} Ω)${behind} ${term(distance)} (distance) ${term(count)} (${seat.speakerCount} speakers, power) ${term(room)} (room) = ${decibels(seatLevelDb(sourceDb, seat))}.`;
}

function powerFor(wanted: number, sensitivity: Sensitivity, far: SeatConditions): Consequence {
  const needed = wattsForLevel(sensitivity.sourceDb, wanted, far);
  const spare = 10 * Math.log10(far.watts / needed);
  const one = seatLevelDb(sensitivity.sourceDb, { ...far, watts: 1 });
  return {
    id: 'power',
    tone: spare >= 0 ? 'fine' : 'conflict',
    text:
      spare >= 0
        ? `A sine of ${decibels(wanted, 0)} at the farthest seat takes ${watts(needed)} for each speaker; the amplifier has ${watts(far.watts)}, ${decibels(spare)} to spare.`
        : `A sine of ${decibels(wanted, 0)} at the farthest seat would take ${watts(needed)} for each speaker; the amplifier has ${watts(far.watts)}, ${decibels(-spare)} too little.`,
    arithmetic: [
      `1 W gives ${decibels(one)} there.`,
      `10^((${formatFixed(wanted, 1)} − ${formatFixed(one, 1)})/10) = ${formatNumber(needed, 3)} W.`,
    ],
  };
}

/**
 * What each driver has to bear at the loudness asked for, and with the amplifier driven as the
 * brief says.
 */
function driverLoads(
  design: Design,
  prediction: Prediction | null,
  seat: SeatConditions,
): Consequence[] {
  const { brief, amplifier, drivers } = design;
  const sheetLoads = sheetLoadsAtLoudness(design);
  const heard = prediction?.sum ? prediction : null;
  const { loudnessDb } = brief;
  const asked = loadsAtLoudness(heard, { amplifier, drivers, seat, loudnessDb, sheetLoads });
  const driven = loadsAtDrive(design, prediction) ?? [];
  const volts = driveVoltsOf(design);
  return driven.map((load): Consequence => {
    const own = asked.find((one) => isSame(one, load));
    const [quiet, loud] = [own && tellLoad(own), tellLoad(load)];
    return {
      id: `load-${load.wayId}-${load.driverId}`,
      tone:
        (quiet?.warnings.length ?? 0) > 0 || loud.warnings.some((one) => one.includes('may'))
          ? 'conflict'
          : 'plain',
      text: [
        quiet
          ? `At ${decibels(loudnessDb!, 0)} the ${load.driverName.toLowerCase()} ${quiet.short}; with ${driveOf(brief).words}, it ${loud.text}`
          : `With ${driveOf(brief).words}, the ${load.driverName.toLowerCase()} ${loud.text}`,
        ...loud.warnings,
        ...(quiet && quiet.warnings.length > 0
          ? [`So already at ${decibels(loudnessDb!, 0)}.`]
          : []),
      ].join(' '),
      arithmetic: [
        `Source: ${formatFixed(volts!, 1)} V rms with ${driveOf(brief).words}.`,
        ...loud.arithmetic,
      ],
    };
  });
}

const isSame = (a: DriverLoad, b: DriverLoad) => a.driverId === b.driverId && a.wayId === b.wayId;

/** What the woofers' excursion can make at F3, against what the programme has there. */
function bassLimit(design: Design): Consequence[] {
  const bass = bassOf(design);
  if (!bass) return [];
  const { possibleDb, askedDb, xmaxMm, coneCount, atHz, arithmetic } = bass;
  const isFine = possibleDb >= askedDb;
  return [
    {
      id: 'bass',
      tone: isFine ? 'fine' : 'conflict',
      text: `Within ±${formatNumber(xmaxMm, 2)} mm ${coneCount === 1 ? 'the woofer makes' : `the ${coneCount} woofers together make`} ${decibels(possibleDb, 0)} at ${hertz(atHz)} at the farthest seat; programme at ${decibels(design.brief.loudnessDb!, 0)} asks for ${decibels(askedDb, 0)} there${isFine ? '' : ', which is more'}.`,
      arithmetic,
    },
  ];
}
