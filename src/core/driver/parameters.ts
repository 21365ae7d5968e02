import type { Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { leastSquares } from '@/core/search/leastSquares';
import { terminalImpedance, unloaded, type Loading, type TerminalModel } from './model';
import {
  type ParameterFit,
  type SecondRun,
  type FitOptions,
  type Fitted,
  place,
  parametersOf,
} from './thieleSmall';

/** How many logarithms a second run adds. */
const extraCount = (second: SecondRun | null): number =>
  second === null ? 0 : second.kind === 'added-mass' ? 1 : 3;

/**
 * Driver parameters from impedance with phase, by least squares of the whole complex curves, all
 * runs at once. The residuals are relative to the magnitude, as the errors of an impedance rig are.
 * A ladder L2 ∥ R2 or a semi-inductance is added to the plain inductance when it explains more than
 * chance would (Schwarz's criterion, 1978).
 *
 * @param free impedance in free air, ohms and degrees
 * @param second driver with added mass, or on a closed box of known volume; null leaves Vas, Mms,
 *   Cms and Bl unknown
 * @throws ProblemError `impedance_needs_phase`, `no_resonance`
 */
export function fitDriver(
  free: Samples,
  second: SecondRun | null,
  options: FitOptions,
): ParameterFit {
  const runs = [free, ...(second ? [second.samples] : [])].map((samples, i) =>
    complexImpedance(samples, i === 0 ? 'free air' : second!.kind, options.leadOhm ?? 0),
  );
  const start = firstGuess(runs[0], options.reOhm ?? null);
  const plain = fitModel(runs, second, start, options, 'plain');
  const from = [...plain.fit.parameters];
  const others = (['ladder', 'semi'] as const).map((coil) =>
    fitModel(runs, second, from, options, coil),
  );
  const points = 2 * runs.reduce((sum, run) => sum + run.hz.length, 0);
  const score = ({ fit }: Fitted) =>
    points * Math.log(fit.squares / points + 1e-24) + fit.parameters.length * Math.log(points);
  const best = others
    .filter(({ isPlausible }) => isPlausible)
    .reduce((a, b) => (score(b) < score(a) ? b : a), plain);
  return parametersOf(best, second, points, options);
}

interface Run {
  readonly hz: Float64Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

function complexImpedance(
  { frequencyHz, magnitude, phaseDeg }: Samples,
  what: string,
  leadOhm: number,
): Run {
  if (!phaseDeg)
    throw problem(
      'impedance_needs_phase',
      what,
      'This impedance has no phase.',
      'The whole complex curve is fitted.',
      'Measure or export it with phase.',
    );
  const angle = phaseDeg.map((degrees) => (degrees * Math.PI) / 180);
  return {
    hz: frequencyHz,
    re: magnitude.map((ohms, i) => ohms * Math.cos(angle[i]) - leadOhm),
    im: magnitude.map((ohms, i) => ohms * Math.sin(angle[i])),
  };
}

/** Peak, its height over the resistance and its width (Small 1972), as a place to start from. */
function firstGuess({ hz, re, im }: Run, givenRe: number | null): number[] {
  const size = re.map((x, i) => Math.hypot(x, im[i]));
  const reOhm =
    givenRe ?? Math.max(size.reduce((low, z) => Math.min(low, z), Infinity) * 0.95, 0.05);
  // The resonance is the highest point at which the phase passes through zero; the coil's rise has
  // no such place.
  let peak = -1;
  for (let i = 1; i < hz.length - 1; i++) {
    const isCrossing = im[i - 1] >= 0 && im[i + 1] <= 0;
    if (isCrossing && size[i] > size[0] * 0.9 && (peak < 0 || size[i] > size[peak])) peak = i;
  }
  if (peak < 0 || size[peak] < 1.15 * reOhm)
    throw problem(
      'no_resonance',
      'free air',
      'This impedance shows no resonance.',
      'Its phase never falls through zero at a peak.',
      'Measure the driver in free air, from well below its resonance.',
    );
  const r0 = size[peak] / reOhm;
  const level = reOhm * Math.sqrt(r0);
  let [low, high] = [peak, peak];
  while (low > 0 && size[low] > level) low--;
  while (high < hz.length - 1 && size[high] > level) high++;
  const qms = Math.max(
    0.3,
    (hz[peak] * Math.sqrt(r0)) / Math.max(hz[high] - hz[low], hz[peak] * 0.01),
  );
  const last = hz.length - 1;
  const le = Math.max(im[last] / (2 * Math.PI * hz[last]), 1e-6);
  return [hz[peak], qms, qms / (r0 - 1), reOhm, le].map(Math.log);
}

function fitModel(
  runs: readonly Run[],
  second: SecondRun | null,
  startFrom: readonly number[],
  { reOhm }: FitOptions,
  coil: 'plain' | 'ladder' | 'semi',
): Fitted {
  const extraAt = second ? 5 : -1;
  // The second run's excess first; in a box then its mass and its losses.
  const coilAt = 5 + extraCount(second);
  const start = startFrom.slice(0, coilAt);
  if (second && start.length < coilAt)
    start.push(...[extraGuess(runs, second.kind), 0, 0].slice(0, extraCount(second)));
  const le = Math.exp(start[place.le]);
  // The eddy currents take over some of the plain inductance: begin with half of it, turning over
  // mid-band.
  if (coil === 'ladder') {
    start[place.le] = Math.log(le / 2);
    start.push(Math.log(le), Math.log(2 * Math.PI * 1000 * le + 0.1));
  }
  // n = 0.5 + 0.5/(1 + e^−x): between diffusion alone and a plain inductance.
  if (coil === 'semi') {
    // It is in the place of the plain inductance; the same reactance at 2 kHz to begin with.
    start[place.le] = Math.log(le * (2 * Math.PI * 2000) ** 0.3);
    start.push(0);
  }
  const model = (p: ArrayLike<number>): TerminalModel => ({
    fsHz: Math.exp(p[place.fs]),
    qms: Math.exp(p[place.qms]),
    qes: Math.exp(p[place.qes]),
    reOhm: reOhm ?? Math.exp(p[place.re]),
    leHenry: coil === 'semi' ? 0 : Math.exp(p[place.le]),
    ladder: coil === 'ladder' ? { henry: Math.exp(p[coilAt]), ohm: Math.exp(p[coilAt + 1]) } : null,
    semi:
      coil === 'semi'
        ? { k: Math.exp(p[place.le]), n: 0.5 + 0.5 / (1 + Math.exp(-p[coilAt])) }
        : null,
  });
  const loadings = (p: ArrayLike<number>): Loading[] => {
    if (!second) return [unloaded];
    const factor = 1 + Math.exp(p[extraAt]);
    return [
      unloaded,
      second.kind === 'added-mass'
        ? { ...unloaded, massFactor: factor }
        : {
            massFactor: Math.exp(p[extraAt + 1]),
            stiffnessFactor: factor,
            lossFactor: Math.exp(p[extraAt + 2]),
          },
    ];
  };
  const count = 2 * runs.reduce((sum, { hz }) => sum + hz.length, 0);
  const z = new Float64Array(2);
  const fit = leastSquares(start, count, (p, out) => {
    const [driver, loads] = [model(p), loadings(p)];
    let at = 0;
    for (let r = 0; r < runs.length; r++) {
      const { hz, re, im } = runs[r];
      for (let i = 0; i < hz.length; i++) {
        terminalImpedance(driver, loads[r], hz[i], z, 0);
        const size = Math.sqrt(re[i] * re[i] + im[i] * im[i]);
        out[at++] = (z[0] - re[i]) / size;
        out[at++] = (z[1] - im[i]) / size;
      }
    }
  });
  const found = model(fit.parameters);
  const { ladder } = found;
  const corner = ladder ? ladder.ohm / (2 * Math.PI * ladder.henry) : 0;
  const highest = runs[0].hz[runs[0].hz.length - 1];
  return {
    fit,
    model: found,
    loadings: loadings(fit.parameters),
    isPlausible: !ladder || (corner > found.fsHz / 2 && corner < 4 * highest && ladder.ohm < 1000),
    extraAt,
    coilAt,
    isReGiven: reOhm !== undefined && reOhm !== null,
  };
}

/** How far the peak moved: fs falls with √(1 + Δm/M) and rises with √(1 + Vas/V). */
function extraGuess([free, other]: readonly Run[], kind: SecondRun['kind']): number {
  const peakHz = (run: Run) => Math.exp(firstGuess(run, null)[place.fs]);
  const ratio = kind === 'added-mass' ? peakHz(free) / peakHz(other) : peakHz(other) / peakHz(free);
  if (!(ratio > 1.01))
    throw problem(
      'no_shift',
      kind === 'added-mass' ? 'with added mass' : 'on the box',
      `The resonance did not move ${kind === 'added-mass' ? 'down' : 'up'}.`,
      'Without a shift the moving mass can’t be told.',
      'Check that the two measurements are not swapped; add more mass, or use a smaller box.',
    );
  return Math.log(ratio * ratio - 1);
}
