/**
 * npm run demo: writes demo/reading-room. Three invented drivers in an invented stand speaker for
 * the listening room of a small town's record library, "measured" in one session: microphone on the
 * design axis at 1 m, timing common, 48 points per octave, a little noise that takes over at the
 * ends. Repeatable: the same seed, the same bytes.
 */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { logGrid } from '@/core/grid/logGrid';
import { notMounted, rectangularCorners, type Mounting, type Panel } from '@/core/document/baffleSchema';
import { usualPassive, usualPipe, usualPort, usualShell, type Box, type InBox } from '@/core/document/boxSchema';
import { emptyBrief, emptySheet, type Brief, type DriverSheet } from '@/core/document/briefSchema';
import { endAt, plainPart, plainWay, emptyDesign, emptyDriver, type Design, type Measurement, type Part } from '@/core/document/schema';
import { seeded } from '@/core/spectrum/noise';
import { readDesign } from '@/core/document/readDesign';
import { importedMeasurement } from '@/core/formats/importMeasurement';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { createMountedDiffraction, type MountedDriver } from '@/core/baffle/mountedDriver';
import { sharpEdge } from '@/core/baffle/shape';
import { headingOf, straight, type Direction } from '@/core/radiation/direction';
import { pathToMm, pointAtMm } from '@/core/radiation/path';
import { pistonDirectivity } from '@/core/radiation/piston';
import { divide, impedance, multiply, pressure, type DriverModel } from '@/core/rig/models';
import { readingRoomBaffle as baffle, readingRoomDrivers as drivers } from '@/core/rig/readingRoom';

const folder = join(import.meta.dirname, '../../demo/reading-room');
const volts = 2.83;
/** Noise of the room and of the microphone at its place, pascals in one point of the curve. */
const noisePascals = (hz: number) => 20e-6 * 10 ** ((26 + 16 * Math.max(0, Math.log10(120 / hz)) + 7 * Math.max(0, Math.log10(hz / 9000))) / 20);

type Row = readonly [hz: number, magnitude: number, degrees: number];

function responseRows(driver: DriverModel, seed: number): Row[] {
  const { gaussian } = seeded(seed);
  return Array.from(logGrid(10, 24_000, 48), (hz): Row => {
    const [re, im] = pressure(driver, baffle, hz, volts);
    const [noisyRe, noisyIm] = [re + noisePascals(hz) * gaussian(), im + noisePascals(hz) * gaussian()];
    return [hz, 20 * Math.log10(Math.hypot(noisyRe, noisyIm) / 20e-6), (Math.atan2(noisyIm, noisyRe) * 180) / Math.PI];
  });
}

function impedanceRows(driver: DriverModel, seed: number): Row[] {
  const { gaussian } = seeded(seed);
  return Array.from(logGrid(10, 24_000, 48), (hz): Row => {
    const [re, im] = impedance(driver, hz);
    return [hz, Math.hypot(re, im) * (1 + 0.002 * gaussian()), (Math.atan2(im, re) * 180) / Math.PI + 0.1 * gaussian()];
  });
}

/** Rows in one of the spellings that people have: separator, decimal mark, lines above. */
function table(rows: readonly Row[], header: readonly string[], separator: string, decimalMark: '.' | ',', end = '\n'): string {
  const field = (value: number, digits: number) => value.toFixed(digits).replace('.', decimalMark);
  return [...header, ...rows.map(([hz, magnitude, degrees]) => [field(hz, 4), field(magnitude, 3), field(degrees, 3)].join(separator))].join(end) + end;
}

const files: Record<string, string> = {
  'woofer response.txt': table(responseRows(drivers.woofer, 11), ['* Woofer, microphone on the design axis at 1 m, 2.83 V', '* Freq(Hz)\tSPL(dB)\tPhase(deg)'], '\t', '.'),
  'midrange response.csv': table(responseRows(drivers.midrange, 12), ['Frequency [Hz];Level [dB];Phase [deg]'], ';', ',', '\r\n'),
  'tweeter response.txt': table(responseRows(drivers.tweeter, 13), ['# Tweeter, same session, nothing moved', '# Hz, dB, deg'], ', ', '.'),
  'woofer impedance.txt': table(impedanceRows(drivers.woofer, 21), ['* Freq(Hz) Impedance(ohm) Phase(deg)'], ' ', '.'),
  'midrange impedance.txt': table(impedanceRows(drivers.midrange, 22), ['// frequency Hz   |Z| ohm   phase deg'], '   ', '.'),
  'tweeter impedance.txt': table(impedanceRows(drivers.tweeter, 23), ['"Hz"\t"Ohm"\t"Degrees"'], '\t', '.'),
};

