import { driversInBox } from '@/core/cabinet/driversInBox';
import { sealedFor, ventedFor } from '@/core/box/alignments';
import { fillEffects } from '@/core/box/fill';
import { leakageOf, usualQl } from '@/core/cabinet/leakage';
import { airOf, boxDriverOf } from '@/core/cabinet/enclosureOf';
import { netVolumeOf, withNetLitres } from '@/core/cabinet/netVolume';
import { insideOf } from '@/core/cabinet/shell';
import { withTuning } from '@/core/cabinet/vent';
import { boxModes, type Inside } from '@/core/box/modes';
import { boundsOf } from '@/core/document/baffleSchema';
import {
  usualPassive,
  usualPipe,
  usualPort,
  usualShell,
  type Box,
} from '@/core/document/boxSchema';
import type { Design, Driver } from '@/core/document/schema';
import { totalQ } from '@/core/driver/motor';
import { formatFixed, formatNumber } from '@/core/units/quantity';

/** Drivers that a first box is for: those with the lowest resonance, all alike. */
export function lowestDrivers({ drivers }: Pick<Design, 'drivers'>): Driver[] {
  const known = drivers.flatMap((driver) =>
    driver.sheet.fsHz === null ? [] : [{ driver, fsHz: driver.sheet.fsHz }],
  );
  const lowest = Math.min(...known.map(({ fsHz }) => fsHz));
  const own = known.filter(({ fsHz }) => fsHz < 1.15 * lowest).map(({ driver }) => driver);
  return own.length > 0 ? own : drivers.slice(0, 1);
}

/**
 * A box to begin with: of the Baffle's size where the driver is on one, else of what the brief allows.
 */
export function firstBox(design: Design, id: string, drivers = lowestDrivers(design)): Box {
  const panel = design.panels.find(
    ({ id: panelId, kind }) => kind === 'box' && panelId === drivers.at(0)?.mounting.panelId,
  );
  const bounds = panel && boundsOf(panel.corners);
  const { brief } = design;
  const names = new Set(design.boxes.map(({ name }) => name));
  const letter = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'].find((one) => !names.has(`Box ${one}`)) ?? 'new';
  return {
    id,
    name: `Box ${letter}`,
    isUsed: false,
    driverIds: drivers.map((one) => one.id),
    kind: 'sealed',
    shell: {
      ...usualShell,
      widthMm: bounds?.widthMm ?? brief.widthMm ?? usualShell.widthMm,
      heightMm: bounds?.heightMm ?? brief.heightMm ?? usualShell.heightMm,
      depthMm: panel?.depthMm ?? brief.depthMm ?? usualShell.depthMm,
      frontMm: panel?.thicknessMm ?? usualShell.frontMm,
    },
    insideId: null,
    fill: 'walls',
    ql: leakageOf('sealed', null),
    port: usualPort,
    passive: usualPassive,
    pipe: usualPipe,
    pathMm: bounds ? bounds.widthMm / 2 : 200,
    spliceHz: 200,
  };
}

/** A box by a textbook alignment, and what it takes for granted. */
export interface StartingBox {
  readonly told: string;
  readonly assumes: string;
  readonly box: Box;
}

const sealedQs = [
  { qtc: 0.5, told: 'Sealed, Qtc 0.50 (critically damped: no overshoot)' },
  { qtc: 0.577, told: 'Sealed, Qtc 0.58 (Bessel: flattest delay)' },
  { qtc: 1 / Math.SQRT2, told: 'Sealed, Qtc 0.71 (Butterworth: flattest)' },
  { qtc: 1, told: 'Sealed, Qtc 1.0 (smallest, a hump of 1.2 dB)' },
] as const;

/**
 * Boxes by textbook alignments (Small 1972, 1973), of the width and height of another; their tunings and
 * volumes are for a source of no resistance and no inductance but the one told.
 *
 * @param seriesOhms of amplifier, cable and network before the drivers
 */
