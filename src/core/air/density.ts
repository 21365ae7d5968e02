/**
 * Density of dry air in kg/m³ at 101 325 Pa: ρ = p/(R·T), R = 287.05 J/(kg·K) for dry air (ideal
 * gas; constants from memory). At 20 °C it gives 1.204 kg/m³.
 *
 * @param temperatureC air temperature in degrees Celsius
 */
export const airDensityKgpm3 = (temperatureC: number): number =>
  101_325 / (287.05 * (temperatureC + 273.15));
