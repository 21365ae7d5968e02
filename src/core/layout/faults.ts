import { isConvex, isSimple } from '@/core/baffle/dents';
import { behindDriverMm, reachBehindMm } from '@/core/cabinet/driverRoom';
import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { problem } from '@/core/problem';
import { coneRadiusM } from '@/core/radiation/piston';
import { formatNumber } from '@/core/units/quantity';
import type { Finding } from '@/core/prediction/prediction';
import { edgeDistances, edgeName } from './edges';

const mm = (value: number) => `${formatNumber(Math.round(Math.abs(value)))} mm`;

/** What can't be built as it is drawn: frames, edges, ports, walls and depths that collide. */
export function layoutFaults({ panels, drivers }: Pick<Design, 'panels' | 'drivers'>): Finding[] {
  return panels.flatMap((panel) => {
    const own = drivers.filter(({ mounting }) => mounting.panelId === panel.id);
    return [
      ...bentInward(panel),
      ...own.flatMap((driver) => [
        ...atEdges(panel, driver),
        ...atPorts(panel, driver),
        ...inDepth(panel, driver),
      ]),
      ...own.flatMap((driver, i) => own.slice(i + 1).flatMap((other) => between(driver, other))),
      ...portsAtEdges(panel),
    ];
  });
}

const fault = (about: string, ...told: Parameters<typeof problem>): Finding => ({
  ...problem(...told).problem,
  severity: 'stops',
  about,
});

/** Edges that cross each other, and corners at which an outline turns inward. */
function bentInward(panel: Panel): Finding[] {
  const outline = panel.corners.map(({ xMm, yMm }) => ({ x: xMm / 1000, y: yMm / 1000 }));
  if (!isSimple(outline))
    return [
      fault(
        panel.id,
        'outline_crosses_itself',
        panel.name,
        `Edges of ${panel.name} cross each other, or two of its corners lie in one place.`,
        'Nothing is modelled on such a front.',
        'Move those corners apart or remove one.',
      ),
    ];
  if (isConvex(outline)) return [];
  return [
    {
      ...fault(
        panel.id,
        'outline_bent_inward',
        panel.name,
        `${panel.name} turns inward: what its edges do is estimated there.`,
        panel.kind === 'open'
          ? 'The dent counts as filled.'
          : 'Sound over one edge is counted over the real edges, sound over several as if the dent were filled.',
        'Measure this front before the crossover is settled.',
      ),
      severity: 'doubt',
    },
  ];
}

/** Half of what a driver takes of the front: its frame, or its cone while that is not known. */
export function frameRadiusMm({ mounting, sheet }: Pick<Driver, 'mounting' | 'sheet'>): number {
  const mouth = mounting.kind === 'waveguide' ? (mounting.mouthMm ?? 0) / 2 : 0;
  const cone = sheet.sdCm2 === null ? 0 : 1000 * coneRadiusM(sheet.sdCm2);
  return Math.max(mouth, mounting.frameMm === null ? cone : mounting.frameMm / 2);
}

function atEdges(panel: Panel, driver: Driver): Finding[] {
  const radius = frameRadiusMm(driver);
  const cone = driver.sheet.sdCm2 === null ? 0 : 1000 * coneRadiusM(driver.sheet.sdCm2);
  return edgeDistances(panel.corners, driver.position).flatMap(({ edge, mm: away }) => {
    const name = edgeName(panel.corners, edge);
    const treated = panel.corners[edge].edge;
    const cut = treated.kind === 'sharp' ? 0 : treated.sizeMm;
    const over = radius - away;
    if (over > 0)
      return [
        fault(
          driver.id,
          'frame_over_edge',
          driver.name,
          `${driver.name} stands ${mm(over)} over the ${name} of ${panel.name}.`,
          `Its middle is ${away < 0 ? 'outside of it' : `${mm(away)} from it`}, its frame reaches ${mm(radius)}.`,
          'Move it inward, or make the front larger.',
        ),
      ];
    if (over + cut > 0)
      return [
        fault(
          driver.id,
          'frame_on_treated_edge',
          driver.name,
          `${driver.name} reaches ${mm(over + cut)} into what is ${treated.kind === 'round' ? 'rounded' : 'chamfered'} at the ${name}.`,
          '',
          'Move it inward, or treat that edge less.',
        ),
      ];
    // Behind the front the side of the box takes its thickness.
    if (panel.kind === 'box' && cone + panel.thicknessMm > away)
      return [
        fault(
          driver.id,
          'driver_on_side_wall',
          driver.name,
          `${driver.name} meets the wall of the box at the ${name}.`,
          `Its basket needs about ${mm(cone)}, the wall begins ${mm(away - panel.thicknessMm)} from its middle.`,
          'Move it inward, or take a wider box.',
        ),
      ];
    return [];
  });
}

