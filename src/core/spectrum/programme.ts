/**
 * Simulated programme of IEC 60268-1: level of each third of an octave against the loudest, dB.
 * From memory, within a decibel; between the bands by straight lines over log frequency.
 */
const bands: readonly (readonly [hz: number, db: number])[] = [
  [20, -13.5],
  [25, -10.2],
  [31.5, -7.4],
  [40, -5.2],
  [50, -3.3],
  [63, -2],
  [80, -1.1],
  [100, -0.6],
  [125, -0.2],
  [160, 0],
  [800, 0],
  [1000, -0.1],
  [1250, -0.3],
  [1600, -0.6],
  [2000, -1],
  [2500, -1.6],
  [3150, -2.5],
  [4000, -3.7],
  [5000, -5.1],
  [6300, -7],
  [8000, -9.4],
  [10_000, -11.9],
  [12_500, -14.8],
  [16_000, -18.2],
  [20_000, -21.6],
];

function levelDb(hz: number): number {
  if (hz < bands[0][0] || hz > bands[bands.length - 1][0]) return -Infinity;
  const above = Math.max(
    1,
    bands.findIndex(([centre]) => centre >= hz),
  );
  const [[lowHz, lowDb], [highHz, highDb]] = [bands[above - 1], bands[above]];
  return lowDb + ((highDb - lowDb) * Math.log(hz / lowHz)) / Math.log(highHz / lowHz);
}

/**
 * Share of the programme's power at each frequency of a grid that is even in log frequency; the
 * shares add up to 1.
 *
 * @param frequencyHz rising, evenly spaced in logarithm, so that each point represents as much of
 *   an octave as the others
 */
export function programmeShares(frequencyHz: Float64Array): Float64Array {
  const power = frequencyHz.map((hz) => 10 ** (levelDb(hz) / 10));
  const total = power.reduce((sum, value) => sum + value, 0);
  return power.map((value) => value / total);
}
