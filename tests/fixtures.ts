/** Invented things that several tests need. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { WayPrediction } from '@/core/prediction/prediction';
import { type MeasurementData, samplesId } from '@/core/measurement/samples';
import { notMounted, onUnknownBaffle } from '@/core/document/baffleSchema';
import { inUnknownBox } from '@/core/document/boxSchema';
import { readDesign } from '@/core/document/readDesign';
import { plainStatement, type Design, type Measurement } from '@/core/document/schema';
import { readTable } from '@/core/formats/readTable';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { headingOf } from '@/core/radiation/direction';
import { pathToMm, pointAtMm } from '@/core/radiation/path';
import { pistonDirectivity } from '@/core/radiation/piston';

/** What a design says of a measurement, with a made-up origin. */
export function measurementStatement(id: string, kind: Measurement['kind']): Measurement {
  return {
    id,
    name: `${kind} ${id.slice(0, 4)}`,
    kind,
    origin: {
      fileName: `${id.slice(0, 4)}.txt`,
      fileSha256: '0'.repeat(64),
      importedAt: '2026-01-02T03:04:05.000Z',
      rowCount: 61,
      readAs: 'made by a test',
      kindReason: 'the test says so',
      header: [],
      warnings: [],
    },
    microphone: { placement: 'design-axis', distanceMm: 1000, commonTiming: true },
    driveVolts: 2.83,
    ...plainStatement,
  };
}

const demoFolder = join(import.meta.dirname, '../demo/reading-room');

/** The Reading Room with its numbers. */
export const readDemo = () => withNumbers(demoDesign());

/** The same before anything was measured off the axis. */
export const readSession = () => withNumbers(withoutOrbits(demoDesign()));

const demoDesign = (): Design =>
  readDesign(JSON.parse(readFileSync(join(demoFolder, 'design.json'), 'utf8')), 'demo');

function withNumbers(design: Design): { design: Design; data: MeasurementData } {
  const data = new Map(
    design.measurements.map(({ id, origin }) => [
      id,
      readTable(new Uint8Array(readFileSync(join(demoFolder, origin.fileName))), origin.fileName)
        .samples,
    ]),
  );
  return { design, data };
}

/** A design of which nothing was measured off the axis: what is known there is modelled. */
export function withoutOrbits(design: Design): Design {
  const orbits = new Set(design.drivers.flatMap(({ offAxisIds }) => offAxisIds));
  return {
    ...design,
    drivers: design.drivers.map((driver) => ({ ...driver, offAxisIds: [] })),
    measurements: design.measurements.filter(({ id }) => !orbits.has(id)),
  };
}

/**
 * The same with its drivers on no baffle, and nobody said what they were measured on: nothing is
 * known off the axis.
 */
export const withoutBaffle = (design: Design): Design => bareOf(withoutOrbits(design));

const bareOf = (design: Design): Design => ({
  ...design,
  panels: [],
  axisHeightMm: null,
  earHeightMm: null,
  drivers: design.drivers.map((driver) => ({ ...driver, mounting: notMounted })),
  measurements: design.measurements.map((one) => ({ ...one, measuredOn: onUnknownBaffle })),
});

/** The same as a document that knew no boxes has it. */
export const withoutBoxes = (design: Design): Design => ({
  ...design,
  boxes: [],
  measurements: design.measurements.map((one) => ({ ...one, inBox: inUnknownBox })),
});

/** A design all of whose values a fit may move. */
export const allFree = (design: Design): Design => ({
  ...design,
  ways: design.ways.map((way) => ({
    ...way,
    parts: way.parts.map((part) => ({ ...part, fit: { ...part.fit, isFree: true } })),
  })),
});

/**
 * A design whose drivers were measured off their axes as well: pistons of their areas in a wall, to
 * 30° on one side.
 */
export function withOffAxis(design: Design, data: MeasurementData) {
  const numbers = new Map(data);
  const speed = speedOfSoundMps(design.airTemperatureC);
  const measurements = [...design.measurements];
  const drivers = design.drivers.map((driver) => {
    const axis = data.get(driver.responseId!)!;
    const radiusM = Math.sqrt((driver.sheet.sdCm2 ?? 10) / 1e4 / Math.PI);
    const offAxisIds = [10, 20, 30].map((degrees) => {
      const sine = Math.sin((degrees * Math.PI) / 180);
      const [axisMm, pathMm] = [0, degrees].map((one) =>
        pathToMm(
          driver.position,
          pointAtMm(headingOf({ plane: 'horizontal', degrees: one }), 1000),
        ),
      );
      const wavenumber = axis.frequencyHz.map((hz) => (2 * Math.PI * hz) / speed);
      const magnitude = axis.magnitude.map((db, i) => {
        const size = Math.abs(pistonDirectivity(wavenumber[i] * radiusM * sine));
        return db + 20 * Math.log10((size * axisMm) / pathMm);
      });
      const phaseDeg = axis.phaseDeg!.map(
        (phase, i) => phase - (wavenumber[i] * (pathMm - axisMm) * 180) / 1000 / Math.PI,
      );
      const samples = { ...axis, magnitude, phaseDeg };
      const id = samplesId(samples);
      numbers.set(id, samples);
      measurements.push({
        ...measurementStatement(id, 'response'),
        angle: { plane: 'horizontal', degrees },
      });
      return id;
    });
    return { ...driver, offAxisIds };
  });
  return { design: { ...design, measurements, drivers }, data: numbers };
}

/** Repeatable chance between 0 and 1. */
export function seededRandom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1664525 + 1013904223) % 4294967296;
    return state / 4294967296;
  };
}

/** A range by the middle of the louder places: of a made-up level on a grid of 48 an octave. */
export function rangeOfLevel(levelDb: Float64Array): WayPrediction['range'] {
  const most = Math.max(...levelDb);
  const loud = [...levelDb.keys()].filter((i) => levelDb[i] >= most - 6);
  const middle = loud.reduce((sum, i) => sum + i, 0) / Math.max(1, loud.length);
  return { middleOctaves: middle / 48, fsHz: null, sdCm2: null };
}

/**
 * A predicted way with a level and a phase in degrees, the same everywhere or one for each
 * frequency.
 */
export function heardWay(
  wayId: string,
  levelDb: Float64Array,
  phaseDeg: number | Float64Array = 0,
): WayPrediction {
  const part = (of: (radians: number) => number) =>
    levelDb.map((db, i) => {
      const degrees = typeof phaseDeg === 'number' ? phaseDeg : phaseDeg[i];
      return 10 ** (db / 20) * of((degrees * Math.PI) / 180);
    });
  const pressure = { re: part(Math.cos), im: part(Math.sin) };
  return { wayId, range: rangeOfLevel(levelDb), levelDb, pressure, voltage: pressure, gaps: [] };
}
