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
 * constraint that is broken most is added and others are dropped until none is broken.
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
  /** Inverse of the transposed Cholesky factor, turned so that its first columns span the active. */
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
  const along = new Float64Array(capacity);

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
          j[i * size + k] = 0;
          continue;
        }
        let sum = i === k ? 1 : 0;
        for (let m = i + 1; m <= k; m++) sum -= lower[m * size + i] * j[m * size + k];
        j[i * size + k] = sum / lower[i * size + i];
      }
    return true;
  }

  function freeMinimum(n: number): void {
    for (let k = 0; k < n; k++) {
      let sum = 0;
      for (let i = 0; i < n; i++) sum += j[i * size + k] * gradient[i];
      d[k] = -sum;
    }
    for (let i = 0; i < n; i++) {
      let sum = 0;
      for (let k = i; k < n; k++) sum += j[i * size + k] * d[k];
      y[i] = sum;
    }
  }

  /** Turns columns a and b of J so that the second component of (x, z) vanishes. */
  function turn(n: number, a: number, b: number, cosine: number, sine: number): void {
    for (let i = 0; i < n; i++) {
      const p = j[i * size + a];
      const q = j[i * size + b];
      j[i * size + a] = cosine * p + sine * q;
      j[i * size + b] = cosine * q - sine * p;
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
      for (let c = 0; c < count; c++) {
        let sum = -bounds[c];
        for (let i = 0; i < n; i++) sum += coefficients[c * size + i] * y[i];
        slack[c] = sum;
      }
      let q = 0;
      for (let round = 0; round < 40 * n; round++) {
        let worst = -1e-9;
        let chosen = -1;
        for (let c = 0; c < count; c++)
          if (slack[c] < worst && isActive[c] === 0) {
            worst = slack[c];
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
            for (let i = 0; i < n; i++) sum += j[i * size + k] * coefficients[chosen * size + i];
            d[k] = sum;
          }
          let curvature = 0;
          for (let k = q; k < n; k++) curvature += d[k] * d[k];
          for (let i = 0; i < n; i++) {
            let sum = 0;
            for (let k = q; k < n; k++) sum += j[i * size + k] * d[k];
            step[i] = sum;
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
            for (let c = 0; c < count; c++) {
              let sum = 0;
              for (let i = 0; i < n; i++) sum += coefficients[c * size + i] * step[i];
              along[c] = sum;
              slack[c] += length * sum;
            }
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
