/** Workspace for one complex system of n equations; fill it, then call `solve`. */
interface DenseSolver {
  /** Row-major n×n; destroyed by `solve`. */
  readonly re: Float64Array;
  readonly im: Float64Array;
  /** Right-hand side on entry, solution on return. */
  readonly rightRe: Float64Array;
  readonly rightIm: Float64Array;
  /** False when the matrix is singular to working precision. */
  solve(): boolean;
}

/**
 * Gaussian elimination with partial pivoting and row scaling, for the few frequencies that need it.
 */
export function createDenseSolver(n: number): DenseSolver {
  const re = new Float64Array(n * n);
  const im = new Float64Array(n * n);
  const rightRe = new Float64Array(n);
  const rightIm = new Float64Array(n);
  const rowScale = new Float64Array(n);
  const size = (i: number, j: number) => Math.abs(re[i * n + j]) + Math.abs(im[i * n + j]);

  function swapRows(p: number, q: number): void {
    if (p === q) return;
    for (let j = 0; j < n; j++) {
      [re[p * n + j], re[q * n + j]] = [re[q * n + j], re[p * n + j]];
      [im[p * n + j], im[q * n + j]] = [im[q * n + j], im[p * n + j]];
    }
    [rightRe[p], rightRe[q]] = [rightRe[q], rightRe[p]];
    [rightIm[p], rightIm[q]] = [rightIm[q], rightIm[p]];
    [rowScale[p], rowScale[q]] = [rowScale[q], rowScale[p]];
  }

  function subtractRow(target: number, pivot: number, fRe: number, fIm: number): void {
    for (let j = pivot; j < n; j++) {
      const oRe = re[pivot * n + j];
      const oIm = im[pivot * n + j];
      re[target * n + j] -= fRe * oRe - fIm * oIm;
      im[target * n + j] -= fRe * oIm + fIm * oRe;
    }
    rightRe[target] -= fRe * rightRe[pivot] - fIm * rightIm[pivot];
    rightIm[target] -= fRe * rightIm[pivot] + fIm * rightRe[pivot];
  }

  function solve(): boolean {
    for (let i = 0; i < n; i++) {
      rowScale[i] = 0;
      for (let j = 0; j < n; j++) rowScale[i] = Math.max(rowScale[i], size(i, j));
      if (!(rowScale[i] > 0)) return false;
    }
    for (let p = 0; p < n; p++) {
      let best = p;
      for (let i = p + 1; i < n; i++)
        if (size(i, p) / rowScale[i] > size(best, p) / rowScale[best]) best = i;
      // Against the row's own scale: an absolute test would depend on the unit (see trap of testing
      // for exact zero).
      if (!(size(best, p) / rowScale[best] > 1e-14)) return false;
      swapRows(p, best);
      const d = re[p * n + p] ** 2 + im[p * n + p] ** 2;
      for (let i = p + 1; i < n; i++) {
        if (size(i, p) === 0) continue;
        const nRe = re[i * n + p] * re[p * n + p] + im[i * n + p] * im[p * n + p];
        const nIm = im[i * n + p] * re[p * n + p] - re[i * n + p] * im[p * n + p];
        subtractRow(i, p, nRe / d, nIm / d);
      }
    }
    for (let p = n - 1; p >= 0; p--) {
      for (let j = p + 1; j < n; j++) {
        rightRe[p] -= re[p * n + j] * rightRe[j] - im[p * n + j] * rightIm[j];
        rightIm[p] -= re[p * n + j] * rightIm[j] + im[p * n + j] * rightRe[j];
      }
      const dRe = re[p * n + p];
      const dIm = im[p * n + p];
      const d = dRe * dRe + dIm * dIm;
      const vRe = rightRe[p];
      const vIm = rightIm[p];
      rightRe[p] = (vRe * dRe + vIm * dIm) / d;
      rightIm[p] = (vIm * dRe - vRe * dIm) / d;
    }
    return true;
  }

  return { re, im, rightRe, rightIm, solve };
}
