import { prism } from '@/core/baffle/solid';
import { filled, isConvex } from '@/core/baffle/dents';
import type { BaffleShape } from '@/core/baffle/shape';
import { createDiffraction } from './diffraction';
import { acrossPanel, solvePanel, type PanelSolution } from './panelSolution';
import type { Diffraction, Observer, PistonSource, Spectrum } from './sending';

/** Frequencies of the panel’s own solution, over that at which edge diffraction takes over. */
const perOctave = 6;
const lowestShare = 1 / 8;
const highestShare = 2.5;
/** Of the wave across the panel: above, sound over two and three edges is enough. */
const turnShare = 1.8;
const turnOrder = 6;

/** Panels whose solutions are kept: they do not depend on where the driver is. */
const mostKept = 4;
const kept = new Map<string, { readonly hz: Float64Array; readonly solution: PanelSolution }>();

function solutionOf({ outline }: BaffleShape, turnHz: number, speedOfSoundMps: number) {
  const key = JSON.stringify([outline, speedOfSoundMps]);
  const known = kept.get(key);
  if (known) return known;
  const count = Math.ceil(perOctave * Math.log2(highestShare / lowestShare)) + 1;
  const hz = Float64Array.from(
    { length: count },
    (_, i) => turnHz * lowestShare * 2 ** (i / perOctave),
  );
  const found = { hz, solution: solvePanel(outline, hz, speedOfSoundMps) };
  kept.set(key, found);
  if (kept.size > mostKept) kept.delete(kept.keys().next().value!);
  return found;
}

/**
 * A driver in an open baffle: front and rear in opposite polarity, both heard everywhere. Low down the
 * panel is solved as a whole, as sound goes round its edge any number of times there; higher up edges
 * are followed for the front and, mirrored, for the rear. Beaming of the rear is taken as that of the
 * front; magnet and basket are not in it.
 *
 * @param drawn its depth is the thickness of the panel; how its edges are treated does not count, and
 *   dents of its outline count as filled
 */
export function createOpenBaffle(
  drawn: BaffleShape,
  source: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Diffraction {
  const shape = isConvex(drawn.outline) ? drawn : filled(drawn);
  const turnHz = (turnShare * speedOfSoundMps) / acrossPanel(shape.outline);
  const edges = createDiffraction(
    prism(shape.outline, shape.depthM),
    source,
    frequencyHz,
    speedOfSoundMps,
  );
  const { hz, solution } = solutionOf(shape, turnHz, speedOfSoundMps);
  const lows = frequencyHz.map((one) => 1 / (1 + (one / turnHz) ** turnOrder));

  function overEdges(observer: Observer): Spectrum {
    const front = edges.toward(observer);
    const rear = edges.toward(behind(observer, shape.depthM));
    const [re, im] = [front.re.slice(), front.im.slice()];
    const { added, factor } = rearPath(observer, source, shape.depthM);
    for (let i = 0; i < re.length; i++) {
      const angle = (-2 * Math.PI * frequencyHz[i] * added) / speedOfSoundMps;
      const [c, s] = [factor * Math.cos(angle), factor * Math.sin(angle)];
      re[i] -= rear.re[i] * c - rear.im[i] * s;
      im[i] -= rear.re[i] * s + rear.im[i] * c;
    }
    return { re, im };
  }

  return {
    toward(observer) {
      const [high, low] = [overEdges(observer), solution.toward(source, observer)];
      const out = { re: new Float64Array(lows.length), im: new Float64Array(lows.length) };
      lows.forEach((share, i) => {
        const own = between(hz, low, frequencyHz[i]);
        out.re[i] = share * own.re + (1 - share) * high.re[i];
        out.im[i] = share * own.im + (1 - share) * high.im[i];
      });
      return out;
    },
  };
}

/** The observer as the rear sees it: the panel turned round. */
function behind(observer: Observer, thickM: number): Observer {
  if (observer.kind === 'far')
    return { kind: 'far', direction: { ...observer.direction, z: -observer.direction.z } };
  return { kind: 'point', at: { ...observer.at, z: -observer.at.z - thickM } };
}

/** How much longer the way from the middle of the rear is, m, and what it does to the level. */
function rearPath(observer: Observer, { x, y }: PistonSource, thickM: number) {
  if (observer.kind === 'far') return { added: thickM * observer.direction.z, factor: 1 };
  const { at } = observer;
  const front = Math.hypot(at.x - x, at.y - y, at.z);
  const rear = Math.hypot(at.x - x, at.y - y, at.z + thickM);
  return { added: rear - front, factor: front / rear };
}

/** A spectrum between its frequencies; over frequency it is nearly straight low down. */
function between(hz: Float64Array, { re, im }: Spectrum, at: number) {
  const place = Math.max(0, perOctave * Math.log2(at / hz[0]));
  const i = Math.min(hz.length - 2, Math.floor(place));
  const share = Math.min(1, place - i);
  const value = (of: Float64Array) =>
    at * ((1 - share) * (of[i] / hz[i]) + share * (of[i + 1] / hz[i + 1]));
  return { re: value(re), im: value(im) };
}
