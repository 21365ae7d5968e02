/** Kinds of slopes that a filter can begin with. */
export type Alignment = 'butterworth' | 'linkwitz-riley' | 'bessel';
export type FilterOrder = 1 | 2 | 3 | 4;

type Polynomial = readonly number[];

const times = (a: Polynomial, b: Polynomial): number[] => {
  const out = new Array<number>(a.length + b.length - 1).fill(0);
  a.forEach((x, i) => b.forEach((y, j) => (out[i + j] += x * y)));
  return out;
};

/** Denominators by Butterworth (1930), lowest power first: poles on the unit circle. */
function butterworth(order: FilterOrder): number[] {
  let polynomial: number[] = order % 2 === 1 ? [1, 1] : [1];
  for (let k = 1; k <= Math.floor(order / 2); k++) {
    const damping = 2 * Math.sin(((2 * k - 1) * Math.PI) / (2 * order));
    polynomial = times(polynomial, [1, damping, 1]);
  }
  return polynomial;
}

/** Reverse Bessel polynomials (Thomson 1949), with a level of −3 dB at 1 rad/s. */
function bessel(order: FilterOrder): number[] {
  const factorial = (n: number): number => (n <= 1 ? 1 : n * factorial(n - 1));
  const raw = Array.from(
    { length: order + 1 },
    (_, k) => factorial(2 * order - k) / (2 ** (order - k) * factorial(k) * factorial(order - k)),
  );
  const level = (omega: number) => {
    let [re, im] = [0, 0];
    raw.forEach((a, k) => {
      const value = a * omega ** k;
      if (k % 4 === 0) re += value;
      else if (k % 4 === 1) im += value;
      else if (k % 4 === 2) re -= value;
      else im -= value;
    });
    return raw[0] / Math.hypot(re, im);
  };
  let [low, high] = [0.1, 10];
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if (level(middle) > Math.SQRT1_2) low = middle;
    else high = middle;
  }
  return raw.map((a, k) => (a * low ** k) / raw[0]);
}

/**
 * Denominator of a low pass with its crossover at 1 rad/s, lowest power first: −3 dB there for
 * Butterworth and Bessel, −6 dB for Linkwitz–Riley (Linkwitz 1976), which is a Butterworth of half
 * the order squared.
 *
 * @throws RangeError for a Linkwitz–Riley filter of odd order
 */
export function denominator(alignment: Alignment, order: FilterOrder): number[] {
  if (alignment === 'butterworth') return butterworth(order);
  if (alignment === 'bessel') return bessel(order);
  if (order % 2 === 1) throw new RangeError('Linkwitz–Riley filters have an even order.');
  const half = butterworth((order / 2) as FilterOrder);
  return times(half, half);
}

/** H of a low pass at a frequency over its crossover, or of the high pass that mirrors it. */
export function prototypeTransfer(
  polynomial: Polynomial,
  ratio: number,
  isHighPass: boolean,
): { readonly re: number; readonly im: number } {
  // A high pass is a low pass of 1/s: at 1/jx = −j/x.
  const omega = isHighPass ? -1 / ratio : ratio;
  let [re, im] = [0, 0];
  polynomial.forEach((a, k) => {
    const value = a * omega ** k * (k % 4 < 2 ? 1 : -1);
    if (k % 2 === 0) re += value;
    else im += value;
  });
  const square = re * re + im * im;
  return { re: re / square, im: -im / square };
}

/** |H| of a low pass at a frequency over its crossover, or of the high pass that mirrors it. */
export function prototypeLevel(polynomial: Polynomial, ratio: number, isHighPass: boolean): number {
  const { re, im } = prototypeTransfer(polynomial, ratio, isHighPass);
  return Math.hypot(re, im);
}

/**
 * Elements of the ladder between a source without resistance and a load of 1 Ω, from the source:
 * coil in series, capacitor in shunt, coil … (Darlington's synthesis for a single termination: the
 * odd over the even part of the denominator as a continued fraction gives the elements from the
 * load on).
 */
export function ladder(polynomial: Polynomial): number[] {
  const part = (isOdd: number) => polynomial.map((a, k) => (k % 2 === isOdd ? a : 0));
  const isOddFirst = (polynomial.length - 1) % 2;
  let [above, below] = [part(isOddFirst), part(1 - isOddFirst)];
  const elements: number[] = [];
  for (let degree = polynomial.length - 1; degree > 0; degree--) {
    const quotient = above[degree] / below[degree - 1];
    elements.unshift(quotient);
    const rest = above.map((a, k) => (k === 0 ? a : a - quotient * below[k - 1]));
    [above, below] = [below, rest];
  }
  return elements;
}
