import { addSlopes, type PlayedCurve } from './curve';

/** Voltage at the terminals of an amplifier, and its current. */
interface Amplified {
  readonly volts: PlayedCurve;
  readonly amperes: PlayedCurve;
}

/** What the amplifiers drive: at each frequency the load of least magnitude. */
export interface PlayedLoad {
  readonly ohms: Float64Array;
  readonly phaseDeg: Float64Array;
  /** Adds slopes of the load as {@link addSlopes} does, of ln|Z| and of Z's angle in radians. */
  addLoadSlopes(
    i: number,
    perNeper: number,
    perRadian: number,
    out: Float64Array,
    at: number,
  ): void;
  /** To be called when something was solved. */
  readonly play: () => void;
}

export function createPlayedLoad(
  amplifiers: readonly Amplified[],
  points: number,
  variableCount: number,
): PlayedLoad {
  const ohms = new Float64Array(points);
  const phaseDeg = new Float64Array(points);
  const hardest = new Uint8Array(points);
  return {
    ...{ ohms, phaseDeg },
    play() {
      ohms.fill(Infinity);
      amplifiers.forEach(({ volts, amperes }, k) => {
        for (let i = 0; i < points; i++) {
          // SPICE counts a source's current into it.
          const [x, y] = [-amperes.re[i], -amperes.im[i]];
          const size = x * x + y * y;
          const zRe = (volts.re[i] * x + volts.im[i] * y) / size;
          const zIm = (volts.im[i] * x - volts.re[i] * y) / size;
          const magnitude = Math.sqrt(zRe * zRe + zIm * zIm);
          if (magnitude >= ohms[i]) continue;
          ohms[i] = magnitude;
          phaseDeg[i] = (Math.atan2(zIm, zRe) * 180) / Math.PI;
          hardest[i] = k;
        }
      });
    },
    addLoadSlopes(i, perNeper, perRadian, out, at) {
      const { volts, amperes } = amplifiers[hardest[i]];
      addSlopes(volts, i, perNeper, perRadian, out, at, variableCount);
      addSlopes(amperes, i, -perNeper, -perRadian, out, at, variableCount);
    },
  };
}