export function startingBoxes(design: Design, like: Box, seriesOhms: number): StartingBox[] {
  const own = driversInBox(like, design.drivers);
  const driver = own.map((one) => boxDriverOf(one, design.airTemperatureC)).find((one) => one);
  if (!driver) return [];
  const air = airOf(design);
  const qes = (driver.qes * (driver.reOhm + seriesOhms)) / driver.reOhm;
  const qts = totalQ({ qes, qms: driver.qms })!;
  const vasLitres = 1000 * driver.vasM3 * own.length;
  const sized = (kind: 'sealed' | 'vented', litres: number) =>
    withNetLitres(
      { ...like, kind, fill: 'walls', ql: leakageOf(kind, like) },
      litres / fillEffects.walls.volumeTimes,
      design,
    );
  const series = `Qts ${formatFixed(qts, 2)} with ${formatFixed(seriesOhms, 2)} Ω before it`;
  const sealed = sealedQs.flatMap(({ qtc, told }): StartingBox[] => {
    const found = sealedFor({ fsHz: driver.fsHz, qts }, qtc);
    const box = found && sized('sealed', vasLitres / found.alpha);
    if (!box) return [];
    return [
      {
        box,
        told,
        assumes: `${series}, no leakage, no inductance; F3 in half space ${formatNumber(Math.round(found.f3Hz))} Hz.`,
      },
    ];
  });
  const vented = ventedFor(qts, usualQl);
  const room = vented && sized('vented', vasLitres / vented.alpha);
  const tuned = vented && room && withTuning(room, vented.h * driver.fsHz, design, air);
  if (!tuned) return sealed;
  return [
    ...sealed,
    {
      box: tuned,
      told: `Vented, ${vented.family}`,
      assumes: `${series}, leakage QL ${usualQl}, no inductance; tuned to ${formatFixed(vented.h * driver.fsHz, 1)} Hz.`,
    },
  ];
}

/** What can be swept. */
export const sweptVariables = ['volume', 'tuning', 'fill'] as const;
export type SweptVariable = (typeof sweptVariables)[number];

const sweepFactors = [0.7, 0.84, 1, 1.19, 1.41];

/** A family of boxes in which one thing varies; what can't be built is left out. */
export function sweptBoxes(
  design: Design,
  box: Box,
  what: SweptVariable,
  tunedHz: number | null,
): { readonly told: string; readonly box: Box }[] {
  if (what === 'fill')
    return (['none', 'walls', 'half', 'full'] as const).map((fill) => ({
      told: `fill: ${fill}`,
      box: { ...box, fill },
    }));
  const air = airOf(design);
  return sweepFactors.flatMap((factor) => {
    if (what === 'tuning') {
      const hz = tunedHz === null ? null : tunedHz * factor;
      const tuned = hz === null ? null : withTuning(box, hz, design, air);
      return tuned && hz !== null ? [{ told: `${formatFixed(hz, 1)} Hz`, box: tuned }] : [];
    }
    const litres = netVolumeOf(box, design).netLitres * factor;
    const sized = withNetLitres(box, litres, design);
    if (!sized) return [];
    // The tuning stays, so that only the volume differs.
    const kept =
      box.kind === 'vented' && tunedHz !== null ? withTuning(sized, tunedHz, design, air) : sized;
    return kept ? [{ told: `${formatFixed(litres, 1)} l`, box: kept }] : [];
  });
}

/** Sides of a box whose standing waves keep apart. */
export interface Proportion {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly depthMm: number;
  /** Least distance of two of its lowest standing waves, as a share. */
  readonly apart: number;
}

const modesCompared = 7;
const heightFactors = Array.from({ length: 41 }, (_, k) => 0.75 + k * 0.0125);

/**
 * Heights and depths of the same volume and width, by how far their lowest standing waves are apart; the
 * sides as they are come first.
 */
export function proportionsFor(design: Design, { shell }: Box, mostHeightMm: number): Proportion[] {
  const { speedOfSound } = airOf(design);
  const inside = insideOf(shell);
  const volume = inside.widthMm * inside.heightMm * inside.depthMm;
  const at = (insideHeightMm: number): Proportion => {
    const depthMm = volume / inside.widthMm / insideHeightMm;
    const sides: Inside = [inside.widthMm / 1000, insideHeightMm / 1000, depthMm / 1000];
    const modes = boxModes(sides, 2000, speedOfSound).slice(0, modesCompared);
    const gaps = modes.slice(1).map(({ hz }, m) => hz / modes[m].hz - 1);
    return {
      widthMm: shell.widthMm,
      heightMm: Math.round(insideHeightMm + 2 * shell.wallMm),
      depthMm: Math.round(depthMm + shell.wallMm + shell.frontMm),
      apart: Math.min(...gaps),
    };
  };
  if (!(volume > 0)) return [];
  const now = at(inside.heightMm);
  const others = heightFactors
    .map((factor) => at(inside.heightMm * factor))
    .filter(({ heightMm, apart }) => heightMm <= mostHeightMm && apart > now.apart)
    .toSorted((a, b) => b.apart - a.apart);
  return [now, ...others.slice(0, 3)];
}
