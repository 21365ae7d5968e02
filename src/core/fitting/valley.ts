import type { FitModel } from './model';

/** A band's mean square deviation over this many places counts like one row at its worst. */
const placesPerRow = 12;
/** Weight of a squared excess beside the mean squared deviation, per unit of its penalty. */
const excessWeight = 1;

interface ValleyOptions {
  readonly mostSteps: number;
  /** Share of the sum that a step must still gain. */
  readonly settledAt: number;
  readonly shouldStop?: () => boolean;
}

/**
 * Finds the valley of a start: least squares of the deviation on axis and of what limits are
 * exceeded by (Levenberg 1944, Marquardt 1963), from which the greatest deviation is then made
 * small. The pieces of a greatest deviation are too jagged far away from it.
 *
 * @returns logarithms of the values; those of the start where nothing can be solved
 */
export function findValley(
  model: FitModel,
  from: Float64Array,
  { mostSteps, settledAt, shouldStop }: ValleyOptions,
): Float64Array {
  const { lower, upper, bands, rows, penalties, isCurve } = model;
  const n = from.length;
  const normal = new Float64Array(n * n);
  const damped = new Float64Array(n * n);
  const gradient = new Float64Array(n);
  const move = new Float64Array(n);
  const means = new Float64Array(n);
  let x: Float64Array<ArrayBufferLike> = from.slice();
  let trial: Float64Array<ArrayBufferLike> = new Float64Array(n);
  const held = new Uint8Array(n);

  /** Sum of squares at the last evaluation; writes its derivatives when they are there. */
  function gather(hasSlopes: boolean): number {
    if (hasSlopes) {
      normal.fill(0);
      gradient.fill(0);
    }
    let sum = 0;
    for (const { values, slopes, most, penalty } of bands) {
      const count = values.length;
      let mean = 0;
      for (let i = 0; i < count; i++) mean += values[i] / count;
      if (hasSlopes)
        for (let v = 0; v < n; v++) {
          let total = 0;
          for (let i = 0; i < count; i++) total += slopes[v * count + i];
          means[v] = total / count;
        }
      for (let i = 0; i < count; i++) {
        const off = values[i] - mean;
        const over = most === null ? off : Math.sign(off) * Math.max(0, Math.abs(off) - most);
        if (over === 0) continue;
        const weight = most === null ? 1 / count : (excessWeight * penalty) / placesPerRow;
        sum += weight * over * over;
        if (!hasSlopes) continue;
        for (let v = 0; v < n; v++) {
          const slope = slopes[v * count + i] - means[v];
          gradient[v] += weight * over * slope;
          for (let w = 0; w <= v; w++)
            normal[v * n + w] += weight * slope * (slopes[w * count + i] - means[w]);
        }
      }
    }
    for (let r = 0; r < rows.count; r++) {
      const over = rows.value[r];
      if (over <= 0) continue;
      const k = rows.group[r];
      const weight = (excessWeight * penalties[k]) / (isCurve[k] ? placesPerRow : 1);
      sum += weight * over * over;
      if (!hasSlopes) continue;
      const at = r * n;
      for (let v = 0; v < n; v++) {
        gradient[v] += weight * over * rows.slopes[at + v];
        for (let w = 0; w <= v; w++)
          normal[v * n + w] += weight * rows.slopes[at + v] * rows.slopes[at + w];
      }
    }
    return sum;
  }

  model.evaluate(x, true, 0);
  let squares = gather(true);
  if (!Number.isFinite(squares)) return x;
  let damping = 1e-2;
  for (let step = 0; step < mostSteps; step++) {
    for (let v = 0; v < n; v++)
      held[v] =
        (x[v] <= lower[v] && gradient[v] > 0) || (x[v] >= upper[v] && gradient[v] < 0) ? 1 : 0;
    for (let v = 0; v < n; v++) {
      for (let w = 0; w < v; w++) damped[v * n + w] = held[v] || held[w] ? 0 : normal[v * n + w];
      damped[v * n + v] = held[v] ? 1 : normal[v * n + v] * (1 + damping) + 1e-9;
      move[v] = held[v] ? 0 : gradient[v];
    }
    if (!solveInPlace(damped, move, n)) {
      damping *= 8;
      if (damping > 1e9) break;
      continue;
    }
    for (let v = 0; v < n; v++) trial[v] = Math.min(upper[v], Math.max(lower[v], x[v] - move[v]));
    model.evaluate(trial, true, 0);
    // The derivatives of a step that is refused are lost; most are not.
    const next = gather(false);
    if (next <= squares) {
      const gain = squares - next;
      [x, trial] = [trial, x];
      squares = gather(true);
      damping = Math.max(damping / 6, 1e-7);
      if (gain <= settledAt * squares || shouldStop?.()) break;
    } else {
      damping *= 5;
      if (damping > 1e9) break;
    }
  }
  return x.slice();
}

/** Solves a symmetric positive system, lower triangle given, by Cholesky's method. */
function solveInPlace(matrix: Float64Array, right: Float64Array, n: number): boolean {
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i * n + j];
      for (let k = 0; k < j; k++) sum -= matrix[i * n + k] * matrix[j * n + k];
      if (i === j) {
        if (!(sum > 0)) return false;
        matrix[i * n + i] = Math.sqrt(sum);
      } else matrix[i * n + j] = sum / matrix[j * n + j];
    }
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) right[i] -= matrix[i * n + k] * right[k];
    right[i] /= matrix[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) right[i] -= matrix[k * n + i] * right[k];
    right[i] /= matrix[i * n + i];
  }
  return true;
}
