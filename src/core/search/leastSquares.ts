/** What a least-squares fit found. */
export interface Fit {
  readonly parameters: Float64Array;
  /** Sum of the squared residuals there. */
  readonly squares: number;
  /**
   * Variance of the parameters and how they move together: residual variance × (JᵀJ)⁻¹, row by row.
   */
  readonly covariance: readonly Float64Array[];
  /** False when the steps ran out before the misfit stopped changing. */
  readonly isSettled: boolean;
}

/** How a fit may be steered. */
export interface FitOptions {
  /**
   * Writes the exact derivatives, one column of residuals for each parameter. Central differences
   * otherwise.
   */
  readonly derivatives?: (parameters: Float64Array, columns: readonly Float64Array[]) => void;
  /** Bounds of the parameters; a parameter that a step would push out stays at its bound. */
  readonly lower?: Float64Array;
  readonly upper?: Float64Array;
  readonly mostSteps?: number;
  /** Share of the misfit that a step must still gain. */
  readonly settledAt?: number;
  /** After each accepted step; true ends the fit with what it has. */
  readonly onStep?: (parameters: Float64Array, squares: number) => boolean;
}

/**
 * Least squares by Levenberg (1944) and Marquardt (1963): steps between Gauss–Newton and steepest
 * descent, each accepted only when the misfit falls. Parameters should be of the order of one: use
 * logarithms of positive quantities.
 *
 * @param start first guess, within the bounds
 * @param residualCount number of residuals, at least that of the parameters
 * @param residuals writes the residuals of the parameters into `out`; values that are not finite
 *   count as a bad step
 */
export function leastSquares(
  start: ArrayLike<number>,
  residualCount: number,
  residuals: (parameters: Float64Array, out: Float64Array) => void,
  { derivatives, lower, upper, mostSteps = 200, settledAt = 1e-12, onStep }: FitOptions = {},
): Fit {
  const count = start.length;
  let parameters = Float64Array.from(start);
  let trial = new Float64Array(count);
  let now = new Float64Array(residualCount);
  let next = new Float64Array(residualCount);
  const above = new Float64Array(residualCount);
  const below = new Float64Array(residualCount);
  const jacobian = Array.from({ length: count }, () => new Float64Array(residualCount));
  const normal = Array.from({ length: count }, () => new Float64Array(count));
  const gradient = new Float64Array(count);

  const differences = () => {
    for (let p = 0; p < count; p++) {
      const step = 1e-6 * Math.max(1, Math.abs(parameters[p]));
      trial.set(parameters);
      trial[p] = parameters[p] + step;
      residuals(trial, above);
      trial[p] = parameters[p] - step;
      residuals(trial, below);
      for (let r = 0; r < residualCount; r++) jacobian[p][r] = (above[r] - below[r]) / (2 * step);
    }
  };
  const derive = () => {
    if (derivatives) derivatives(parameters, jacobian);
    else differences();
    for (let p = 0; p < count; p++) {
      gradient[p] = dot(jacobian[p], now);
      for (let q = 0; q <= p; q++) normal[q][p] = normal[p][q] = dot(jacobian[p], jacobian[q]);
    }
  };

  residuals(parameters, now);
  let squares = dot(now, now);
  let damping = 1e-3;
  let isSettled = false;
  derive();
  for (let step = 0; step < mostSteps && !isSettled; step++) {
    // A parameter that is at a bound and is pushed against it takes no part in the step.
    const isHeld = (p: number) =>
      (lower !== undefined && parameters[p] <= lower[p] && gradient[p] > 0) ||
      (upper !== undefined && parameters[p] >= upper[p] && gradient[p] < 0);
    const held = Array.from({ length: count }, (_, p) => isHeld(p));
    const damped = normal.map((row, p) => {
      const copy = row.map((value, q) => (held[p] || held[q] ? 0 : value));
      copy[p] = held[p] ? 1 : row[p] + damping * Math.max(row[p], 1e-300);
      return copy;
    });
    const move = solveSymmetric(
      damped,
      gradient.map((value, p) => (held[p] ? 0 : value)),
    );
    for (let p = 0; p < count; p++)
      trial[p] = Math.min(
        upper ? upper[p] : Infinity,
        Math.max(lower ? lower[p] : -Infinity, parameters[p] - (move ? move[p] : 0)),
      );
    residuals(trial, next);
    const trialSquares = move ? dot(next, next) : NaN;
    if (trialSquares <= squares) {
      isSettled = squares - trialSquares <= settledAt * squares;
      [parameters, trial] = [trial, parameters];
      [now, next] = [next, now];
      squares = trialSquares;
      damping = Math.max(damping / 8, 1e-12);
      if (onStep?.(parameters, squares)) break;
      derive();
    } else {
      damping *= 4;
      if (damping > 1e12) isSettled = true;
    }
  }
  const variance = squares / Math.max(1, residualCount - count);
  // A parameter that nothing depends on is left out, so that it does not spoil the others.
  const isIdle = (p: number) => normal[p][p] < 1e-30;
  const steady = normal.map((row, p) => row.map((value, q) => (isIdle(p) && p === q ? 1 : value)));
  const covariance = Array.from({ length: count }, (_, p) => {
    const unit = new Float64Array(count);
    unit[p] = isIdle(p) ? Infinity : variance;
    return isIdle(p)
      ? unit
      : (solveSymmetric(steady, unit) ?? new Float64Array(count).fill(Infinity));
  });
  return { parameters, squares, covariance, isSettled };
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}

/** Solves a small symmetric positive system by Cholesky's method; null when it is not positive. */
function solveSymmetric(
  matrix: readonly Float64Array[],
  right: ArrayLike<number>,
): Float64Array | null {
  const n = right.length;
  const lower = Array.from({ length: n }, () => new Float64Array(n));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i][j];
      for (let k = 0; k < j; k++) sum -= lower[i][k] * lower[j][k];
      if (i === j && !(sum > 0)) return null;
      lower[i][j] = i === j ? Math.sqrt(sum) : sum / lower[j][j];
    }
  const out = Float64Array.from(right);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) out[i] -= lower[i][k] * out[k];
    out[i] /= lower[i][i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) out[i] -= lower[k][i] * out[k];
    out[i] /= lower[i][i];
  }
  return out;
}