const microphone = { placement: 'design-axis', distanceMm: 1000, commonTiming: true } as const;
const measuredAt = '2026-11-21T10:00:00.000Z';

function measurementOf(fileName: string): Measurement {
  const { measurement } = importedMeasurement(
    { name: fileName, bytes: new Uint8Array(readFileSync(join(folder, fileName))) },
    measuredAt,
  );
  return { ...measurement, microphone, driveVolts: volts };
}

const resistor = (name: string, place: Part['place'], ohms: number): Part => ({ ...plainPart, kind: 'resistor', id: name.toLowerCase(), name, place, ohms });
const coil = (name: string, place: Part['place'], millihenries: number, seriesOhms: number): Part => ({ ...plainPart, kind: 'coil', id: name.toLowerCase(), name, place, henries: Number(`${millihenries}e-3`), seriesOhms });
const capacitor = (name: string, place: Part['place'], microfarads: number, seriesOhms = 0): Part => ({ ...plainPart, kind: 'capacitor', id: name.toLowerCase(), name, place, farads: Number(`${microfarads}e-6`), seriesOhms });

/**
 * A sensible beginning that is not yet good: textbook second-order slopes, and no correction for
 * the real load.
 */
const starting: Record<keyof typeof drivers, { polarity: 'normal' | 'reversed'; parts: Part[] }> = {
  woofer: { polarity: 'normal', parts: [coil('L1', 'series', 3.3, 0.36), capacitor('C1', 'shunt', 56)] },
  midrange: {
    polarity: 'normal',
    parts: [capacitor('C2', 'series', 47), coil('L2', 'shunt', 3.3, 0.42), coil('L3', 'series', 0.47, 0.24), capacitor('C3', 'shunt', 8.2), resistor('R1', 'series', 2.2)],
  },
  tweeter: { polarity: 'normal', parts: [capacitor('C4', 'series', 5.6), coil('L4', 'shunt', 0.33, 0.21), resistor('R2', 'series', 1.8), resistor('R3', 'shunt', 10)] },
};

/** What the makers' data sheets would say; close to, but not the same as, what was measured. */
const sheets: Record<keyof typeof drivers, DriverSheet> = {
  woofer: {
    ...emptySheet,
    fsHz: 28, qes: 0.41, qms: 3.1, vasLitres: 137, sdCm2: 335, mmsG: 37.5, blTm: 9.2, xmaxMm: 6.5, mechanicalMm: 13,
    reOhm: 5.3, leMh: 0.9, nominalOhms: 8, ratedWatts: 80, ratedAs: 'noise',
  },
  midrange: {
    ...emptySheet,
    fsHz: 78, qes: 0.42, qms: 2.9, vasLitres: 5.2, sdCm2: 76, mmsG: 6.6, blTm: 6.6, xmaxMm: 2, mechanicalMm: 5,
    reOhm: 5.6, leMh: 0.35, nominalOhms: 8, ratedWatts: 50, ratedAs: 'noise',
  },
  tweeter: {
    ...emptySheet,
    fsHz: 820, qes: 1.05, qms: 2.1, sdCm2: 7, mmsG: 0.35, blTm: 2.8, xmaxMm: 0.3,
    reOhm: 4.7, leMh: 0.05, nominalOhms: 6, ratedWatts: 80, ratedAs: 'system', filterHz: 2500, filterOrder: 2,
  },
};

/** The front with square edges, as the carpenter cut it; the drivers are let into it. */
const front: Panel = {
  id: 'front',
  name: 'Front',
  kind: 'box',
  corners: rectangularCorners(baffle.leftMm, baffle.bottomMm, baffle.rightMm - baffle.leftMm, baffle.topMm - baffle.bottomMm),
  depthMm: 380,
  wingsMm: 0,
  thicknessMm: 22,
  setBackMm: 0,
  ports: [],
};

const frames: Record<keyof typeof drivers, Pick<Mounting, 'frameMm' | 'flangeMm' | 'cutoutMm' | 'builtDepthMm'>> = {
  woofer: { frameMm: 266, flangeMm: 7, cutoutMm: 236, builtDepthMm: 118 },
  midrange: { frameMm: 138, flangeMm: 5, cutoutMm: 114, builtDepthMm: 64 },
  tweeter: { frameMm: 104, flangeMm: 4, cutoutMm: 76, builtDepthMm: 32 },
};
const mountingOf = (key: keyof typeof drivers): Mounting => ({ ...notMounted, panelId: front.id, ...frames[key] });

