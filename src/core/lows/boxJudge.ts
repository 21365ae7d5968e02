import { cleanLevel } from '@/core/box/cleanLevel';
import { boxCurves, type BoxCurves } from '@/core/box/response';
import type { BoxDriver, BoxSystem } from '@/core/box/enclosure';
import { enclosureOf } from '@/core/cabinet/enclosureOf';
import { boxOutlay } from '@/core/cabinet/outlay';
import { netVolumeOf, withNetLitres } from '@/core/cabinet/netVolume';
import { outsideLitres } from '@/core/cabinet/shell';
import { quietAreaM2, quietMps, tunedToHz, ventFit, withTuning } from '@/core/cabinet/vent';
import type { Box, BoxKind, BoxPipe } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import {
  cleanFromF3,
  groupDelaysMs,
  limitsOf,
  lowsShape,
  programmePeak,
  type LowsShape,
} from './boxFigures';
import { type LowsSetting } from './setting';
import { searchFromHz } from './view';

/** What a search may use, and what it is to reach. */
export interface BoxWish {
  readonly kinds: readonly BoxKind[];
  /** Largest outside, mm. */
  readonly widthMm: number;
  readonly heightMm: number;
  readonly deepestMm: number;
  readonly f3Hz: number | null;
  readonly f10Hz: number | null;
  /** Highest hump that is put up with, dB. */
  readonly humpDb: number;
  /** For boards, fill and opening, in the currency of the brief; null for any sum. */
  readonly mostOutlay: number | null;
}

/** A box that was found, as it is estimated from the design's sum. */
export interface BoxFound {
  readonly box: Box;
  readonly netLitres: number;
  readonly outsideLitres: number;
  readonly tunedHz: number | null;
  readonly f3Hz: number | null;
  readonly f10Hz: number | null;
  readonly humpDb: number;
  readonly groupDelayMs: number;
  readonly portMps: number | null;
  /** Least clean level from F3 to an octave above, at 1 m; null without an F3. */
  readonly cleanDb: number | null;
  /** Of boards, fill and opening. */
  readonly outlay: number;
  /** No more of a hump and of a cost than is put up with, and a port that fits and is quiet. */
  readonly isSound: boolean;
  /** So, and what is asked for is reached. */
  readonly isKept: boolean;
  /** What is made small. */
  readonly merit: number;
}

const tuningsHz = Array.from({ length: 30 }, (_, k) => 20 * 2 ** (k / 15));
const fillsFor: Readonly<Record<BoxKind, readonly Box['fill'][]>> = {
  sealed: ['none', 'walls', 'half', 'full'],
  // Fill beyond the walls costs a tuned opening its output.
  vented: ['none', 'walls'],
  'passive-radiator': ['none', 'walls'],
  'open-baffle': ['none'],
  line: ['none'],
};
/** Diameters that tubes are sold in, mm (common practice). */
const tubesMm = [40, 50, 60, 70, 80, 90, 100, 120, 150];
/** Linings of a line, Pa·s/m². */
const liningsFor = [500, 1500, 3000, 6000];
const lineLengthsMm = [900, 1200, 1500, 1800, 2200, 2600];
/** For each dB that a sine lacks of the level that the brief asks. */
const quietness = 0.5;
/** Of a port that is nothing to one that is quiet up to the whole excursion. */
const narrowness = 1;
/** A tenth over what may be spent is as bad as an octave of F3. */
const dearness = 400;

/** Between the tunings of the grid, octaves. */
const finer = [-1 / 24, -1 / 48, 1 / 48, 1 / 24];
const plainTube = { diameterMm: 60, count: 1, shape: 'round' } as const;

interface Ranked {
  readonly hz: number;
  readonly tuned: Box;
  readonly trial: Trial;
  readonly merit: number;
}

interface Trial extends LowsShape {
  /** In which its figures were found. */
  readonly levelDb: Float64Array;
  readonly curves: BoxCurves;
}

/** Octaves over what was asked; what was not asked is wanted low, but little. */
export function lackingOctaves(hz: number | null, askedHz: number | null): number {
  if (hz === null) return 3;
  return askedHz === null ? 0.1 * Math.log2(hz / 20) : Math.max(0, Math.log2(hz / askedHz));
}

/** The largest box of a kind that a wish allows. */
function largest(like: Box, kind: BoxKind, wish: BoxWish): Box {
  const { widthMm, heightMm, deepestMm } = wish;
  return { ...like, kind, shell: { ...like.shell, widthMm, heightMm, depthMm: deepestMm } };
}

/** What a design's sum has beyond a box alone, and the level from which its cut-offs are told. */
export interface Beyond {
  readonly db: Float64Array;
  readonly referenceDb: number;
}