function atPorts(panel: Panel, driver: Driver): Finding[] {
  const radius = frameRadiusMm(driver);
  return panel.ports.flatMap((port, i) => {
    const over =
      radius +
      port.diameterMm / 2 -
      Math.hypot(port.xMm - driver.position.xMm, port.yMm - driver.position.yMm);
    return over <= 0
      ? []
      : [
          fault(
            driver.id,
            'frame_over_port',
            driver.name,
            `${driver.name} and port ${i + 1} of ${panel.name} overlap by ${mm(over)}.`,
            '',
            'Move one of them.',
          ),
        ];
  });
}

function portsAtEdges(panel: Panel): Finding[] {
  return panel.ports.flatMap((port, i) => {
    const nearest = edgeDistances(panel.corners, port).reduce((a, b) => (b.mm < a.mm ? b : a));
    const over = port.diameterMm / 2 + panel.thicknessMm - nearest.mm;
    return over <= 0
      ? []
      : [
          fault(
            panel.id,
            'port_over_edge',
            panel.name,
            `Port ${i + 1} of ${panel.name} is ${mm(over)} too near to the ${edgeName(panel.corners, nearest.edge)}.`,
            'Its tube would meet the wall of the box.',
            'Move it inward.',
          ),
        ];
  });
}

function between(a: Driver, b: Driver): Finding[] {
  const apart = Math.hypot(a.position.xMm - b.position.xMm, a.position.yMm - b.position.yMm);
  const over = frameRadiusMm(a) + frameRadiusMm(b) - apart;
  // A tweeter in the middle of a cone is meant.
  if (over <= 0 || apart < 1) return [];
  return [
    fault(
      b.id,
      'frames_overlap',
      `${a.name}, ${b.name}`,
      `${a.name} and ${b.name} overlap by ${mm(over)}.`,
      `Their middles are ${mm(apart)} apart.`,
      `Move them ${mm(over)} farther apart.`,
    ),
  ];
}

function inDepth(panel: Panel, driver: Driver): Finding[] {
  const reach = reachBehindMm(driver);
  if (reach === null || panel.kind === 'open') return [];
  const left = panel.depthMm - panel.thicknessMm - reach;
  if (left >= behindDriverMm) return [];
  return [
    fault(
      driver.id,
      'box_too_shallow',
      driver.name,
      left < 0
        ? `${driver.name} is ${mm(left)} too deep for ${panel.name}.`
        : `${driver.name} has only ${mm(left)} behind it.`,
      `The box is ${mm(panel.depthMm)} deep with a wall of ${mm(panel.thicknessMm)}; about ${mm(behindDriverMm)} behind a driver let its vent breathe.`,
      'Make the box deeper.',
    ),
  ];
}

/** Whether a front has the outside size that the brief allows; null while that is open. */
export function tooLarge(
  { brief: { widthMm, heightMm, depthMm } }: Pick<Design, 'brief'>,
  panel: Panel,
): string | null {
  const size = boundsOf(panel.corners);
  const over = [
    ['wide', size.widthMm, widthMm],
    ['high', size.heightMm, heightMm],
    ['deep', panel.depthMm, depthMm],
  ] as const;
  const told = over.flatMap(([word, is, most]) =>
    most !== null && is > most ? [`${mm(is)} ${word}, the brief allows ${mm(most)}`] : [],
  );
  return told.length === 0 ? null : `${panel.name} is ${told.join('; ')}.`;
}
