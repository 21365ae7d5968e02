/** Sound that arrives spread over time, gathered, and its spectrum. */
export interface Arrivals {
  clear(): void;
  /**
   * Adds sound that arrives evenly between two times.
   *
   * @param area its integral over time
   */
  spread(fromSeconds: number, toSeconds: number, area: number): void;
  /** Adds the spectrum of all that arrived, times a factor for each frequency. */
  addSpectrum(re: Float64Array, im: Float64Array, factor: Float64Array | null): void;
}

/** Bins for each period: what is split between four neighbours errs by 0.3 % at the most. */
const binsPerPeriod = 16;
/** Bins on either side that splitting and halving may reach. */
const border = 4;

/**
 * A stretch of sound that is even between two times is a step up and a step down, and divided by jω
 * the spectrum of the steps is that of the sound. Steps are split between the four nearest bins by
 * Lagrange's polynomial, which keeps their first three moments. Low frequencies are read from bins
 * that were joined, octave by octave, in the same way.
 *
 * @param frequencyHz rising
 * @param firstSeconds earliest arrival
 * @param lastSeconds latest
 */
export function createArrivals(
  frequencyHz: Float64Array,
  firstSeconds: number,
  lastSeconds: number,
): Arrivals {
  const highest = frequencyHz[frequencyHz.length - 1];
  const rate = binsPerPeriod * highest;
  const first = Math.floor(firstSeconds * rate) - border;
  const octaves = Math.max(0, Math.floor(Math.log2(highest / frequencyHz[0])));
  /** The bins, and what is left of them when every other is joined to its neighbours, and so on. */
  const levels = [new Float64Array(Math.ceil(lastSeconds * rate) - first + 2 * border)];
  // Joined bins begin a border earlier, and every other of them is on a bin of the level before.
  const begins = [first];
  for (let level = 1; level <= octaves; level++) {
    begins.push(Math.floor(begins[level - 1] / 2) - border);
    const last = Math.ceil((begins[level - 1] + levels[level - 1].length) / 2) + border;
    levels.push(new Float64Array(last - begins[level]));
  }
  const [bins] = levels;
  /** Bins of each level that hold anything: from the first to before the last. */
  const used = levels.map(() => ({ from: 0, to: 0 }));

  function step(seconds: number, height: number): void {
    const at = seconds * rate - first;
    const bin = Math.min(bins.length - 3, Math.max(1, Math.floor(at)));
    const x = at - bin;
    if (bin - 1 < used[0].from) used[0].from = bin - 1;
    if (bin + 3 > used[0].to) used[0].to = bin + 3;
    bins[bin - 1] -= (height * x * (x - 1) * (x - 2)) / 6;
    bins[bin] += (height * (x + 1) * (x - 1) * (x - 2)) / 2;
    bins[bin + 1] -= (height * (x + 1) * x * (x - 2)) / 2;
    bins[bin + 2] += (height * (x + 1) * x * (x - 1)) / 6;
  }

  /** Joins the bins of a level to those of the next. */
  function join(level: number): void {
    const [fine, coarse] = [levels[level - 1], levels[level].fill(0)];
    const { from, to } = used[level - 1];
    const half = (b: number) => Math.floor((begins[level - 1] + b) / 2) - begins[level];
    used[level] = { from: half(from) - 1, to: half(to) + 3 };
    for (let b = from; b < to; b++) {
      if (fine[b] === 0) continue;
      const at = begins[level - 1] + b;
      const middle = half(b);
      if (at % 2 === 0) {
        coarse[middle] += fine[b];
        continue;
      }
      const [outer, inner] = [-fine[b] / 16, (9 * fine[b]) / 16];
      coarse[middle - 1] += outer;
      coarse[middle] += inner;
      coarse[middle + 1] += inner;
      coarse[middle + 2] += outer;
    }
  }

  return {
    clear() {
      bins.fill(0);
      used[0] = { from: bins.length, to: 0 };
    },
    spread(from, to, area) {
      const width = to - from;
      // Shorter than a tenth of a bin is as good as at once.
      const least = 0.1 / rate;
      if (Math.abs(width) < least) {
        const middle = (from + to) / 2;
        step(middle - least / 2, area / least);
        step(middle + least / 2, -area / least);
        return;
      }
      step(from, area / width);
      step(to, -area / width);
    },
    addSpectrum(re, im, factor) {
      let level = 0;
      for (let i = frequencyHz.length - 1; i >= 0; i--) {
        const hz = frequencyHz[i];
        while (level < octaves && hz * 2 ** (level + 1) <= highest * (1 + 1e-9)) join(++level);
        const own = levels[level];
        const omega = 2 * Math.PI * hz;
        const period = 2 ** level / rate;
        const [cosine, sine] = [Math.cos(omega * period), -Math.sin(omega * period)];
        const { from, to } = used[level];
        // Horner's rule from the latest bin on.
        let [x, y] = [0, 0];
        for (let b = Math.min(own.length, to) - 1; b >= from; b--) {
          const next = x * cosine - y * sine + own[b];
          y = x * sine + y * cosine;
          x = next;
        }
        const begin = -omega * (begins[level] + from) * period;
        const [c, s] = [Math.cos(begin), Math.sin(begin)];
        // Over jω.
        const scale = (factor ? factor[i] : 1) / omega;
        re[i] += scale * (x * s + y * c);
        im[i] -= scale * (x * c - y * s);
      }
    },
  };
}
