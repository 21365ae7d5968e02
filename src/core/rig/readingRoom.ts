import type { BaffleModel, DriverModel } from './models';

/** The demo's cabinet and drivers, invented: a 250 mm woofer, a 120 mm midrange, a 25 mm dome. */
export const readingRoomBaffle: BaffleModel = {
  leftMm: -150,
  rightMm: 150,
  topMm: 190,
  bottomMm: -520,
};

export const readingRoomDrivers: Record<'woofer' | 'midrange' | 'tweeter', DriverModel> = {
  woofer: {
    fcHz: 47,
    qmc: 5.2,
    qec: 0.68,
    movingMassKg: 0.036,
    areaM2: 0.0335,
    reOhm: 5.3,
    coilK: 0.0135,
    coilN: 0.7,
    rollOffHz: 2300,
    rollOffQ: 0.75,
    resonances: [
      [1150, 6, 4.5],
      [1700, 8, -5],
      [2600, 9, 6],
      [620, 5, -1.6],
    ],
    xMm: 0,
    yMm: -330,
    zMm: -48,
  },
  midrange: {
    fcHz: 118,
    qmc: 3.4,
    qec: 0.62,
    movingMassKg: 0.0066,
    areaM2: 0.0076,
    reOhm: 5.6,
    coilK: 0.0042,
    coilN: 0.72,
    rollOffHz: 7800,
    rollOffQ: 0.8,
    resonances: [
      [1050, 4, -1.8],
      [4600, 5, 3.2],
      [6900, 9, 5.5],
      [9300, 8, -6],
    ],
    xMm: 0,
    yMm: -78,
    zMm: -21,
  },
  tweeter: {
    fcHz: 820,
    qmc: 2.1,
    qec: 1.05,
    movingMassKg: 0.00034,
    areaM2: 0.0007,
    reOhm: 4.7,
    coilK: 0.0011,
    coilN: 0.72,
    rollOffHz: 23500,
    rollOffQ: 1.3,
    resonances: [
      [2600, 3, 1.4],
      [9800, 4, -1.8],
      [15500, 5, 1.6],
    ],
    xMm: 0,
    yMm: 66,
    zMm: -4,
  },
};
