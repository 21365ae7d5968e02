import { airDensityKgpm3 } from './density';
import { speedOfSoundMps } from './speedOfSound';

// ISO 2533:1975, standard atmosphere at sea level: 15 °C, 1.225 kg/m³, 340.294 m/s.
test('air at 15 °C has the density and the speed of sound of the standard atmosphere', () => {
  expect(airDensityKgpm3(15)).toBeCloseTo(1.225, 3);
  expect(Math.abs(speedOfSoundMps(15) - 340.294)).toBeLessThan(0.5);
});

// Handbook values for dry air at 101.325 kPa (CRC Handbook, from memory): kg/m³.
test.each([
  [-10, 1.341],
  [0, 1.293],
  [10, 1.247],
  [20, 1.204],
  [30, 1.164],
  [40, 1.127],
])('at %d °C a cubic metre weighs %d kg', (celsius, kg) =>
  expect(Math.abs(airDensityKgpm3(celsius) - kg)).toBeLessThan(1.5e-3),
);

test('warm air is lighter and faster, and ρc² hardly moves: it is 1.4 times the pressure', () => {
  for (const celsius of [-20, 0, 20, 45]) {
    const stiffness = airDensityKgpm3(celsius) * speedOfSoundMps(celsius) ** 2;
    expect(Math.abs(stiffness / (1.4 * 101_325) - 1)).toBeLessThan(0.004);
    expect(airDensityKgpm3(celsius + 1)).toBeLessThan(airDensityKgpm3(celsius));
    expect(speedOfSoundMps(celsius + 1)).toBeGreaterThan(speedOfSoundMps(celsius));
  }
});
