import { outsideLitres } from '@/core/cabinet/shell';
import { behindDriverMm, leastDepthMm } from '@/core/cabinet/driverRoom';
import { areAlike, driversInBox } from '@/core/cabinet/driversInBox';
import { sawFaults } from '@/core/cabinet/sawFaults';
import { lackingFigures } from '@/core/cabinet/enclosureOf';
import { boundsOf } from '@/core/document/baffleSchema';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { resized } from '@/core/layout/reshape';
import { boxUse } from '@/core/prediction/inBox';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import type { BoxView, BoxViews } from '@/core/lows/view';
import { finding, hzText, type BoxFinding } from './finding';

/** Whether the drivers of a box can be worked out, and are alike. */
export function ofDrivers(design: Design, box: Box): BoxFinding[] {
  const own = driversInBox(box, design.drivers);
  const stops = finding('stops', box.name);
  if (own.length === 0)
    return [
      stops(['box_without_driver', 'No driver is in this box.', '', 'Choose its driver below.']),
    ];
  const lacking = own.map((driver) => lackingFigures(driver, design.airTemperatureC));
  const poor = own.filter((_, d) => lacking[d].length > 0);
  const [first, ...others] = own;
  const unlike = others.filter((one) => !areAlike(one, first));
  return [
    ...poor.map((driver) =>
      stops([
        'box_needs_figures',
        `${driver.name} lacks ${lacking[own.indexOf(driver)].join(', ')}.`,
        'A box is worked out from fs, Qms, Qes, Vas, Sd and Re.',
        'Fit them to its impedance on the Bench, or copy them from its data sheet.',
      ]),
    ),
    ...unlike.map((driver) =>
      finding(
        'doubt',
        box.name,
      )([
        'drivers_unlike',
        `${driver.name} is not like ${first.name}.`,
        ...(box.kind === 'open-baffle'
          ? ([
              `Each has its own low end here, and the sum is of all; excursion and figures of the box alone are those of ${first.name}.`,
              'Look at the others by choosing them alone, as a candidate.',
            ] as const)
          : ([
              'Drivers that share a chamber are worked out as if all were like the first.',
              'Give each its own box, or use drivers that are alike.',
            ] as const)),
      ]),
    ),
  ];
}

/** What is said of the measurements' boxes. */
export function ofData(design: Design, box: Box): BoxFinding[] {
  if (!box.isUsed) return [];
  return driversInBox(box, design.drivers).flatMap((driver) =>
    [
      { id: driver.responseId, what: 'response' },
      { id: driver.impedanceId, what: 'impedance' },
    ].flatMap(({ id, what }) => {
      const statement = design.measurements.find((one) => one.id === id);
      if (!statement || boxUse(design, driver, statement) !== 'spliced') return [];
      return [
        finding(
          'doubt',
          driver.name,
        )([
          'measured_box_unknown',
          `It is not said in which box the ${what} of ${driver.name} was measured.`,
          `Below ${hzText(box.spliceHz)} the model of this box is used in its place.`,
          'Say it under “Measured in”; then the old box is divided out and this one multiplied in.',
        ]),
      ];
    }),
  );
}

/** The cabinet that a box is a chamber of, by its size: a larger box for other drivers of its front. */
function hostOf({ boxes, drivers }: Design, box: Box): Box | null {
  // What holds a chamber is inside nothing itself.
  if (boxes.some(({ insideId }) => insideId === box.id)) return null;
  const panels = new Set(
    driversInBox(box, drivers).flatMap(({ mounting }) => mounting.panelId ?? []),
  );
  const isLarger = ({ shell }: Box) => outsideLitres(shell) > outsideLitres(box.shell);
  const holdsOthers = (other: Box) =>
    driversInBox(other, drivers).some(
      ({ id, mounting: { panelId } }) =>
        !box.driverIds.includes(id) && panelId !== null && panels.has(panelId),
    );
  const hosts = boxes.filter(
    (other) => other.insideId === null && isLarger(other) && holdsOthers(other),
  );
  return hosts.find(({ isUsed }) => isUsed) ?? hosts.at(0) ?? null;
}

