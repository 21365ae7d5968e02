/** Solves small quadratic programs over and over without allocating. */
export interface QuadraticProgram {
  /** Upper triangle of the Hessian, row by row, stride `size`; must be positive definite. */
  readonly hessian: Float64Array;
  readonly gradient: Float64Array;
  /** Row r holds the coefficients of constraint r: coefficients · y ≥ bounds[r]. Stride `size`. */
  readonly coefficients: Float64Array;
  readonly bounds: Float64Array;
  /** The answer, and the multipliers of all constraints, 0 where they are slack. */
  readonly answer: Float64Array;
  readonly multipliers: Float64Array;
  /**
   * Minimises ½·yᵀHy + gᵀy over the first `unknowns` unknowns under the first `count` constraints.
   *
   * @returns false when no point keeps all constraints, or digits ran out
   */
  solve(unknowns: number, count: number): boolean;
}

/**
 * The dual method of Goldfarb and Idnani (Math. Programming 27, 1983): from the free minimum the
 * constraint that is farthest is added and others are dropped until none is broken.
 *
 * @param size most unknowns
 * @param capacity most constraints
 */
export function createQuadraticProgram(size: number, capacity: number): QuadraticProgram {
  const hessian = new Float64Array(size * size);
  const gradient = new Float64Array(size);
  const coefficients = new Float64Array(capacity * size);
  const bounds = new Float64Array(capacity);
  const y = new Float64Array(size);
  const multipliers = new Float64Array(capacity);
  /**
   * Inverse of the transposed Cholesky factor, column after column, turned so that its first columns
   * span the active.
   */
  const j = new Float64Array(size * size);
  const lower = new Float64Array(size * size);
  /** Upper triangle of the active constraints in that basis. */
  const r = new Float64Array(size * size);
  const d = new Float64Array(size);
  const step = new Float64Array(size);
  const fall = new Float64Array(size);
  const u = new Float64Array(size + 1);
  const active = new Int32Array(size + 1);
  const isActive = new Uint8Array(capacity);
  const slack = new Float64Array(capacity);
  /** The coefficients that are not 0, row after row: most constraints are about few unknowns. */
  const value = new Float64Array(capacity * size);
  const column = new Int32Array(capacity * size);
  const rowAt = new Int32Array(capacity + 1);
  const inverseNorm = new Float64Array(capacity);

  function compress(n: number, count: number): void {
    let at = 0;
    for (let c = 0; c < count; c++) {
      let square = 0;
      for (let i = 0; i < n; i++) {
        const coefficient = coefficients[c * size + i];
        if (coefficient === 0) continue;
        square += coefficient * coefficient;
        value[at] = coefficient;
        column[at++] = i;
      }
      rowAt[c + 1] = at;
      inverseNorm[c] = 1 / Math.sqrt(square);
    }
  }

  function timesRow(c: number, vector: Float64Array): number {
    let sum = 0;
    for (let at = rowAt[c]; at < rowAt[c + 1]; at++) sum += value[at] * vector[column[at]];
    return sum;
  }

  function factor(n: number): boolean {
    for (let i = 0; i < n; i++)
      for (let k = 0; k <= i; k++) {
        let sum = hessian[k * size + i];
        for (let m = 0; m < k; m++) sum -= lower[i * size + m] * lower[k * size + m];
        if (i === k) {
          if (!(sum > 0)) return false;
          lower[i * size + i] = Math.sqrt(sum);
        } else lower[i * size + k] = sum / lower[k * size + k];
      }
    // J = L⁻ᵀ: column k solves Lᵀ·x = e_k.
    for (let k = 0; k < n; k++)
      for (let i = n - 1; i >= 0; i--) {
        if (i > k) {
          j[k * size + i] = 0;
          continue;
        }
        let sum = i === k ? 1 : 0;
        for (let m = i + 1; m <= k; m++) sum -= lower[m * size + i] * j[k * size + m];
        j[k * size + i] = sum / lower[i * size + i];
      }
    return true;
  }

  function freeMinimum(n: number): void {
    for (let k = 0; k < n; k++) {
      let sum = 0;
      for (let i = 0; i < n; i++) sum += j[k * size + i] * gradient[i];
      d[k] = -sum;
    }
    for (let i = 0; i < n; i++) {
      let sum = 0;
      for (let k = i; k < n; k++) sum += j[k * size + i] * d[k];
      y[i] = sum;
    }
  }

  /** Turns columns a and b of J so that the second component of (x, z) vanishes. */
  function turn(n: number, a: number, b: number, cosine: number, sine: number): void {
    for (let i = 0; i < n; i++) {
      const p = j[a * size + i];
      const q = j[b * size + i];
      j[a * size + i] = cosine * p + sine * q;
      j[b * size + i] = cosine * q - sine * p;
    }
  }

  function add(n: number, q: number): boolean {
    for (let k = n - 1; k > q; k--) {
      if (d[k] === 0) continue;
      const length = Math.hypot(d[k - 1], d[k]);
      turn(n, k - 1, k, d[k - 1] / length, d[k] / length);
      d[k - 1] = length;
      d[k] = 0;
    }
    for (let i = 0; i <= q; i++) r[i * size + q] = d[i];
    return Math.abs(d[q]) > 1e-13;
  }

  function drop(n: number, q: number, place: number): void {
    for (let k = place; k < q - 1; k++) {
      active[k] = active[k + 1];
      u[k] = u[k + 1];
      for (let i = 0; i <= k + 1; i++) r[i * size + k] = r[i * size + k + 1];
    }
    u[q - 1] = u[q];
    for (let k = place; k < q - 1; k++) {
      const a = r[k * size + k];
      const b = r[(k + 1) * size + k];
      if (b === 0) continue;
      const length = Math.hypot(a, b);
      const [cosine, sine] = [a / length, b / length];
      for (let m = k; m < q - 1; m++) {
        const p = r[k * size + m];
        const s = r[(k + 1) * size + m];
        r[k * size + m] = cosine * p + sine * s;
        r[(k + 1) * size + m] = cosine * s - sine * p;
      }
      turn(n, k, k + 1, cosine, sine);
    }
  }

  return {
    ...{ hessian, gradient, coefficients, bounds, answer: y, multipliers },
    solve(n, count) {
      multipliers.fill(0, 0, count);
      isActive.fill(0, 0, count);
      if (!factor(n)) return false;
      freeMinimum(n);
      compress(n, count);
      for (let c = 0; c < count; c++) slack[c] = timesRow(c, y) - bounds[c];
      let q = 0;
      for (let round = 0; round < 40 * n; round++) {
        // The farthest, not that of the largest figure: a third fewer are dropped again.
        let worst = 0;
        let chosen = -1;
        for (let c = 0; c < count; c++)
          if (slack[c] < -1e-9 && slack[c] * inverseNorm[c] < worst && isActive[c] === 0) {
            worst = slack[c] * inverseNorm[c];
            chosen = c;
          }
        if (chosen < 0) {
          for (let k = 0; k < q; k++) multipliers[active[k]] = u[k];
          return true;
        }
        u[q] = 0;
        for (;;) {
          for (let k = 0; k < n; k++) {
            let sum = 0;
            for (let at = rowAt[chosen]; at < rowAt[chosen + 1]; at++)
              sum += value[at] * j[k * size + column[at]];
            d[k] = sum;
          }
          let curvature = 0;
          step.fill(0, 0, n);
          for (let k = q; k < n; k++) {
            const dk = d[k];
            curvature += dk * dk;
            if (dk === 0) continue;
            for (let i = 0; i < n; i++) step[i] += dk * j[k * size + i];
          }
          for (let i = q - 1; i >= 0; i--) {
            let sum = d[i];
            for (let k = i + 1; k < q; k++) sum -= r[i * size + k] * fall[k];
            fall[i] = sum / r[i * size + i];
          }
          let partial = Infinity;
          let leaving = -1;
          for (let k = 0; k < q; k++)
            if (fall[k] > 1e-14 && u[k] / fall[k] < partial) {
              partial = u[k] / fall[k];
              leaving = k;
            }
          const full = curvature > 1e-18 ? -slack[chosen] / curvature : Infinity;
          const length = Math.min(partial, full);
          if (length === Infinity) return false;
          for (let k = 0; k < q; k++) u[k] -= length * fall[k];
          u[q] += length;
          if (full < Infinity) {
            for (let i = 0; i < n; i++) y[i] += length * step[i];
            for (let c = 0; c < count; c++) slack[c] += length * timesRow(c, step);
          }
          if (full <= partial) {
            active[q] = chosen;
            isActive[chosen] = 1;
            if (q === n || !add(n, q)) return false;
            q++;
            break;
          }
          isActive[active[leaving]] = 0;
          drop(n, q, leaving);
          q--;
        }
      }
      return false;
    },
  };
}
