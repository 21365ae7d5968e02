import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { problem, type Problem } from '@/core/problem';
import { formatNumber } from '@/core/units/quantity';
import { behindDriverMm, driversInWood, leastDepthMm, reachBehindMm } from './driverRoom';
import { boxHoles, halvesMm, type BoardHole } from './holes';
import { netVolumeOf } from './netVolume';
import { ventFit } from './vent';

const mm = (value: number) => `${formatNumber(Number(Math.abs(value).toFixed(1)))} mm`;

const fault = (...told: Parameters<typeof problem>): Problem => problem(...told).problem;

/**
 * What can't be sawn, or does not go into the box that it is sawn for: no boards are told while there is
 * any of it.
 */
export function sawFaults(
  design: Pick<Design, 'drivers' | 'boxes' | 'panels'>,
  box: Box,
): Problem[] {
  const { front, rear } = boxHoles(design, box);
  return [
    ...ofHoles(front, box, 'front'),
    ...ofHoles(rear, box, 'rear'),
    ...(box.kind === 'open-baffle' ? [] : [...ofDepth(design, box), ...ofVolume(design, box)]),
    ...ofPort(box),
  ];
}

function ofHoles(holes: readonly BoardHole[], { shell, kind, name }: Box, side: string): Problem[] {
  // Behind the front the walls of the box take their thickness.
  const wallMm = kind === 'open-baffle' ? 0 : shell.wallMm;
  const [widthMm, heightMm] = [shell.widthMm, shell.heightMm];
  const faults = holes.flatMap((hole) => {
    const { x, y } = halvesMm(hole);
    if (x === 0) return [];
    const what = capital(hole.what);
    const beyond = Math.max(
      x - hole.xMm,
      x + hole.xMm - widthMm,
      y - hole.yMm,
      y + hole.yMm - heightMm,
    );
    if (beyond > 0)
      return [
        fault(
          'cut_over_edge',
          name,
          `${what} is cut ${mm(2 * x)} wide, ${mm(beyond)} over the edge of the ${side}.`,
          `The ${side} is ${mm(widthMm)} wide and ${mm(heightMm)} high.`,
          'Make the box larger, move it, or take a smaller one.',
        ),
      ];
    // The hole, not its recess, goes through to where the walls are.
    const through = hole.slotMm
      ? { x, y }
      : { x: (hole.diameterMm ?? 0) / 2, y: (hole.diameterMm ?? 0) / 2 };
    const into = Math.max(
      through.x + wallMm - hole.xMm,
      through.x + hole.xMm - (widthMm - wallMm),
      through.y + wallMm - hole.yMm,
      through.y + hole.yMm - (heightMm - wallMm),
    );
    // A slot along a wall shares it.
    if (hole.slotMm || into <= 0) return [];
    return [
      fault(
        'cut_into_wall',
        name,
        `${what} cuts ${mm(into)} into a wall behind the ${side}.`,
        `Its hole is ${mm(hole.diameterMm ?? 0)} wide, and the walls are ${mm(wallMm)} thick.`,
        'Make the box larger, or move it inward.',
      ),
    ];
  });
  const clashes = holes.flatMap((a, i) =>
    holes.slice(i + 1).flatMap((b) => {
      const apart = Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm);
      const over = halvesMm(a).x + halvesMm(b).x - apart;
      // One in the middle of another is meant: a dome in the neck of a cone.
      if (over <= 0 || apart < 1 || a.slotMm || b.slotMm) return [];
      return [
        fault(
          'cuts_overlap',
          name,
          `${capital(a.what)} and ${b.what} overlap by ${mm(over)} on the ${side}.`,
          `Their middles are ${mm(apart)} apart.`,
          'Move one of them.',
        ),
      ];
    }),
  );
  return [...faults, ...clashes];
}

function ofDepth(design: Pick<Design, 'drivers'>, box: Box): Problem[] {
  const { depthMm, wallMm } = box.shell;
  return driversInWood(box, design).flatMap((driver) => {
    const reach = reachBehindMm(driver);
    if (reach === null) return [];
    const left = depthMm - wallMm - reach;
    if (left >= 0) return [];
    return [
      fault(
        'driver_too_deep',
        box.name,
        `${driver.name} is ${mm(left)} too deep for the box.`,
        `It reaches ${mm(reach)} behind the front; the box is ${mm(depthMm)} deep with a wall of ${mm(wallMm)}, and about ${behindDriverMm} mm behind a driver let it breathe.`,
        `Make the box at least ${mm(leastDepthMm(box, design))} deep.`,
      ),
    ];
  });
}

function ofVolume(design: Pick<Design, 'drivers' | 'boxes'>, box: Box): Problem[] {
  const { grossLitres, netLitres, taken } = netVolumeOf(box, design);
  if (netLitres > 0) return [];
  const all = taken.map(
    ({ what, litres }) => `${what} ${formatNumber(Number(litres.toFixed(1)))} l`,
  );
  return [
    fault(
      'box_without_room',
      box.name,
      'Nothing is left of the inside.',
      `Between the walls are ${formatNumber(Number(grossLitres.toFixed(1)))} l; ${all.join(', ')} take more.`,
      'Make the box larger, or what is in it smaller.',
    ),
  ];
}

function ofPort(box: Box): Problem[] {
  if (box.kind !== 'vented') return [];
  const { clearanceMm } = ventFit(box);
  if (clearanceMm >= 0) return [];
  return [
    fault(
      'port_through_wall',
      box.name,
      `The port is ${mm(clearanceMm)} longer than the room inside.`,
      'It would go through the wall behind it.',
      'Bend it, take a narrower and shorter one for the same tuning, or make the box deeper.',
    ),
  ];
}

const capital = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}`;
