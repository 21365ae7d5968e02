/**
 * Speed of sound in dry air in m/s. c = 331.3·√(1 + T/273.15), ideal gas with γ = 1.4; the figure
 * 331.3 m/s at 0 °C is a handbook value (recalled, within 0.1 % of ISO 9613-1). At 20 °C it gives
 * 343.2 m/s.
 *
 * @param temperatureC air temperature in degrees Celsius, above −100
 * @throws RangeError when the temperature is not a number above −100 °C
 */
export function speedOfSoundMps(temperatureC: number): number {
  if (!(temperatureC > -100))
    throw new RangeError(`Air temperature ${temperatureC} °C is not usable.`);
  return 331.3 * Math.sqrt(1 + temperatureC / 273.15);
}
