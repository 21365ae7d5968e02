import { createQuadraticProgram } from './quadraticProgram';

/** A curve that shall lie within ± something around a level of its own. */
export interface MinimaxBand {
  readonly values: Float64Array;
  /** Slope of value i over unknown v at v · values.length + i. */
  readonly slopes: Float64Array;
  /** Half the height that it may have; null for the band whose height is made small. */
  readonly most: number | null;
  /** What exceeding it costs, per unit. */
  readonly penalty: number;
}

/** Single figures that may not be above 0, in groups of which the worst counts. */
export interface MinimaxRows {
  /** How many rows there are since the last evaluation with slopes. */
  count: number;
  readonly group: Int32Array;
  readonly value: Float64Array;
  /** Slope of row r over unknown v at r · unknowns + v. */
  readonly slopes: Float64Array;
}

/**
 * The half height of the first band made as small as can be, under limits. Limits have exact
 * penalties: they are kept where they can be, and exceeded by little where they contradict.
 */
export interface MinimaxProblem {
  readonly lower: Float64Array;
  readonly upper: Float64Array;
  readonly bands: readonly MinimaxBand[];
  /** What exceeding the worst row of each group costs, per unit. */
  readonly penalties: Float64Array;
  /** Worst figure of each group, near its limit or not. */
  readonly worst: Float64Array;
  /** Rows near their limits. */
  readonly rows: MinimaxRows;
  /** Fills bands and groups, and slopes and rows where these are asked for. */
  readonly evaluate: (x: Float64Array, hasSlopes: boolean) => void;
}

export interface MinimaxOptions {
  readonly mostSteps: number;
  /** Ends when a step promises less than this. */
  readonly settledAt: number;
  readonly shouldStop?: () => boolean;
}

export interface MinimaxAnswer {
  readonly x: Float64Array;
  readonly merit: number;
  readonly isSettled: boolean;
}

const firstRadius = 0.25;
const widestRadius = 1.2;
/** What a step of 1 in every unknown lifts a place by at the most, for what it is told by. */
const steepest = 12;
/** Curvature of the unknowns that only carry heights, levels and excesses. */
const carrier = 1e-5;

/** Half the height of a band. */
export function halfHeight(values: Float64Array): number {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) {
    // What is not known anywhere is not known at all.
    if (!(value - value === 0)) return NaN;
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return (high - low) / 2;
}

/** Half height of the first band, and what the limits that are exceeded cost; NaN where unsolved. */
export function meritOf({ bands, penalties, worst }: MinimaxProblem): number {
  let merit = halfHeight(bands[0].values);
  for (let b = 1; b < bands.length; b++)
    if (bands[b].penalty > 0)
      merit += bands[b].penalty * Math.max(0, halfHeight(bands[b].values) - bands[b].most!);
  for (let k = 0; k < worst.length; k++) if (worst[k] > 0) merit += penalties[k] * worst[k];
  return merit;
}

/**
 * Sequential quadratic programming on an exact penalty (Fletcher, Practical Methods of
 * Optimization, 2nd ed., ch. 14: the composite problem with all active pieces in the subproblem)
 * within a box that grows and shrinks with how well the pieces foretold; curvature of the
 * Lagrangian by BFGS updates, damped after Powell (1978).
 *
 * @param from within the bounds
 */
