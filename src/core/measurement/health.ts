import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { problem, type Problem } from '@/core/problem';
import { decibels } from '@/core/spectrum/level';
import { bulkDelaySeconds, wrapped } from '@/core/spectrum/phase';
import { impulseOfSpectrum, isEven } from './evenSpectrum';
import { arrivalSeconds, type Impulse } from './impulse';
import { endSlope, interpolated } from './interpolate';
import type { Step } from './steps/kinds';
import type { Samples } from './samples';
import { smoothed } from './smooth';

/** Something about a measurement that its user should know before trusting it. */
export interface HealthFinding extends Problem {
  /** A step that would mend it. */
  readonly remedy: Step | null;
}

export const finding = (
  remedy: Step | null,
  ...told: Parameters<typeof problem>
): HealthFinding => ({
  ...problem(...told).problem,
  remedy,
});

/** Of air at 20 °C; a measurement does not say how warm it was. */
const airMps = speedOfSoundMps(20);
export const hz = (value: number) =>
  value >= 1000 ? `${(value / 1000).toPrecision(3)} kHz` : `${value.toPrecision(3)} Hz`;

/** What looks wrong in a response, the gravest first. Thresholds are common practice. */
export function responseHealth(samples: Samples): HealthFinding[] {
  const few = fewPoints(samples);
  if (few.length > 0) return few;
  const echoes = reflections(samples);
  return [
    ...levelUnit(samples),
    ...phaseHealth(samples),
    ...echoes,
    ...hum(samples),
    // The ripple of an echo would pass for noise: look again when it is gated out.
    ...(echoes.length === 0 ? noiseFloor(samples) : []),
  ];
}

/** Fewer points than this in an octave are no curve of a driver; crude, from experience. */
const fewestInOctave = 3;

function fewPoints({ frequencyHz }: Samples): HealthFinding[] {
  const octaves = Math.log2(frequencyHz[frequencyHz.length - 1] / frequencyHz[0]);
  if (frequencyHz.length >= Math.max(4, fewestInOctave * octaves)) return [];
  return [
    finding(
      null,
      'few_points',
      `${frequencyHz.length} points in ${octaves.toFixed(1)} octaves`,
      'These are too few points for a response.',
      'Between them a straight line is drawn; breakups, steps and notches would be missed.',
      'Export the curve with at least 12 points in an octave.',
    ),
  ];
}

/**
 * Levels of a driver at 1 m lie between about 50 and 120 dB; a ratio to full scale lies around or
 * below 0.
 */
function levelUnit({ magnitude }: Samples): HealthFinding[] {
  const highest = magnitude.reduce((high, level) => Math.max(high, level), -Infinity);
  const lowest = magnitude.reduce((low, level) => Math.min(low, level), Infinity);
  if (lowest >= 0 && highest < 3)
    return [
      finding(
        null,
        'level_unit',
        `highest ${highest.toFixed(3)}`,
        'These levels look like a linear magnitude, not decibels.',
        'All lie between 0 and 3.',
        'Say so in the header (“linear”, “Pa”) and read the file again.',
      ),
    ];
  if (highest < 30)
    return [
      finding(
        { kind: 'level', isOn: true, addedDb: Math.round(85 - highest) },
        'level_reference',
        `highest ${highest.toFixed(1)} dB`,
        'These levels have no absolute reference.',
        'A driver at 1 m and 2.83 V gives 75 to 100 dB.',
        'Add the sensitivity of microphone and amplifier as a level; the step offered puts the peak at 85 dB for a start.',
      ),
    ];
  if (highest > 135)
    return [
      finding(
        null,
        'level_unit',
        `highest ${highest.toFixed(0)} dB`,
        'These levels are higher than drivers give at 1 m.',
        'A near field, or another unit?',
        'Check the unit and the distance.',
      ),
    ];
  return [];
}

/**
 * Between neighbouring points the phase may move by less than half a turn, or it can't be followed.
 */
const coarseTurn = (2 * Math.PI) / 3;

