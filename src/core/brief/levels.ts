import type { Prediction } from '@/core/design/prediction';
import type { Design } from '@/core/design/schema';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { roomGainDbOf, seatOf, wantedPeakDb } from './answers';
import {
  seatGainsDb,
  seatLevelDb,
  travelMm,
  wattsForLevel,
  type SeatConditions,
} from './arithmetic';
import {
  decibels,
  metres,
  sensitivityOf,
  term,
  wooferOf,
  type Consequence,
  type Sensitivity,
} from './consequence';

/** How loud it gets at the seats, what power the wanted loudness takes, and whether the drivers bear it. */
export function levelConsequences(design: Design, prediction: Prediction | null): Consequence[] {
  const { brief } = design;
  const near = seatOf(brief, 'nearest');
  const far = seatOf(brief, 'farthest');
  if (!near || !far)
    return [
      {
        id: 'level',
        tone: 'waits',
        text: 'With the seats and the amplifier’s power I can say how loud it gets.',
        arithmetic: [],
      },
    ];
  const sensitivity = sensitivityOf(design, prediction);
  if (!sensitivity)
    return [
      {
        id: 'level',
        tone: 'waits',
        text: 'With a woofer’s data sheet, or measured drivers, I can say how loud it gets.',
        arithmetic: [],
      },
    ];
  const [nearDb, farDb] = [near, far].map((seat) => seatLevelDb(sensitivity.db, seat));
  const isOneSeat = near.distanceMm === far.distanceMm;
  const level: Consequence = {
    id: 'level',
    tone: 'plain',
    text: isOneSeat
      ? `At the seat it reaches ${decibels(farDb, 0)} at most.`
      : `At the nearest seat it reaches ${decibels(nearDb, 0)} at most, at the farthest ${decibels(farDb, 0)}.`,
    arithmetic: [
      `Sensitivity ${decibels(sensitivity.db)} (${sensitivity.from}).`,
      ...(isOneSeat ? [far] : [near, far]).map((seat) => sumLine(sensitivity, seat)),
      `Room: ${decibels(roomGainDbOf(brief))}, ${brief.roomGainDb === null ? 'assumed (common practice)' : 'as stated'}.`,
    ],
  };
  const wanted = wantedPeakDb(brief);
  if (wanted === null) return [level];
  return [
    level,
    powerFor(wanted, sensitivity, far),
    ...driverLimits(design, wanted, sensitivity, far),
  ];
}

function sumLine({ db }: Sensitivity, seat: SeatConditions): string {
  const { drive, distance, count, room } = seatGainsDb(seat);
  return `At ${metres(seat.distanceMm)}: ${formatFixed(db, 1)} ${term(drive)} (${formatNumber(seat.watts)} W into ${formatNumber(seat.ohms)} Ω) ${term(distance)} (distance) ${term(count)} (${seat.speakerCount} speakers, power) ${term(room)} (room) = ${decibels(seatLevelDb(db, seat))}.`;
}

function powerFor(wanted: number, sensitivity: Sensitivity, far: SeatConditions): Consequence {
  const watts = wattsForLevel(sensitivity.db, wanted, far);
  const spare = 10 * Math.log10(far.watts / watts);
  return {
    id: 'power',
    tone: spare >= 0 ? 'fine' : 'conflict',
    text:
      spare >= 0
        ? `${decibels(wanted, 0)} at the farthest seat takes ${watt(watts)} for each speaker; the amplifier has ${watt(far.watts)}, ${decibels(spare)} to spare.`
        : `${decibels(wanted, 0)} at the farthest seat would take ${watt(watts)} for each speaker; the amplifier has ${watt(far.watts)}, ${decibels(-spare)} too little.`,
    arithmetic: [
      `1 W gives ${decibels(seatLevelDb(sensitivity.db, { ...far, watts: 1 }))} there.`,
      `10^((${formatFixed(wanted, 1)} − ${formatFixed(seatLevelDb(sensitivity.db, { ...far, watts: 1 }), 1)})/10) = ${formatNumber(watts, 3)} W.`,
    ],
  };
}

const watt = (watts: number) => `${formatNumber(watts, watts < 10 ? 2 : 3)} W`;

/** Heat and travel of the woofer at the wanted level. */
function driverLimits(
  design: Design,
  wanted: number,
  sensitivity: Sensitivity,
  far: SeatConditions,
): Consequence[] {
  const woofer = wooferOf(design);
  if (!woofer) return [];
  const { ratedWatts, xmaxMm, sdCm2 } = woofer.sheet;
  const found: Consequence[] = [];
  if (ratedWatts !== null) {
    // Long-term power: what the loudness takes without its head-room.
    const watts = wattsForLevel(sensitivity.db, wanted - (design.brief.headroomDb ?? 0), far);
    const isFine = watts <= ratedWatts;
    found.push({
      id: 'heat',
      tone: isFine ? 'fine' : 'conflict',
      text: `In the long run that is ${watt(watts)}; the ${woofer.name.toLowerCase()} ${isFine ? 'bears' : 'bears only'} ${watt(ratedWatts)}.`,
      arithmetic: [
        `Head-room of ${decibels(design.brief.headroomDb ?? 0, 0)} is for peaks; the voice coil heats with the long-term level of ${decibels(wanted - (design.brief.headroomDb ?? 0), 0)}.`,
      ],
    });
  }
  const { reach3Hz } = design.brief;
  if (xmaxMm !== null && reach3Hz !== null) {
    const { distance, count, room } = seatGainsDb(far);
    const levelDb = wanted - 3 - distance - count - room;
    const needed = travelMm(levelDb, reach3Hz, sdCm2!, design.airTemperatureC);
    const isFine = needed <= xmaxMm;
    found.push({
      id: 'travel',
      tone: isFine ? 'fine' : 'conflict',
      text: `At ${formatNumber(reach3Hz, 3)} Hz the ${woofer.name.toLowerCase()} would travel ±${formatNumber(needed, 2)} mm; it ${isFine ? 'allows' : 'allows only'} ±${formatNumber(xmaxMm, 2)} mm.`,
      arithmetic: [
        `The peak level, 3 dB down at the end of the reach, is ${decibels(levelDb)} at 1 m for one speaker.`,
        `x = 2π·r·p/(ρ·ω²·Sd), half space, Sd = ${formatNumber(sdCm2!)} cm², a closed box; a port or the floor asks for less.`,
      ],
    });
  }
  return found;
}
