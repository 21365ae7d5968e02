import { boxModes, modeAt, type Inside } from '@/core/box/modes';
import { airOf } from '@/core/cabinet/enclosureOf';
import { insideOf } from '@/core/cabinet/netVolume';
import { wallsOf } from '@/core/cabinet/panels';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
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

/** Standing waves that coincide, or that the port lets out. */
export function ofModes(design: Design, box: Box): BoxFinding[] {
  if (box.kind === 'open-baffle' || box.kind === 'line') return [];
  const inside = insideOf(box.shell);
  const sides: Inside = [inside.widthMm / 1000, inside.heightMm / 1000, inside.depthMm / 1000];
  if (!sides.every((side) => side > 0)) return [];
  const { speedOfSound } = airOf(design);
  const modes = boxModes(sides, modesUpToHz, speedOfSound);
  const axial = modes.filter(({ order }) => order.filter((n) => n > 0).length === 1);
  const found: BoxFinding[] = [];
  const pair = axial.flatMap((mode, i) =>
    axial
      .slice(i + 1)
      .filter((other) => other.hz / mode.hz - 1 < coincident && axisOf(other) !== axisOf(mode))
      .map((other) => [mode, other] as const),
  )[0];
  if (pair) {
    const offer = withoutCoincidence(box, pair[1]);
    found.push(
      finding('advice', box.name)(
        [
          'modes_coincide',
          `Standing waves along ${axisOf(pair[0])} and ${axisOf(pair[1])} coincide at ${hzText(pair[0].hz)}.`,
          'Two at one frequency ring twice as strongly.',
          'Sides in no simple ratio, such as 1 : 1.26 : 1.59, set them apart.',
        ],
        offer,
      ),
    );
  }
  if (box.kind === 'vented') {
    const lowest = axial[0];
    const heightM = box.port.heightMm / 1000;
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

const axisOf = ({ order }: { readonly order: readonly [number, number, number] }): string =>
  ['the width', 'the height', 'the depth'][order.findIndex((n) => n > 0)];

/** The box a little deeper or shallower and as much lower or higher, so that its volume stays. */
function withoutCoincidence(
  box: Box,
  mode: { readonly order: readonly [number, number, number] },
): BoxFinding['offer'] {
  const key = (['widthMm', 'heightMm', 'depthMm'] as const)[mode.order.findIndex((n) => n > 0)];
  const other = key === 'depthMm' ? 'heightMm' : 'depthMm';
  const to = Math.round(box.shell[key] * 1.08);
  const less = Math.round((box.shell[other] * box.shell[key]) / to);
  return {
    told: `Make ${axisOf(mode)} ${formatNumber(to)} mm`,
    changes: [
      { type: 'setBox', box: { ...box, shell: { ...box.shell, [key]: to, [other]: less } } },
    ],
  };
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
