import { boxModes, modeAt, type BoxMode, type Inside } from '@/core/box/modes';
import { airOf } from '@/core/cabinet/enclosureOf';
import { lineFacts } from '@/core/cabinet/line';
import { netVolumeOf, withNetLitres } from '@/core/cabinet/netVolume';
import { wallsOf } from '@/core/cabinet/panels';
import { insideOf } from '@/core/cabinet/shell';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { finding, hzText, mmText, type BoxFinding } from './finding';

/** Advice on fill and sealing. */
export function ofFill(box: Box): BoxFinding[] {
  const advice = finding('advice', box.name);
  if (box.kind === 'sealed' && box.fill === 'none')
    return [
      advice([
        'sealed_box_empty',
        'The sealed box is empty.',
        'Standing waves inside come back through the cone; fibre damps them and makes the box act larger.',
        'Fill it with light fibre, 10–20 kg/m³, clear of the cone and magnet vent; seal all joints and the terminals.',
      ]),
    ];
  if (box.kind === 'vented' && box.fill === 'none')
    return [
      advice([
        'vented_box_bare',
        'The walls of the vented box are bare.',
        'Midrange leaves through the port.',
        'Line three neighbouring walls 20–30 mm thick; keep the port clear; seal joints and terminals, leaks cost the most at the tuning.',
      ]),
    ];
  return [];
}

/** Modes nearer than this are one resonance, as a share. */
const coincident = 0.04;
/** Modes above are damped by any lining. */
const modesUpToHz = 900;

/** Lowest standing waves along one side each, and those sides, m; null without an inside. */
function axialModes(shell: Box['shell'], speedOfSound: number) {
  const { widthMm, heightMm, depthMm } = insideOf(shell);
  const sides: Inside = [widthMm / 1000, heightMm / 1000, depthMm / 1000];
  if (!sides.every((side) => side > 0)) return null;
  const modes = boxModes(sides, modesUpToHz, speedOfSound).filter(
    ({ order }) => order.filter((n) => n > 0).length === 1,
  );
  return { sides, modes };
}

/** The first two that are one resonance; null when all are apart. */
function coinciding(modes: readonly BoxMode[]): readonly [BoxMode, BoxMode] | null {
  for (const [i, mode] of modes.entries())
    for (const other of modes.slice(i + 1))
      if (other.hz / mode.hz - 1 < coincident && axisOf(other) !== axisOf(mode))
        return [mode, other];
  return null;
}

/** Standing waves that coincide, or that the port lets out. */
export function ofModes(design: Design, box: Box): BoxFinding[] {
  if (box.kind === 'open-baffle' || box.kind === 'line') return [];
  const axial = axialModes(box.shell, airOf(design).speedOfSound);
  if (!axial) return [];
  const { sides, modes } = axial;
  const found: BoxFinding[] = [];
  const pair = coinciding(modes);
  if (pair)
    found.push(
      finding('advice', box.name)(
        [
          'modes_coincide',
          `Standing waves along ${axisOf(pair[0])} and ${axisOf(pair[1])} coincide at ${hzText(pair[0].hz)}.`,
          'At one frequency they add up, by as much as 6 dB.',
          'Sides in no simple ratio, such as 1 : 1.26 : 1.59, set them apart.',
        ],
        withoutCoincidence(design, box, pair),
      ),
    );
  if (box.kind === 'vented') {
    const lowest = modes[0];
    const heightM = box.port.heightMm / 1000;
    const inside = insideOf(box.shell);
    const at = modeAt(lowest, sides, [sides[0] / 2, heightM, 0]);
    if (axisOf(lowest) === 'the height' && at > 0.7)
      found.push(
        finding('advice', box.name)(
          [
            'port_at_pressure_maximum',
            `The port is where the standing wave of the height, ${hzText(lowest.hz)}, is loudest.`,
            'It carries that tone outside.',
            'Near the middle of the height it is silent there.',
          ],
          {
            told: 'Move the port to the middle of the height',
            changes: [
              {
                type: 'setBox',
                box: { ...box, port: { ...box.port, heightMm: Math.round(inside.heightMm / 2) } },
              },
            ],
          },
        ),
      );
  }
  return found;
}

/** The side that an axial mode lies along. */
const sideOf = ({ order }: BoxMode) =>
  (['widthMm', 'heightMm', 'depthMm'] as const)[order.findIndex((n) => n > 0)];
const sideWords = { widthMm: 'the width', heightMm: 'the height', depthMm: 'the depth' } as const;
const axisOf = (mode: BoxMode): string => sideWords[sideOf(mode)];