/** The responses were measured on this very front. */
function onFront(measurement: Measurement): Measurement {
  const key = (Object.keys(drivers) as (keyof typeof drivers)[]).find((name) => measurement.origin.fileName === fileOf(name, 'response'));
  if (!key) return measurement;
  const { kind, byMm, frameMm, mouthMm } = mountingOf(key);
  const { corners, depthMm, thicknessMm, wingsMm } = front;
  const { xMm, yMm } = drivers[key];
  return { ...measurement, measuredOn: { kind: 'baffle', body: { kind: 'box', corners, depthMm, thicknessMm, wingsMm }, setBackMm: 0, xMm, yMm, mounting: { kind, byMm, frameMm, mouthMm } } };
}

/** The chambers that the drivers stood in while they were measured: they raised their resonances. */
const chambers: Partial<Record<keyof typeof drivers, InBox>> = {
  woofer: { kind: 'sealed', litres: 57.1, fill: 'full', ql: null },
  midrange: { kind: 'sealed', litres: 4.04, fill: 'none', ql: null },
};

function inChamber(measurement: Measurement): Measurement {
  const key = (Object.keys(drivers) as (keyof typeof drivers)[]).find((name) => ['response', 'impedance'].some((what) => measurement.origin.fileName === fileOf(name, what)));
  return { ...measurement, inBox: (key && chambers[key]) ?? { kind: 'free' } };
}

/** All of both orbits: the right side, which is like the left one, and up and down. */
const orbitDirections: readonly Direction[] = [
  ...Array.from({ length: 18 }, (_, k): Direction => ({ plane: 'horizontal', degrees: 10 * (k + 1) })),
  ...Array.from({ length: 35 }, (_, k): Direction => ({ plane: 'vertical', degrees: 10 * (k - 17) })).filter(({ degrees }) => degrees !== 0),
];
const orbitHz = logGrid(50, 20_000, 24);
/** Deep cones beam as larger ones do: the midrange balloons where the dome takes over. */
const beamsAs: Record<keyof typeof drivers, number> = { woofer: 1.05, midrange: 1.3, tweeter: 1 };

/** `orbits/woofer hor 010.txt`, `orbits/woofer ver -020.txt` */
const orbitFile = (key: string, { plane, degrees }: Direction) =>
  `orbits/${key} ${plane.slice(0, 3)} ${degrees < 0 ? '-' : ''}${String(Math.abs(degrees)).padStart(3, '0')}.txt`;

/**
 * The same session with the speaker turned: the edges of the cabinet for a point in the driver's place,
 * times a cone that beams; it decouples from the outside as the frequency rises, so that it is not
 * quite the piston that a model takes it for.
 */
function orbitRows(key: keyof typeof drivers, directions: readonly Direction[], seed: number): Row[][] {
  const driver = drivers[key];
  const { gaussian } = seeded(seed);
  const speed = speedOfSoundMps(20);
  const { corners, depthMm } = front;
  const point: MountedDriver = {
    kind: 'box',
    shape: { outline: corners.map(({ xMm, yMm }) => ({ x: xMm / 1000, y: yMm / 1000 })), edges: corners.map(() => sharpEdge), depthM: depthMm / 1000 },
    x: driver.xMm / 1000, y: driver.yMm / 1000, radiusM: 0,
    seating: { kind: 'flush', byM: 0, frameRadiusM: null, mouthRadiusM: null },
  };
  const bent = createMountedDiffraction(point, orbitHz, speed);
  const radiusM = beamsAs[key] * Math.sqrt(driver.areaM2 / Math.PI);
  const at = (direction: Direction) => {
    const heading = headingOf(direction);
    const place = pointAtMm(heading, 1000);
    const across = Math.hypot(place.xMm - driver.xMm, place.yMm - driver.yMm);
    const pathMm = pathToMm(driver, place);
    return { edges: bent.toward({ kind: 'point', at: heading }), pathMm, sine: place.zMm < driver.zMm ? 1 : across / pathMm };
  };
  const beam = (hz: number, sine: number) =>
    pistonDirectivity((2 * Math.PI * hz * radiusM * sine) / speed / Math.sqrt(1 + 0.35 * (hz / driver.rollOffHz) ** 2));
  const axis = at(straight);
  return directions.map((direction) => {
    const there = at(direction);
    return Array.from(orbitHz, (hz, i): Row => {
      const onAxis = pressure(driver, baffle, hz, volts);
      const edges = divide([there.edges.re[i], there.edges.im[i]], [axis.edges.re[i], axis.edges.im[i]]);
      const size = ((beam(hz, there.sine) / beam(hz, axis.sine)) * axis.pathMm) / there.pathMm;
      const turn = (-2 * Math.PI * hz * (there.pathMm - axis.pathMm)) / 1000 / speed;
      const [re, im] = multiply(multiply(onAxis, edges), [size * Math.cos(turn), size * Math.sin(turn)]);
      const [noisyRe, noisyIm] = [re + noisePascals(hz) * gaussian(), im + noisePascals(hz) * gaussian()];
      return [hz, 20 * Math.log10(Math.hypot(noisyRe, noisyIm) / 20e-6), (Math.atan2(noisyIm, noisyRe) * 180) / Math.PI];
    });
  });
}