export function minimiseGreatest(
  problem: MinimaxProblem,
  from: Float64Array,
  { mostSteps, settledAt, shouldStop }: MinimaxOptions,
): MinimaxAnswer {
  const { lower, upper, bands, penalties, rows } = problem;
  const n = from.length;
  const groups = penalties.length;
  // Unknowns: steps; then height of the first band; level of each band; excess of each band but
  // the first; excess of each group.
  const heightAt = n;
  const levelAt = n + 1;
  const bandExcessAt = levelAt + bands.length;
  const groupExcessAt = bandExcessAt + bands.length - 1;
  const size = groupExcessAt + groups;
  const starts = bands.map((_, b) =>
    bands.slice(0, b).reduce((sum, { values }) => sum + values.length, 0),
  );
  const places = bands.reduce((sum, { values }) => sum + values.length, 0);
  const capacity = 2 * places + rows.value.length + 2 * n + bands.length + groups;
  const program = createQuadraticProgram(size, capacity);
  const { coefficients, bounds, gradient, hessian, answer, multipliers } = program;
  const curvature = new Float64Array(n * n);
  for (let v = 0; v < n; v++) curvature[v * n + v] = 1;
  let x: Float64Array<ArrayBufferLike> = from.slice();
  let trial: Float64Array<ArrayBufferLike> = new Float64Array(n);
  const before = new Float64Array(n);
  const after = new Float64Array(n);
  const move = new Float64Array(n);
  const turned = new Float64Array(n);
  /** Pieces of the last subproblem that held, for the gradient of the Lagrangian. */
  const bandForces = bands.map(({ values }) => new Float64Array(values.length));
  const groupForces = new Float64Array(groups);
  /** Unknown that carries the excess of each group; −1 for one whose rows are all far below. */
  const excessOf = new Int32Array(groups);
  let unknowns = size;
  /** Places of the bands that take part in the subproblem, counted from 1, with their sign. */
  const pieces = new Int32Array(2 * places);
  let pieceCount = 0;
  let radius = firstRadius;
  problem.evaluate(x, true);
  let merit = meritOf(problem);
  if (!Number.isFinite(merit)) return { x, merit: NaN, isSettled: false };
  let isSettled = false;

  /** Writes the subproblem; returns how many constraints it has. */
  function write(): number {
    gradient.fill(0);
    hessian.fill(0);
    for (let v = 0; v < n; v++)
      for (let w = v; w < n; w++) hessian[v * size + w] = curvature[v * n + w];
    unknowns = groupExcessAt;
    excessOf.fill(-1);
    for (let r = 0; r < rows.count; r++)
      if (excessOf[rows.group[r]] < 0) excessOf[rows.group[r]] = unknowns++;
    for (let a = n; a < unknowns; a++) hessian[a * size + a] = carrier;
    gradient[heightAt] = 1;
    let c = 0;
    pieceCount = 0;
    const open = () => {
      coefficients.fill(0, c * size, (c + 1) * size);
      return c++ * size;
    };
    for (let b = 0; b < bands.length; b++) {
      const { values, slopes, most, penalty } = bands[b];
      const count = values.length;
      let [low, high] = [Infinity, -Infinity];
      for (let i = 0; i < count; i++) {
        if (values[i] < low) low = values[i];
        if (values[i] > high) high = values[i];
      }
      const centre = (high + low) / 2;
      const excess = bandExcessAt + b - 1;
      if (b > 0) {
        gradient[excess] = penalty;
        const at = open();
        coefficients[at + excess] = 1;
        bounds[c - 1] = 0;
      }
      const half = b === 0 ? (high - low) / 2 : most!;
      for (let i = 0; i < count; i++)
        for (let sign = 1; sign >= -1; sign -= 2) {
          const out = sign * (values[i] - centre);
          const isPeak =
            !(sign * values[i - 1] > sign * values[i]) ||
            !(sign * values[i + 1] > sign * values[i]);
          // What a step within the box can't lift to the top, and what a neighbour tops on either
          // side by far, takes no part.
          if (out + steepest * radius < half || (!isPeak && out < half - 0.2)) continue;
          // height ± (value − centre − level) ≥ 0
          const at = open();
          for (let v = 0; v < n; v++) coefficients[at + v] = -sign * slopes[v * count + i];
          coefficients[at + levelAt + b] = sign;
          coefficients[at + (b === 0 ? heightAt : excess)] = 1;
          bounds[c - 1] = out - (b === 0 ? 0 : most!);
          pieces[pieceCount++] = sign * (starts[b] + i + 1);
        }
    }
    for (let k = 0; k < groups; k++) {
      if (excessOf[k] < 0) continue;
      gradient[excessOf[k]] = penalties[k];
      const at = open();
      coefficients[at + excessOf[k]] = 1;
      bounds[c - 1] = 0;
    }
    for (let r = 0; r < rows.count; r++) {
      const at = open();
      for (let v = 0; v < n; v++) coefficients[at + v] = -rows.slopes[r * n + v];
      coefficients[at + excessOf[rows.group[r]]] = 1;
      bounds[c - 1] = rows.value[r];
    }
    for (let v = 0; v < n; v++) {
      const least = open();
      coefficients[least + v] = 1;
      bounds[c - 1] = Math.max(lower[v] - x[v], -radius);
      const most = open();
      coefficients[most + v] = -1;
      bounds[c - 1] = -Math.min(upper[v] - x[v], radius);
    }
    return c;
  }

  /** What the pieces foretell of the merit after the step. */
  const foretold = (): number => {
    let sum = answer[heightAt];
    for (let b = 1; b < bands.length; b++)
      sum += bands[b].penalty * Math.max(0, answer[bandExcessAt + b - 1]);
    for (let k = 0; k < groups; k++)
      if (excessOf[k] >= 0) sum += penalties[k] * Math.max(0, answer[excessOf[k]]);
    return sum;
  };

  /** Keeps the forces of the pieces that held, rows by the worst of their group. */
  function keepForces(): void {
    let c = 0;
    let piece = 0;
    for (let b = 0; b < bands.length; b++) {
      if (b > 0) c++;
      const forces = bandForces[b].fill(0);
      const end = starts[b] + forces.length;
      for (; piece < pieceCount && Math.abs(pieces[piece]) <= end; piece++, c++)
        forces[Math.abs(pieces[piece]) - 1 - starts[b]] +=
          Math.sign(pieces[piece]) * multipliers[c];
    }
    c += unknowns - groupExcessAt;
    groupForces.fill(0);
    for (let r = 0; r < rows.count; r++, c++) groupForces[rows.group[r]] += multipliers[c];
  }

  /** Gradient of the Lagrangian of the kept forces at the last evaluation. */
  function lagrangian(out: Float64Array): void {
    out.fill(0);
    for (let b = 0; b < bands.length; b++) {
      const { slopes } = bands[b];
      const forces = bandForces[b];
      const count = forces.length;
      for (let i = 0; i < count; i++) {
        if (forces[i] === 0) continue;
        for (let v = 0; v < n; v++) out[v] += forces[i] * slopes[v * count + i];
      }
    }
    for (let k = 0; k < groups; k++) {
      if (groupForces[k] === 0) continue;
      let top = -1;
      for (let r = 0; r < rows.count; r++)
        if (rows.group[r] === k && (top < 0 || rows.value[r] > rows.value[top])) top = r;
      if (top < 0) continue;
      for (let v = 0; v < n; v++) out[v] += groupForces[k] * rows.slopes[top * n + v];
    }
  }

  function update(): void {
    let bend = 0;
    let own = 0;
    for (let v = 0; v < n; v++) {
      let sum = 0;
      for (let w = 0; w < n; w++) sum += curvature[v * n + w] * move[w];
      turned[v] = sum;
      own += move[v] * sum;
      after[v] -= before[v];
      bend += move[v] * after[v];
    }
    if (!(own > 1e-14)) return;
    if (bend < 0.2 * own) {
      const share = (0.8 * own) / (own - bend);
      bend = 0;
      for (let v = 0; v < n; v++) {
        after[v] = share * after[v] + (1 - share) * turned[v];
        bend += move[v] * after[v];
      }
    }
    for (let v = 0; v < n; v++)
      for (let w = 0; w < n; w++)
        curvature[v * n + w] += (after[v] * after[w]) / bend - (turned[v] * turned[w]) / own;
    // What is nearly flat stays solvable, and what was nearly discontinuous does not freeze.
    for (let v = 0; v < n; v++)
      curvature[v * n + v] = Math.min(1e4, Math.max(1e-3, curvature[v * n + v]));
  }

  for (let step = 0; step < mostSteps && !isSettled; step++) {
    const count = write();
    if (!program.solve(unknowns, count)) {
      // Digits ran out: plain curvature again, and a smaller box.
      curvature.fill(0);
      for (let v = 0; v < n; v++) curvature[v * n + v] = 1;
      radius /= 2;
      if (radius < 1e-6) break;
      continue;
    }
    const promised = merit - foretold();
    if (promised < settledAt) {
      isSettled = true;
      break;
    }
    let reached = 0;
    for (let v = 0; v < n; v++) {
      trial[v] = Math.min(upper[v], Math.max(lower[v], x[v] + answer[v]));
      move[v] = trial[v] - x[v];
      reached = Math.max(reached, Math.abs(move[v]));
    }
    keepForces();
    lagrangian(before);
    problem.evaluate(trial, true);
    const next = meritOf(problem);
    const gain = merit - next;
    if (gain > 0) {
      [x, trial] = [trial, x];
      merit = next;
      lagrangian(after);
      update();
      if (gain > 0.75 * promised && reached > 0.9 * radius)
        radius = Math.min(widestRadius, 2 * radius);
      else if (gain < 0.25 * promised) radius = Math.max(1e-6, Math.min(radius, reached) / 2);
      if (shouldStop?.()) break;
      continue;
    }
    radius = Math.min(radius, reached) / (next === next ? 3 : 6);
    if (radius < 1e-6) isSettled = true;
    else problem.evaluate(x, true);
  }
  return { x, merit, isSettled };
}