function phaseHealth({ frequencyHz, magnitude, phaseDeg }: Samples): HealthFinding[] {
  if (!phaseDeg)
    return [
      finding(
        { kind: 'phase', isOn: true, keepsDelay: false },
        'no_phase',
        'phase',
        'There is no phase.',
        'Sums with other drivers need one.',
        'Derive the minimum phase; the path then counts from the driver’s position.',
      ),
    ];
  const phase = phaseDeg.map((angle) => (angle * Math.PI) / 180);
  const delay = bulkDelaySeconds(frequencyHz, phase);
  const rest = phase.map((angle, i) => angle + 2 * Math.PI * frequencyHz[i] * delay);
  const loud = loudBand(magnitude);
  const coarse = [...frequencyHz.keys()].find(
    (i) => i > 0 && loud(i) && loud(i - 1) && Math.abs(wrapped(rest[i] - rest[i - 1])) > coarseTurn,
  );
  const found: HealthFinding[] = [];
  if (coarse !== undefined)
    found.push(
      finding(
        null,
        'coarse_phase',
        hz(frequencyHz[coarse]),
        `The phase turns by more than 120° from one point to the next at ${hz(frequencyHz[coarse])}.`,
        'There are too few points, or noise; whole turns can’t be told.',
        'Export more points per octave, or derive the minimum phase.',
      ),
    );
  if (Math.abs(delay) > 0.0004)
    found.push(
      finding(
        null,
        'bulk_delay',
        `${(delay * 1000).toFixed(2)} ms`,
        `The phase holds a delay of ${(delay * 1000).toFixed(2)} ms, ${(delay * airMps).toFixed(2)} m of flight.`,
        'With timing common to the set it places the driver; without it has no meaning.',
        'State the timing below. The path is then counted once.',
      ),
    );
  return found;
}

/** Whether a level is within 25 dB of the highest: where a driver is worth looking at. */
function loudBand(magnitude: Float64Array): (i: number) => boolean {
  const highest = magnitude.reduce((high, level) => Math.max(high, level), -Infinity);
  return (i) => magnitude[i] > highest - 25;
}

/** An echo counts from this time after the arrival, and from this share of the direct sound. */
const firstEchoSeconds = 0.0015;
const echoShare = 0.12;

function reflections(samples: Samples): HealthFinding[] {
  if (!isEven(samples)) return [];
  const impulse = impulseOfSpectrum(samples);
  const echo = strongestEcho(impulse);
  if (!echo) return [];
  const gateMs = Math.floor((echo.seconds - 0.0003) * 1e4) / 10;
  return [
    finding(
      { kind: 'gate', isOn: true, lengthMs: gateMs },
      'reflection',
      `${(echo.seconds * 1000).toFixed(2)} ms`,
      `A reflection arrives ${(echo.seconds * 1000).toFixed(2)} ms after the direct sound, ${(echo.seconds * airMps).toFixed(2)} m farther, at ${decibels(echo.share).toFixed(0)} dB.`,
      'It ripples the whole curve.',
      `Gate at ${gateMs} ms; the curve is then valid from about ${hz(1000 / gateMs)}, and nowhere shows anything finer than that.`,
    ),
  ];
}

/** The strongest later peak of the impulse's high part: low frequencies ring, an echo is sharp. */
function strongestEcho(
  impulse: Impulse,
): { readonly seconds: number; readonly share: number } | null {
  const { samples, sampleRateHz } = impulse;
  const start = Math.round(arrivalSeconds(impulse) * sampleRateHz);
  const steep = samples.map((value, i) =>
    i > 1 ? value - 2 * samples[i - 1] + samples[i - 2] : 0,
  );
  const peak = (from: number, to: number) => {
    let at = from;
    for (let i = from; i < Math.min(to, steep.length); i++)
      if (Math.abs(steep[i]) > Math.abs(steep[at])) at = i;
    return at;
  };
  const direct = peak(Math.max(0, start - 24), start + 0.001 * sampleRateHz);
  const first = direct + Math.round(firstEchoSeconds * sampleRateHz);
  const echo = peak(first, direct + 0.03 * sampleRateHz);
  const share = Math.abs(steep[echo] / steep[direct]);
  // Ringing falls steadily: an echo stands out of what comes just before it.
  const before = peak(Math.max(first, echo - Math.round(0.001 * sampleRateHz)), echo - 12);
  const standsOut = before >= echo - 12 || Math.abs(steep[echo]) > 2 * Math.abs(steep[before]);
  return share > echoShare && standsOut && echo > first
    ? { seconds: (echo - direct) / sampleRateHz, share }
    : null;
}

