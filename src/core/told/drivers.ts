import { fieldWords } from './fieldWords';
import { numbered, type Item } from './item';
import { formatNumber } from '@/core/units/quantity';
import { bodyDepthMm, boundsOf } from '@/core/document/baffleSchema';
import { isAimed } from '@/core/radiation/direction';
import { type Design, type Driver } from '@/core/document/schema';
import { cutText } from '@/core/text';

/* Drivers and their fronts in words. */

export function drivers(design: Design): Item[] {
  const { drivers: all, measurements: curves } = design;
  const names = numbered(all);
  return all.flatMap((driver): Item[] => {
    const { id, position, measuredAt, responseId, impedanceId, sheet, offAxisIds, ...others } =
      driver;
    const { mounting, aim, ...rest } = others;
    const name = names.get(id)!;
    const curve = (curveId: string | null) => curves.find((m) => m.id === curveId)?.name ?? 'none';
    const place = ({ xMm, yMm, zMm }: Driver['position']) =>
      `${[xMm, yMm, zMm].map((mm) => formatNumber(mm)).join(', ')} mm`;
    const item = (field: string, text: string, raw: unknown): Item => ({
      key: `${id} ${field}`,
      what: `${name}, ${field}`,
      text,
      raw,
    });
    return [
      item('place', place(position), position),
      item('response', curve(responseId), responseId),
      item('impedance', curve(impedanceId), impedanceId),
      item(
        'responses off axis',
        `${offAxisIds.length}${offAxisIds.length === 0 ? '' : `: ${cutText(offAxisIds.map(curve).join(', '), 120)}`}`,
        offAxisIds,
      ),
      ...Object.entries(sheet).map(([key, value]): Item => ({
        ...item(
          key,
          value === null ? 'not known' : typeof value === 'number' ? formatNumber(value) : value,
          value,
        ),
        what: `${name}, ${fieldWords(key)}`,
      })),
      item('mounting', toldMounting(design, mounting), mounting),
      item(
        'direction',
        isAimed(aim)
          ? `${formatNumber(aim.yawDeg)}° to the right, ${formatNumber(aim.pitchDeg)}° up`
          : 'ahead',
        aim,
      ),
      item('measured at', measuredAt ? place(measuredAt) : 'its place', measuredAt),
      item('other statements', name, rest),
    ];
  });
}

function toldMounting({ panels }: Design, { panelId, ...mounting }: Driver['mounting']): string {
  const panel = panels.find(({ id }) => id === panelId);
  if (!panel) return 'on no baffle';
  const told = Object.entries({ frame: mounting.frameMm, mouth: mounting.mouthMm })
    .filter(([, mm]) => mm !== null)
    .map(([what, mm]) => `, ${what} ${formatNumber(mm!)} mm`);
  const by = mounting.kind === 'flush' ? '' : ` ${formatNumber(mounting.byMm)} mm`;
  return `${panel.name}, ${mounting.kind}${by}${told.join('')}`;
}

/** The fronts on which drivers are mounted. */
export function panels(design: Design): Item[] {
  const names = numbered(design.panels);
  return design.panels.map((panel): Item => {
    const { widthMm, heightMm } = boundsOf(panel.corners);
    const edges = new Set(
      panel.corners.map(({ edge }) =>
        edge.kind === 'sharp' ? 'sharp' : `${edge.kind} ${formatNumber(edge.sizeMm)} mm`,
      ),
    );
    const size = [widthMm, heightMm, bodyDepthMm(panel)].map((mm) => formatNumber(mm)).join(' × ');
    return {
      key: panel.id,
      what: names.get(panel.id)!,
      text: [
        `${panel.kind === 'open' ? 'open baffle' : 'box'} ${size} mm`,
        `${panel.corners.length} corners`,
        `edges ${[...edges].join(', ')}`,
        ...(panel.wingsMm === 0 ? [] : [`wings ${formatNumber(panel.wingsMm)} mm`]),
        ...(panel.setBackMm === 0 ? [] : [`set back ${formatNumber(panel.setBackMm)} mm`]),
        ...(panel.ports.length === 0 ? [] : [`${panel.ports.length} ports`]),
      ].join(', '),
      raw: panel,
    };
  });
}