/**
 * Finds the box of a kind and of a share of the largest volume: its tuning, fill and port, each try solved
 * whole with what drives it.
 *
 * @param beyond null while the design has no sum: then boxes are told alone
 */
export function createJudge(
  beyond: Beyond | null,
  design: Design,
  like: Box,
  wish: BoxWish,
  setting: LowsSetting,
  driver: BoxDriver,
) {
  const { frequencyHz, source, air } = setting;
  const solve = (system: BoxSystem) => boxCurves(system, source, frequencyHz);
  const beyondDb = beyond?.db ?? null;

  function tried(box: Box): Trial | null {
    const enclosure = enclosureOf(box, design);
    if (!enclosure) return null;
    const curves = solve({ driver, enclosure, air });
    const levelDb = beyondDb ? curves.levelDb.map((db, i) => db + beyondDb[i]) : curves.levelDb;
    const delays = groupDelaysMs(frequencyHz, curves.phaseDeg);
    const from = beyond?.referenceDb ?? null;
    return { curves, levelDb, ...lowsShape(frequencyHz, levelDb, delays, from, searchFromHz) };
  }

  /** How far over what may be spent, as a share of it. */
  const overspent = (outlay: number) =>
    wish.mostOutlay === null ? 0 : Math.max(0, outlay / wish.mostOutlay - 1);

  const meritOf = (box: Box, trial: Trial, portMps: number | null) =>
    40 * lackingOctaves(trial.f3Hz, wish.f3Hz) +
    30 * lackingOctaves(trial.f10Hz, wish.f10Hz) +
    6 * Math.max(0, trial.humpDb - wish.humpDb) +
    0.15 * Math.max(0, trial.groupDelayMs - 20) +
    (portMps === null ? 0 : Math.max(0, portMps - quietMps(box.port))) +
    // Of two that keep all, the smaller one.
    0.04 * outsideLitres(box.shell);

  function finished(box: Box, trial: Trial, fits: boolean): BoxFound {
    const { curves, f3Hz, f10Hz, humpDb, groupDelayMs } = trial;
    const { timesProgramme } = setting;
    const hasPort = box.kind === 'vented' || box.kind === 'line';
    const portMps =
      hasPort && timesProgramme !== null
        ? programmePeak(frequencyHz, curves.openingSpeed, timesProgramme)
        : null;
    const clean = cleanLevel(curves, limitsOf(box, design.drivers, setting));
    const cleanDb = cleanFromF3(frequencyHz, clean, f3Hz, curves.levelDb, trial.levelDb);
    const { wantedDb } = setting;
    const lacksDb = cleanDb === null || wantedDb === null ? 0 : Math.max(0, wantedDb - cleanDb);
    const isUnder = (hz: number | null, asked: number | null) =>
      asked === null || (hz !== null && hz <= asked);
    const outlay = boxOutlay(box, design).whole;
    const isSound =
      fits &&
      humpDb <= wish.humpDb + 0.05 &&
      (portMps === null || portMps <= quietMps(box.port)) &&
      overspent(outlay) === 0;
    return {
      ...{ box, f3Hz, f10Hz, humpDb, groupDelayMs, portMps, outlay },
      netLitres: netVolumeOf(box, design).netLitres,
      outsideLitres: outsideLitres(box.shell),
      tunedHz: tunedToHz(box, design, air),
      cleanDb,
      isSound,
      isKept: isSound && isUnder(f3Hz, wish.f3Hz) && isUnder(f10Hz, wish.f10Hz),
      merit:
        meritOf(box, trial, portMps) +
        dearness * overspent(outlay) +
        quietness * lacksDb +
        (fits ? 0 : 8),
    };
  }

  /**
   * The tube of least merit, of those that keep all that is asked if there are any. One that is quiet up
   * to the whole excursion of the drivers ends the looking.
   */
  function ported(box: Box, hz: number, litres: number): BoxFound | null {
    const wantedM2 = quietAreaM2(box, design, hz);
    let best: BoxFound | null = null;
    let least = Infinity;
    for (const count of [1, 2])
      for (const diameterMm of tubesMm) {
        const port = { ...box.port, shape: 'round' as const, count, diameterMm };
        for (const bends of [0, 1]) {
          const tuned = withTuning({ ...box, port: { ...port, bends } }, hz, design, air);
          if (!tuned) continue;
          const sized = withNetLitres(tuned, litres, design);
          if (!sized) continue;
          // In the largest box a port takes its room from the air.
          const depthMm = Math.min(wish.deepestMm, sized.shell.depthMm);
          const within = { ...sized, shell: { ...sized.shell, depthMm } };
          const kept = withTuning(within, hz, design, air);
          if (!kept) continue;
          const trial = tried(kept);
          if (!trial) continue;
          const { fits } = ventFit(kept);
          const found = finished(kept, trial, fits);
          const areaM2 = (count * Math.PI * (diameterMm / 1000) ** 2) / 4;
          const merit = found.merit + narrowness * Math.max(0, 1 - areaM2 / wantedM2);
          if (found.isKept === best?.isKept ? merit < least : found.isKept || !best)
            [best, least] = [found, merit];
          if (found.isKept && areaM2 >= wantedM2) return best;
          if (fits) break;
        }
      }
    return best;
  }

  return (kind: BoxKind, share: number): BoxFound | null => {
    const whole = largest(like, kind, wish);
    if (kind === 'open-baffle') {
      const box = { ...whole, pathMm: Math.max(50, share * wish.widthMm) };
      const trial = tried(box);
      return trial && finished(box, trial, true);
    }
    if (kind === 'line') return lined(whole, share);
    const room = netVolumeOf({ ...whole, kind: 'sealed' }, design).netLitres;
    const litres = room * share;
    const sized = withNetLitres({ ...whole, kind: 'sealed' }, litres, design);
    if (!sized || litres <= 0) return null;
    let best: BoxFound | null = null;
    const offer = (found: BoxFound | null) => {
      if (found && (!best || found.merit < best.merit)) best = found;
    };
    for (const fill of fillsFor[kind]) {
      const box = { ...sized, kind, fill };
      if (kind === 'sealed') {
        const trial = tried(box);
        if (trial) offer(finished(box, trial, true));
        continue;
      }
      // First without regard to the opening: which tuning, then how it is made.
      const open = { ...box, port: { ...box.port, ...plainTube, isOutside: true } };
      const at = (hz: number): Ranked[] => {
        const tuned =
          kind === 'vented' ? withTuning(open, hz, design, air) : withPassiveTuning(box, hz);
        const trial = tuned && tried(tuned);
        return tuned && trial ? [{ hz, tuned, trial, merit: meritOf(tuned, trial, null) }] : [];
      };
      const ranked = (all: readonly Ranked[]) => all.toSorted((a, b) => a.merit - b.merit);
      const coarse = ranked(tuningsHz.flatMap(at));
      if (coarse.length === 0) continue;
      const fine = ranked([coarse[0], ...finer.flatMap((by) => at(coarse[0].hz * 2 ** by))]);
      if (kind === 'vented')
        for (const { hz } of [fine[0], coarse[1] ?? fine[0]]) offer(ported(box, hz, litres));
      else offer(finished(fine[0].tuned, fine[0].trial, true));
    }
    return best;
  };

  /** A passive cone with the mass that tunes it; null where it is too heavy already. */
  function withPassiveTuning(box: Box, hz: number): Box | null {
    const atMass = (addedMassG: number) =>
      tunedToHz({ ...box, passive: { ...box.passive, addedMassG } }, design, air)!;
    if (atMass(0) < hz) return null;
    let [low, high] = [0, 5000];
    for (let k = 0; k < 40; k++) {
      const middle = (low + high) / 2;
      if (atMass(middle) > hz) low = middle;
      else high = middle;
    }
    return { ...box, passive: { ...box.passive, addedMassG: Number(low.toFixed(1)) } };
  }

  function lined(whole: Box, share: number): BoxFound | null {
    const shell = { ...whole.shell, depthMm: Math.max(60, share * whole.shell.depthMm) };
    const boxOf = (segment: BoxPipe['segments'][number], at: number): Box => ({
      ...{ ...whole, shell },
      pipe: {
        segments: [segment],
        driverAtMm: Math.round(at * segment.lengthMm),
        end: 'open',
      },
    });
    let best: BoxFound | null = null;
    for (const lengthMm of lineLengthsMm) {
      /** All the room there is, with boards that leave so much open at the turns. */
      const roomCm2 = (openCm2: number) =>
        (netVolumeOf(boxOf({ lengthMm, areaCm2: openCm2, flowResistivity: 0 }, 0), design)
          .netLitres *
          1e4) /
        lengthMm;
      const areaCm2 = roomCm2(roomCm2(0));
      if (areaCm2 === 0) continue;
      for (const flowResistivity of liningsFor)
        for (const at of [0, 1 / 3]) {
          const box = boxOf({ lengthMm, areaCm2, flowResistivity }, at);
          const trial = tried(box);
          const found = trial && finished(box, trial, true);
          if (found && (!best || found.merit < best.merit)) best = found;
        }
    }
    return best;
  }
}
