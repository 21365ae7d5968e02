import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';

/** Voltage at which sensitivity is stated: 1 W into 8 Ω. */
export const sensitivityVolts = Math.sqrt(8);

/** 20 µPa. */
const referencePascals = 20e-6;

/**
 * Reference efficiency in half space, η₀ = 4π²·fs³·Vas/(c³·Qes) (Small, J. Audio Eng. Soc. 20,
 * 1972).
 *
 * @param fsHz resonance, Hz
 * @param vasLitres equivalent volume of the suspension, litres
 */
export function referenceEfficiency(
  fsHz: number,
  vasLitres: number,
  qes: number,
  temperatureC = 20,
): number {
  const c = speedOfSoundMps(temperatureC);
  return (4 * Math.PI ** 2 * fsHz ** 3 * (vasLitres / 1000)) / (c ** 3 * qes);
}

/**
 * Level that an efficiency gives for 1 W at 1 m in half space: 10·log(η₀·ρc/(2π·p₀²)), 112 dB for
 * η₀ = 1.
 */
export function levelForEfficiencyDb(efficiency: number, temperatureC = 20): number {
  const intensity = efficiency / (2 * Math.PI);
  const impedance = airDensityKgpm3(temperatureC) * speedOfSoundMps(temperatureC);
  return 10 * Math.log10((intensity * impedance) / referencePascals ** 2);
}

/** The inverse of {@link levelForEfficiencyDb}. */
export const efficiencyForLevel = (levelDb: number, temperatureC = 20): number =>
  10 ** ((levelDb - levelForEfficiencyDb(1, temperatureC)) / 10);