const fileOf = (key: string, what: string) => Object.keys(files).find((name) => name.startsWith(`${key} ${what}`))!;

/** What the library asked for. */
const brief: Brief = {
  ...emptyBrief,
  purpose: 'music',
  place: 'free',
  nearestSeatMm: 2200,
  farthestSeatMm: 4500,
  spreadDeg: 25,
  speakerCount: 2,
  roomSquareMetres: 40,
  ratedWatts: 60,
  ratedIntoOhms: 8,
  lowestLoadOhms: 4,
  programme: 'overdriven',
  loudnessDb: 85,
  headroomDb: 12,
  reach3Hz: 48,
  reach10Hz: 32,
  widthMm: 300,
  heightMm: 710,
  depthMm: 380,
  money: 320,
  ratedOhms: 6,
  evennessDb: 1.5,
  mustUse: 'the 250 mm woofers that are already there; the turntable stays on its shelf between the speakers',
  carpentry: 'router',
  givesWay: ['money', 'loudness', 'reach', 'size', 'evenness'],
};

mkdirSync(folder, { recursive: true });
for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, name), text);
mkdirSync(join(folder, 'orbits'), { recursive: true });
const orbits = (Object.keys(drivers) as (keyof typeof drivers)[]).map((key, d) => {
  const rows = orbitRows(key, orbitDirections, 31 + d);
  return orbitDirections.map((angle, a) => {
    const name = orbitFile(key, angle);
    const turned = angle.plane === 'horizontal' ? 'to the right' : angle.degrees > 0 ? 'from above' : 'from below';
    writeFileSync(join(folder, name), table(rows[a], [`* ${key}, ${Math.abs(angle.degrees)} degrees ${turned}, 1 m, 2.83 V`, '* Freq(Hz)\tSPL(dB)\tPhase(deg)'], '\t', '.'));
    const { origin, ...measurement } = measurementOf(name);
    return { ...measurement, origin: { ...origin, fileName: name }, angle };
  });
});

const measurements = [...Object.keys(files).map(measurementOf).map(onFront).map(inChamber), ...orbits.flat()];
const idOf = (fileName: string) => measurements.find((m) => m.origin.fileName === fileName)!.id;
const title = (key: string) => key[0].toUpperCase() + key.slice(1);
/** A candidate: the cabinet as it stands, stuffed. */
const asBuilt: Box = {
  id: 'as-built', name: 'As built', isUsed: false, driverIds: ['woofer'], kind: 'sealed', insideId: null, fill: 'full', ql: null,
  shell: { ...usualShell, widthMm: 300, heightMm: 710, depthMm: 380, frontMm: 22 },
  port: usualPort, passive: usualPassive, pipe: usualPipe, pathMm: 150, spliceHz: 200,
};
const design: Design = {
  ...emptyDesign('The Reading Room'),
  brief,
  measurements,
  panels: [front],
  boxes: [asBuilt],
  axisHeightMm: 950,
  earHeightMm: 1050,
  drivers: Object.entries(drivers).map(([key, { xMm, yMm, zMm }], d) => ({
    ...emptyDriver(key, title(key)),
    responseId: idOf(fileOf(key, 'response')),
    impedanceId: idOf(fileOf(key, 'impedance')),
    offAxisIds: orbits[d].map(({ id }) => id),
    mounting: mountingOf(key as keyof typeof drivers),
    position: { xMm, yMm, zMm },
    measuredAt: { xMm, yMm, zMm },
    sheet: sheets[key as keyof typeof drivers],
  })),
  ways: Object.entries(starting).map(([key, { polarity, parts }]) => ({ ...plainWay, id: `way-${key}`, name: title(key), ends: [endAt(key)], polarity, parts })),
};
writeFileSync(join(folder, 'design.json'), JSON.stringify(readDesign(design, 'demo'), null, 2) + '\n');
// The same with every value free, for `fair fit`.
const isFree = true;
const toFit: Design = {
  ...design,
  ways: design.ways.map((way) => ({ ...way, parts: way.parts.map((part) => ({ ...part, fit: { ...part.fit, isFree } })) })),
};
writeFileSync(join(folder, 'design-to-fit.json'), JSON.stringify(readDesign(toFit, 'demo'), null, 2) + '\n');
