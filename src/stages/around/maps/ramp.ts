/**
 * A ramp of colours whose steps look alike: straight lines in OKLab (Ottosson 2020) between the ends
 * that the theme gives.
 */

type Triple = readonly [number, number, number];

const toLinear = (byte: number) => {
  const share = byte / 255;
  return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
};
const toByte = (linear: number) => {
  const held = Math.min(1, Math.max(0, linear));
  return Math.round(255 * (held <= 0.0031308 ? 12.92 * held : 1.055 * held ** (1 / 2.4) - 0.055));
};

function toLab(hex: string): Triple {
  const [r, g, b] = [1, 3, 5].map((at) => toLinear(parseInt(hex.slice(at, at + 2), 16)));
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

function toRgb([lightness, a, b]: Triple): Triple {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    toByte(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s),
    toByte(-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s),
    toByte(-0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s),
  ];
}

/**
 * @param stops colours from the lowest to the highest, `#rrggbb`
 * @param steps how many colours
 * @returns red, green, blue of each step
 */
export function rampOf(stops: readonly string[], steps: number): Uint8ClampedArray {
  const labs = stops.map(toLab);
  const out = new Uint8ClampedArray(3 * steps);
  for (let k = 0; k < steps; k++) {
    const at = (k / (steps - 1)) * (labs.length - 1);
    const low = Math.min(labs.length - 2, Math.floor(at));
    const share = at - low;
    const [from, to] = [labs[low], labs[low + 1]];
    const [x, y, z] = from.map((value, c) => value + share * (to[c] - value));
    out.set(toRgb([x, y, z]), 3 * k);
  }
  return out;
}