/** A line that is more than its box holds. */
export function ofLine(design: Design, box: Box): BoxFinding[] {
  if (box.kind !== 'line') return [];
  const { litres } = lineFacts(box.pipe, airOf(design).speedOfSound);
  const { netLitres } = netVolumeOf(box, design);
  if (litres <= netLitres * lineSlack) return [];
  const deeper = withNetLitres(box, litres, design);
  const isDeepEnough =
    deeper !== null &&
    deeper.shell.depthMm <= (design.brief.depthMm ?? Infinity) &&
    litres <= netVolumeOf(deeper, design).netLitres * lineSlack;
  return [
    finding('doubt', box.name)(
      [
        'line_too_large',
        `The line is ${formatFixed(litres, 1)} l; the box has ${formatFixed(netLitres, 1)} l for it.`,
        'What drivers, boards between its passes and the rest take is not there for the line.',
        'Make the box larger, or the line shorter or narrower.',
      ],
      isDeepEnough
        ? {
            told: `Make the depth ${mmText(deeper.shell.depthMm)}`,
            changes: [{ type: 'setBox', box: deeper }],
          }
        : null,
    ),
  ];
}

/** Rounded figures make no finding. */
const lineSlack = 1.01;

/** How much a side is changed to set standing waves apart; the least change first. */
const sideChanges = [1.06, 0.94, 1.09, 0.91, 1.13, 0.87, 1.18, 0.82];

/** Sides of a box, first the one that another is best changed against: the width is the front’s. */
const shellSides = ['depthMm', 'heightMm', 'widthMm'] as const;

/**
 * One side changed and another against it, so that the volume stays, until no waves coincide. No
 * side grows beyond what the brief allows.
 */
function withoutCoincidence(
  design: Design,
  box: Box,
  pair: readonly [BoxMode, BoxMode],
): BoxFinding['offer'] {
  const { brief } = design;
  const { speedOfSound } = airOf(design);
  const isAllowed = (shell: Box['shell']) =>
    shellSides.every((side) => shell[side] <= Math.max(brief[side] ?? Infinity, box.shell[side]));
  for (const times of sideChanges)
    for (const mode of pair)
      for (const other of shellSides.filter((side) => side !== sideOf(mode))) {
        const key = sideOf(mode);
        const to = Math.round(box.shell[key] * times);
        // Rounded down: a box that is just as large as it may be stays so.
        const against = Math.floor((box.shell[other] * box.shell[key]) / to);
        const shell = { ...box.shell, [key]: to, [other]: against };
        const axial = isAllowed(shell) ? axialModes(shell, speedOfSound) : null;
        if (axial && coinciding(axial.modes) === null)
          return {
            told: `Make ${axisOf(mode)} ${formatNumber(to)} mm`,
            changes: [{ type: 'setBox', box: { ...box, shell } }],
          };
      }
  return null;
}

/** A wall that sings where the woofer plays loudest and the ear is sharp. */
export function ofWalls(box: Box): BoxFinding[] {
  const weak = wallsOf(box.shell)
    .filter(({ name }) => name !== 'front')
    .toSorted((a, b) => a.hz[0] - b.hz[0])[0];
  if (box.kind === 'open-baffle' || !weak || weak.hz[0] > 350) return [];
  const inside = insideOf(box.shell);
  const across = inside.heightMm >= inside.depthMm ? 'height' : 'depth';
  const atMm = Math.round((across === 'height' ? inside.heightMm : inside.depthMm) * 0.43);
  return [
    finding('advice', box.name)(
      [
        'wall_resonance',
        `The ${weak.name} ${weak.name === 'sides' ? 'resonate' : 'resonates'} somewhere at ${formatNumber(Math.round(weak.hz[0]))}–${formatNumber(Math.round(weak.hz[1]))} Hz: ${mmText(weak.spanMm[0])} × ${mmText(weak.spanMm[1])} free.`,
        'Two schools: stiff and braced, so that it lies above where the woofer is loud; or thin, soft and damped, so that it rings little.',
        'A brace off the middle divides the span; a damping sheet in the middle half shortens the ringing.',
      ],
      {
        told: 'Add a brace off the middle',
        changes: [
          {
            type: 'setBox',
            box: {
              ...box,
              shell: {
                ...box.shell,
                braces: [
                  ...box.shell.braces,
                  { across, atMm, thicknessMm: box.shell.wallMm, openShare: 0.6 },
                ],
              },
            },
          },
        ],
      },
    ),
  ];
}