/** A Baffle of another size than the box, or a chamber that nobody said is in the cabinet. */
export function ofBaffle(design: Design, box: Box): BoxFinding[] {
  if (!box.isUsed || box.insideId !== null || box.kind === 'open-baffle') return [];
  const host = hostOf(design, box);
  if (host)
    return [
      finding('advice', box.name)(
        [
          'chamber_stands_somewhere',
          `${box.name} is smaller than ${host.name}, which shares its front.`,
          'A chamber takes its outside volume from the cabinet around it.',
          'Say which cabinet it is in.',
        ],
        {
          told: `Put it inside ${host.name}`,
          changes: [{ type: 'setBox', box: { ...box, insideId: host.id } }],
        },
      ),
    ];
  const panels = design.panels.filter(
    (panel) =>
      panel.kind === 'box' &&
      driversInBox(box, design.drivers).some(({ mounting }) => mounting.panelId === panel.id),
  );
  const { widthMm, heightMm, depthMm } = box.shell;
  return panels.flatMap((panel) => {
    const bounds = boundsOf(panel.corners);
    const isSame = (a: number, b: number) => Math.abs(a - b) < 0.5;
    if (
      isSame(bounds.widthMm, widthMm) &&
      isSame(bounds.heightMm, heightMm) &&
      isSame(panel.depthMm, depthMm)
    )
      return [];
    const size = [widthMm, heightMm, depthMm].map((mm) => formatNumber(mm)).join(' × ');
    const was = [bounds.widthMm, bounds.heightMm, panel.depthMm]
      .map((mm) => formatNumber(Number(mm.toFixed(1))))
      .join(' × ');
    return [
      finding('doubt', box.name)(
        [
          'baffle_of_other_size',
          `The box is ${size} mm outside; the Baffle draws it as ${was} mm.`,
          'Diffraction and baffle step are those of the Baffle.',
          'Give both one size.',
        ],
        {
          told: `Make the Baffle ${size} mm`,
          changes: [
            {
              type: 'setPanel',
              panel: { ...resized(resized(panel, { widthMm }), { heightMm }), depthMm },
            },
          ],
        },
      ),
    ];
  });
}

/** A resistance before the driver weakens its damping. */
export function ofNetwork(
  design: Design,
  box: Box,
  { qts }: BoxView,
  { hasNetwork }: BoxViews,
): BoxFinding[] {
  const driven = qts?.driven ?? null;
  if (!hasNetwork || !qts || driven === null || driven / qts.alone < 1.04) return [];
  const { seriesOhms } = qts;
  const names = driversInBox(box, design.drivers).map(({ name }) => name);
  return [
    finding(
      'advice',
      box.name,
    )([
      'network_in_q',
      `${formatFixed(seriesOhms, 2)} Ω of amplifier, cable and network raise Qts of ${names.join(' and ')} from ${formatFixed(qts.alone, 2)} to ${formatFixed(driven, 2)} at its resonance in the box.`,
      'Qes grows as (Re + R)/Re (Small 1972); it is in all curves here.',
      'Where a coil is most of it, a thicker wire brings it down; otherwise take a box that suits it.',
    ]),
  ];
}

/** What can't be sawn for this box, and drivers that have little room behind them. */
export function ofWood(design: Design, box: Box): BoxFinding[] {
  const deeper = Math.ceil(leastDepthMm(box, design));
  const offer = {
    told: `Make the depth ${formatNumber(deeper)} mm`,
    changes: [
      { type: 'setBox' as const, box: { ...box, shell: { ...box.shell, depthMm: deeper } } },
    ],
  };
  const isTooDeep = (code: string) => code === 'driver_too_deep';
  const stops = sawFaults(design, box)
    // What is told of ports is told with them.
    .filter(({ code }) => code !== 'port_through_wall')
    .map((fault): BoxFinding => ({
      ...fault,
      severity: 'stops',
      offer: isTooDeep(fault.code) ? offer : null,
    }));
  if (box.kind === 'open-baffle' || stops.some(({ code }) => isTooDeep(code))) return stops;
  const tight = deeper - box.shell.depthMm;
  if (tight <= 0) return stops;
  const left = behindDriverMm - tight;
  return [
    ...stops,
    finding('doubt', box.name)(
      [
        'driver_near_rear',
        `A driver has only ${formatFixed(Math.max(0, left), 0)} mm behind it.`,
        `About ${behindDriverMm} mm let its vent breathe (common practice).`,
        'Make the box deeper.',
      ],
      offer,
    ),
  ];
}

/** Ports in the front that the Baffle does not have yet: they take room between the drivers. */
export function ofFrontPorts(design: Design, box: Box): BoxFinding[] {
  const { port, shell } = box;
  if (!box.isUsed || box.kind !== 'vented' || port.side !== 'front' || port.shape !== 'round')
    return [];
  const panel = design.panels.find(
    ({ id, kind }) =>
      kind === 'box' &&
      driversInBox(box, design.drivers).some(({ mounting }) => mounting.panelId === id),
  );
  if (!panel) return [];
  const { leftMm, rightMm, bottomMm } = boundsOf(panel.corners);
  const yMm = bottomMm + shell.wallMm + port.heightMm;
  const isThere = panel.ports.some(
    (one) => Math.abs(one.diameterMm - port.diameterMm) < 1 && Math.abs(one.yMm - yMm) < 5,
  );
  if (isThere) return [];
  const ports = Array.from({ length: port.count }, (_, k) => ({
    xMm: leftMm + ((k + 1) * (rightMm - leftMm)) / (port.count + 1),
    ...{ yMm, diameterMm: port.diameterMm },
  }));
  return [
    finding('advice', box.name)(
      [
        'port_not_on_baffle',
        'The Baffle does not have the port yet.',
        'It takes room between the drivers.',
        'Add it there; where another one was, remove that on the Baffle.',
      ],
      {
        told: 'Add the port to the Baffle',
        changes: [{ type: 'setPanel', panel: { ...panel, ports: [...panel.ports, ...ports] } }],
      },
    ),
  ];
}