/** Narrow peaks at multiples of the mains frequency. */
function hum(samples: Samples): HealthFinding[] {
  const { frequencyHz, magnitude } = samples;
  const smooth = smoothed(samples, 1).magnitude;
  for (const mains of [50, 60]) {
    const peaks = [1, 2, 3, 5].flatMap((k) => {
      const near = [...frequencyHz.keys()].filter(
        (i) => Math.abs(frequencyHz[i] / (k * mains) - 1) < 0.03,
      );
      if (near.length === 0) return [];
      const rise = Math.max(...near.map((i) => magnitude[i] - smooth[i]));
      const beside = [...frequencyHz.keys()].filter((i) => {
        const ratio = Math.abs(frequencyHz[i] / (k * mains) - 1);
        return ratio > 0.08 && ratio < 0.2;
      });
      const usual = Math.max(0, ...beside.map((i) => Math.abs(magnitude[i] - smooth[i])));
      return rise > 3 && rise > 2 * usual ? [{ at: k * mains, rise }] : [];
    });
    if (peaks.length > 0)
      return [
        finding(
          null,
          'hum',
          peaks.map(({ at }) => `${at} Hz`).join(', '),
          `Mains hum at ${peaks.map(({ at, rise }) => `${at} Hz (+${rise.toFixed(0)} dB)`).join(', ')}.`,
          'It is not the driver’s.',
          'Measure louder or with better earthing, or bridge these stretches.',
        ),
      ];
  }
  return [];
}

/** Scatter of neighbouring points above which a curve is noise, dB rms. */
const noiseScatterDb = 1;

/** Where the ends of a curve are noise: neighbouring points scatter about their smoothed course. */
function noiseFloor(samples: Samples): HealthFinding[] {
  const { frequencyHz, magnitude } = samples;
  const smooth = smoothed(samples, 1 / 6).magnitude;
  const isNoisy = (fromHz: number) => {
    const within = [...frequencyHz.keys()].filter(
      (i) => frequencyHz[i] >= fromHz && frequencyHz[i] < fromHz * 1.26,
    );
    if (within.length < 4) return false;
    const square = within.reduce((sum, i) => sum + (magnitude[i] - smooth[i]) ** 2, 0);
    return Math.sqrt(square / within.length) > noiseScatterDb;
  };
  const last = frequencyHz[frequencyHz.length - 1];
  const highest = [...frequencyHz.keys()].reduce(
    (a, b) => (magnitude[b] > magnitude[a] ? b : a),
    0,
  );
  const middle = frequencyHz[highest];
  let [low, high] = [frequencyHz[0], last];
  while (low < middle && isNoisy(low)) low *= 1.26;
  while (high > middle && isNoisy(high / 1.26)) high /= 1.26;
  const found: string[] = [];
  if (low > frequencyHz[0] * 1.2) found.push(`below ${hz(low)}`);
  if (high < last / 1.2) found.push(`above ${hz(high)}`);
  if (found.length === 0) return [];
  const inner = {
    frequencyHz: frequencyHz.filter((f) => f >= low && f <= high),
    magnitude: magnitude.filter((_, i) => frequencyHz[i] >= low && frequencyHz[i] <= high),
  };
  const nearest = (slope: number) => 6 * Math.round(slope / 6);
  return [
    finding(
      {
        kind: 'tails',
        isOn: true,
        belowHz: Math.max(low, frequencyHz[0]),
        belowDbPerOctave: Math.max(
          0,
          nearest(endSlope(inner.frequencyHz, inner.magnitude, 'below')),
        ),
        aboveHz: Math.min(high, last),
        aboveDbPerOctave: Math.min(
          0,
          nearest(endSlope(inner.frequencyHz, inner.magnitude, 'above')),
        ),
      },
      'noise_floor',
      found.join(' and '),
      `The curve is noise ${found.join(' and ')}.`,
      'Neighbouring points scatter by more than 1 dB.',
      'Put straight tails there; check their slopes against the kind of driver.',
    ),
  ];
}

/**
 * Whether a response and an impedance can belong to one driver: none plays far below its own
 * resonance as loudly as above.
 *
 * @returns a finding when they look swapped
 */
export function pairHealth(response: Samples, impedance: Samples): HealthFinding[] {
  const { frequencyHz, magnitude } = impedance;
  const inside = [...frequencyHz.keys()].filter((i) => i > 0 && i < frequencyHz.length - 1);
  const peaks = inside.filter(
    (i) =>
      magnitude[i] > magnitude[i - 1] && magnitude[i] >= magnitude[i + 1] && frequencyHz[i] < 5000,
  );
  if (peaks.length === 0) return [];
  const peak = peaks.reduce((a, b) => (magnitude[b] > magnitude[a] ? b : a));
  const resonance = frequencyHz[peak];
  const [at, above] = interpolated(
    response.frequencyHz,
    smoothed(response, 1 / 3).magnitude,
    Float64Array.of(resonance / 4, 2 * resonance),
  );
  const isLoudBelow = at > above - 6 && response.frequencyHz[0] < resonance / 4;
  return isLoudBelow
    ? [
        finding(
          null,
          'swapped',
          hz(resonance),
          `The impedance has its resonance at ${hz(resonance)}, but the response plays two octaves below as loudly.`,
          'They belong to different drivers, or two files were swapped.',
          'Check which file is whose.',
        ),
      ]
    : [];
}
