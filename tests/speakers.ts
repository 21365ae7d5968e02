/**
 * Made-up speakers besides the demo, from the same physical models that the practice rig measures:
 * for searches and fits that should not know only one system.
 */
import { emptySheet, type DriverSheet } from '@/core/document/briefSchema';
import { emptyDesign, emptyDriver, endAt, plainWay, type Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { samplesId, type MeasurementData, type Samples } from '@/core/measurement/samples';
import { impedance, pressure, type BaffleModel, type DriverModel } from '@/core/rig/models';
import { readingRoomDrivers } from '@/core/rig/readingRoom';
import { measurementStatement } from './fixtures';

interface Speaker {
  readonly baffle: BaffleModel;
  readonly drivers: Readonly<
    Record<string, { readonly model: DriverModel; readonly sheet: Partial<DriverSheet> }>
  >;
}

const { woofer, midrange, tweeter } = readingRoomDrivers;

/** A 165 mm woofer and a dome on a narrow front. */
const twoWay: Speaker = {
  baffle: { leftMm: -100, rightMm: 100, topMm: 120, bottomMm: -280 },
  drivers: {
    Woofer: {
      model: {
        ...midrange,
        ...{ fcHz: 58, qmc: 4, qec: 0.6, movingMassKg: 0.0145, areaM2: 0.0133, reOhm: 5.8 },
        ...{ coilK: 0.007, rollOffHz: 4800, rollOffQ: 0.8, xMm: 0, yMm: -70, zMm: -24 },
        resonances: [
          [1400, 4, -1.5],
          [4200, 6, 4],
        ],
      },
      sheet: { fsHz: 42, sdCm2: 133, xmaxMm: 4.5, ratedWatts: 60 },
    },
    Dome: {
      model: { ...tweeter, fcHz: 950, yMm: 70, zMm: -3, xMm: 0 },
      sheet: { fsHz: 950, sdCm2: 7, xmaxMm: 0.3, ratedWatts: 10, ratedAs: 'noise' },
    },
  },
};

/** A 12″ woofer and a horn that is some 10 dB louder and has a small dome's resonance. */
const horn: Speaker = {
  baffle: { leftMm: -200, rightMm: 200, topMm: 200, bottomMm: -420 },
  drivers: {
    Woofer: {
      model: {
        ...woofer,
        ...{ fcHz: 52, qec: 0.5, movingMassKg: 0.045, areaM2: 0.053, xMm: 0, yMm: -200, zMm: -60 },
        rollOffHz: 3200,
        resonances: [
          [900, 4, -1.5],
          [2400, 7, 4],
        ],
      },
      sheet: { fsHz: 38, sdCm2: 530, xmaxMm: 5, ratedWatts: 150 },
    },
    Horn: {
      model: {
        ...tweeter,
        ...{ fcHz: 560, qmc: 2, qec: 0.9, movingMassKg: 0.00012, areaM2: 0.0009, reOhm: 6 },
        ...{ xMm: 0, yMm: 60, zMm: -190, rollOffHz: 17_000 },
      },
      sheet: { fsHz: 560, sdCm2: 9, xmaxMm: 0.25, ratedWatts: 25, ratedAs: 'noise' },
    },
  },
};

/** The demo's drivers with another midrange below theirs. */
const fourWay: Speaker = {
  baffle: { leftMm: -160, rightMm: 160, topMm: 250, bottomMm: -750 },
  drivers: {
    Woofer: {
      model: { ...woofer, yMm: -560 },
      sheet: { fsHz: 28, sdCm2: 335, xmaxMm: 6.5, ratedWatts: 80 },
    },
    'Low midrange': {
      model: {
        ...midrange,
        ...{ fcHz: 72, qec: 0.55, movingMassKg: 0.014, areaM2: 0.0135, rollOffHz: 4200 },
        ...{ yMm: -250, zMm: -30, coilK: 0.0065 },
      },
      sheet: { fsHz: 50, sdCm2: 135, xmaxMm: 4, ratedWatts: 60 },
    },
    Midrange: {
      model: { ...midrange, yMm: -60 },
      sheet: { fsHz: 78, sdCm2: 76, xmaxMm: 2, ratedWatts: 50 },
    },
    Tweeter: {
      model: { ...tweeter, yMm: 60 },
      sheet: { fsHz: 820, sdCm2: 7, xmaxMm: 0.3, ratedWatts: 10, ratedAs: 'noise' },
    },
  },
};

/** An 80 mm woofer of 3 Ω in two litres and a 20 mm dome: little bass, a low load. */
const tiny: Speaker = {
  baffle: { leftMm: -60, rightMm: 60, topMm: 60, bottomMm: -140 },
  drivers: {
    Woofer: {
      model: {
        ...midrange,
        ...{ fcHz: 125, qmc: 4, qec: 0.8, movingMassKg: 0.0034, areaM2: 0.0032, reOhm: 3 },
        ...{ coilK: 0.0022, rollOffHz: 8500, rollOffQ: 0.8, xMm: 0, yMm: -45, zMm: -14 },
        resonances: [
          [1900, 4, -1.5],
          [7400, 6, 4],
        ],
      },
      sheet: { fsHz: 85, sdCm2: 32, xmaxMm: 3, ratedWatts: 20 },
    },
    Dome: {
      model: {
        ...tweeter,
        ...{ fcHz: 1350, areaM2: 0.0004, movingMassKg: 0.0002, reOhm: 3, yMm: 25, zMm: -2, xMm: 0 },
      },
      sheet: { fsHz: 1350, sdCm2: 4, xmaxMm: 0.2, ratedWatts: 8, ratedAs: 'noise' },
    },
  },
};

/** A three-way whose midrange breaks up by 8 dB at 5 kHz, with a loud horn. */
const breaking: Speaker = {
  baffle: { leftMm: -160, rightMm: 160, topMm: 190, bottomMm: -620 },
  drivers: {
    Woofer: {
      model: { ...woofer, yMm: -400 },
      sheet: { fsHz: 28, sdCm2: 335, xmaxMm: 6.5, ratedWatts: 80 },
    },
    Midrange: {
      model: {
        ...midrange,
        ...{ fcHz: 88, qec: 0.55, movingMassKg: 0.0115, areaM2: 0.0125, rollOffHz: 6500 },
        ...{ yMm: -150, zMm: -26, coilK: 0.0045 },
        resonances: [
          [1200, 4, -1.5],
          [5000, 7, 14],
        ],
      },
      sheet: { fsHz: 52, sdCm2: 125, xmaxMm: 3, ratedWatts: 50 },
    },
    Horn: {
      model: {
        ...tweeter,
        ...{ fcHz: 620, qmc: 2, qec: 0.9, movingMassKg: 0.00014, areaM2: 0.0008, reOhm: 6 },
        ...{ xMm: 0, yMm: 80, zMm: -120, rollOffHz: 18_000 },
      },
      sheet: { fsHz: 620, sdCm2: 8, xmaxMm: 0.3, ratedWatts: 20, ratedAs: 'noise' },
    },
  },
};

/** Force factor by mass, resonance and electrical Q: Bl = √(ω·m·Re/Q). */
const forceFactor = ({ fcHz, movingMassKg, reOhm, qec }: DriverModel) =>
  Math.sqrt((2 * Math.PI * fcHz * movingMassKg * reOhm) / qec);

function made(
  { baffle, drivers }: Speaker,
  name: string,
): { design: Design; data: MeasurementData } {
  const frequencyHz = logGrid(12, 23_000, 36);
  const table = (
    at: (hz: number) => readonly [re: number, im: number],
    isLevel: boolean,
  ): Samples => {
    const points = Array.from(frequencyHz, at);
    const size = points.map(([re, im]) => Math.hypot(re, im));
    return {
      frequencyHz,
      magnitude: Float64Array.from(size, (one) => (isLevel ? 20 * Math.log10(one / 20e-6) : one)),
      phaseDeg: Float64Array.from(points, ([re, im]) => (Math.atan2(im, re) * 180) / Math.PI),
    };
  };
  const data = new Map<string, Samples>();
  const made = Object.entries(drivers).map(([driverName, { model, sheet }]) => {
    const response = table((hz) => pressure(model, baffle, hz, 2.83), true);
    const load = table((hz) => impedance(model, hz), false);
    const [responseId, impedanceId] = [response, load].map(samplesId);
    data.set(responseId, response).set(impedanceId, load);
    return {
      ...emptyDriver(driverName.toLowerCase().replace(' ', '-'), driverName),
      ...{ responseId, impedanceId, sheet: { ...emptySheet, blTm: forceFactor(model), ...sheet } },
      position: { xMm: model.xMm, yMm: model.yMm, zMm: model.zMm },
    };
  });
  return {
    data,
    design: {
      ...emptyDesign(name),
      measurements: made.flatMap(({ responseId, impedanceId }) => [
        measurementStatement(responseId, 'response'),
        measurementStatement(impedanceId, 'impedance'),
      ]),
      drivers: made,
      ways: made.map((driver) => ({
        ...plainWay,
        ...{ id: `way-${driver.id}`, name: driver.name, ends: [endAt(driver.id)] },
        ...{ parts: [], groups: [] },
      })),
    },
  };
}

/** The speakers, none of which has a brief or a network. */
export const speakers = {
  'a two-way': made(twoWay, 'Two-way'),
  'a horn two-way': made(horn, 'Horn'),
  'a four-way': made(fourWay, 'Four-way'),
  'a tiny two-way': made(tiny, 'Tiny'),
  'a three-way that breaks up': made(breaking, 'Breaking'),
};
