import { cleanLevel } from '@/core/box/cleanLevel';
import { leastXmaxMm } from '@/core/cabinet/driversInBox';
import { leastDepthMm } from '@/core/cabinet/driverRoom';
import { leakageOf } from '@/core/cabinet/leakage';
import { nearestIndex } from '@/core/grid/nearest';
import { formatFixed } from '@/core/units/quantity';
import { boxCurves, type BoxCurves } from '@/core/box/response';
import {
  fillsFor,
  finer,
  lineLengthsMm,
  liningsFor,
  passiveSizes,
  plainTube,
  tubesMm,
  tuningTimes,
} from './boxGrid';
import type { BoxDriver, BoxSystem } from '@/core/box/enclosure';
import { enclosureOf } from '@/core/cabinet/enclosureOf';
import { boxOutlay } from '@/core/cabinet/outlay';
import { netVolumeOf, withNetLitres } from '@/core/cabinet/netVolume';
import { outsideLitres } from '@/core/cabinet/shell';
import {
  quietAreaM2,
  quietMps,
  tunedToHz,
  ventFacts,
  ventFit,
  withTuning,
} from '@/core/cabinet/vent';
import type { Box, BoxKind, BoxPipe } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import {
  cleanFromF3,
  groupDelaysMs,
  limitsOf,
  aloneShape,
  lowsShape,
  plateauOf,
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
  /** What keeps it from being sound, in words; none of one that is. */
  readonly faults: readonly string[];
  /** Without faults, and what is asked for is reached. */
  readonly isKept: boolean;
  /** What is made small. */
  readonly merit: number;
}

/** For each dB that a sine lacks of the level that the brief asks. */
const quietness = 0.5;
/** Of a port that is nothing to one that is quiet up to the whole excursion. */
const narrowness = 1;
/** For each octave by which a cone moves beyond its Xmax, or air faster than is quiet. */
const strain = 20;
/** Of the area that is quiet up to the whole excursion, the least that a port may have. */
const leastAreaShare = 0.5;
/** A tenth over what may be spent is as bad as an octave of F3. */
const dearness = 400;
/** And any is: what may be spent is a limit. */
const tooDear = 2;

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

/**
 * A passive cone of another area, as cones go: its compliance stays and so Vas goes with the square of
 * the area; mass with its 3/2nd power, travel with its root (an estimate: state the one you can buy).
 */
const sizedPassive = (passive: Box['passive'], area: number): Box['passive'] => ({
  ...passive,
  sdCm2: Number((passive.sdCm2 * area).toFixed(0)),
  vasLitres: Number((passive.vasLitres * area ** 2).toFixed(0)),
  fsHz: Number((passive.fsHz * area ** -0.75).toFixed(1)),
  xmaxMm: Number((passive.xmaxMm * Math.sqrt(area)).toFixed(1)),
});

/** Highest of a curve from a little under a frequency up: below its tuning no port is asked anything. */
function peakFrom(frequencyHz: Float64Array, curve: Float64Array, hz: number): number {
  let most = 0;
  for (let i = 0; i < frequencyHz.length; i++)
    if (frequencyHz[i] >= 0.95 * hz && curve[i] > most) most = curve[i];
  return most;
}

/** Boxes in order: those that keep what is asked first, then by merit. */
export const compareFound = (a: BoxFound, b: BoxFound): number =>
  Number(b.isKept) - Number(a.isKept) || a.merit - b.merit;

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
    // A box alone is looked at from its own plateau.
    const shape = beyond
      ? lowsShape(frequencyHz, levelDb, delays, beyond.referenceDb, searchFromHz)
      : aloneShape(frequencyHz, levelDb, delays, plateauOf({ driver, enclosure, air }));
    return { curves, levelDb, ...shape };
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
    const strains = strainsOf(box, curves, portMps);
    const overs = strains.filter(({ octaves }) => octaves > 0.01);
    const faults = [
      ...(fits ? [] : ['the port does not fit']),
      ...(humpDb <= wish.humpDb + 0.05 ? [] : [`hump ${formatFixed(humpDb, 1)} dB`]),
      ...overs.map(({ told }) => told),
      ...(overspent(outlay) === 0 ? [] : ['more than may be spent']),
    ];
    const isSound = faults.length === 0;
    return {
      ...{ box, f3Hz, f10Hz, humpDb, groupDelayMs, portMps, outlay },
      netLitres: netVolumeOf(box, design).netLitres,
      outsideLitres: outsideLitres(box.shell),
      tunedHz: tunedToHz(box, design, air),
      cleanDb,
      faults,
      isKept: isSound && isUnder(f3Hz, wish.f3Hz) && isUnder(f10Hz, wish.f10Hz),
      merit:
        meritOf(box, trial, portMps) +
        (overspent(outlay) > 0 ? tooDear + dearness * overspent(outlay) : 0) +
        quietness * lacksDb +
        strain * overs.reduce((sum, { octaves }) => sum + Math.min(2, octaves), 0) +
        (fits ? 0 : 8),
    };
  }

  /** How far cones, passive cones and the air in a port are beyond what they may do, octaves. */
  function strainsOf(box: Box, curves: BoxCurves, portMps: number | null) {
    const { timesProgramme, timesRated } = setting;
    const strains: { readonly told: string; readonly octaves: number }[] = [];
    const tell = (told: string, value: number, limit: number | null) => {
      if (limit !== null && limit > 0) strains.push({ told, octaves: Math.log2(value / limit) });
    };
    if (timesProgramme !== null)
      tell(
        'cone beyond Xmax',
        programmePeak(frequencyHz, curves.excursionMm, timesProgramme),
        leastXmaxMm(box, design.drivers),
      );
    if (box.kind === 'passive-radiator' && timesProgramme !== null)
      tell(
        'passive cone beyond its Xmax',
        programmePeak(frequencyHz, passiveTravelMm(curves), timesProgramme),
        box.passive.xmaxMm,
      );
    if (portMps !== null) tell('port loud', portMps, quietMps(box.port));
    if (box.kind !== 'vented') return strains;
    const hz = tunedToHz(box, design, air);
    if (hz === null) return strains;
    const share = ventFacts(box.port, air).areaCm2 / 1e4 / quietAreaM2(box, design, hz);
    const rated =
      timesRated === null ? Infinity : timesRated * peakFrom(frequencyHz, curves.openingSpeed, hz);
    // A narrow port may be: one that stays quiet at all that the amplifier gives.
    if (Number.isFinite(share) && share < leastAreaShare && rated > quietMps(box.port))
      strains.push({ told: 'port narrow', octaves: Math.log2(leastAreaShare / share) });
    return strains;
  }

  /** Peak travel of the passive cone, mm, from its speed. */
  const passiveTravelMm = ({ openingSpeed }: BoxCurves) =>
    openingSpeed.map((mps, i) => (1000 * mps) / (2 * Math.PI * frequencyHz[i]));

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
    const whole = { ...largest(like, kind, wish), ql: leakageOf(kind, like) };
    if (kind === 'open-baffle') {
      const box = { ...whole, pathMm: Math.max(50, share * wish.widthMm) };
      const trial = tried(box);
      return trial && finished(box, trial, true);
    }
    if (kind === 'line') return lined(whole, share);
    const room = netVolumeOf({ ...whole, kind: 'sealed' }, design).netLitres;
    const litres = room * share;
    const sized = withNetLitres({ ...whole, kind: 'sealed' }, litres, design);
    // The drivers need their depth, whatever the air needs.
    if (!sized || litres <= 0 || sized.shell.depthMm < leastDepthMm(whole, design) - 0.05)
      return null;
    let best: BoxFound | null = null;
    const offer = (found: BoxFound | null) => {
      if (found && (!best || compareFound(found, best) < 0)) best = found;
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
      const ranked = (all: readonly Ranked[]) => all.toSorted((a, b) => a.merit - b.merit);
      const lookedAt = (tune: (hz: number) => Box | null) => {
        const at = (hz: number): Ranked[] => {
          const tuned = tune(hz);
          const trial = tuned && tried(tuned);
          return tuned && trial && contributes(trial.curves, hz)
            ? [{ hz, tuned, trial, merit: meritOf(tuned, trial, null) }]
            : [];
        };
        const coarse = ranked(tuningTimes.flatMap((times) => at(times * driver.fsHz)));
        if (coarse.length === 0) return null;
        const fine = ranked([coarse[0], ...finer.flatMap((by) => at(coarse[0].hz * 2 ** by))]);
        return { best: fine[0], second: coarse[1] ?? fine[0] };
      };
      if (kind === 'vented') {
        const looked = lookedAt((hz) => withTuning(open, hz, design, air));
        if (looked)
          for (const { hz } of [looked.best, looked.second]) offer(ported(box, hz, litres));
        continue;
      }
      for (const { area, count } of passiveSizes) {
        const passive = { ...sizedPassive(like.passive, area), count };
        const looked = lookedAt((hz) => withPassiveTuning({ ...box, passive }, hz));
        if (looked) offer(finished(looked.best.tuned, looked.best.trial, true));
      }
    }
    return best;
  };

  /** Whether the opening moves at least as much air as the cone where it is tuned to. */
  function contributes({ openingDb, coneDb }: BoxCurves, hz: number): boolean {
    const i = nearestIndex(frequencyHz, hz);
    return openingDb[i] >= coneDb[i];
  }

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
