import { formatNumber, formatQuantity } from '@/core/units/quantity';
import type { Box, BoxKind, InBox } from '@/core/document/boxSchema';
import { numbered, type Item } from './item';
import type { Design } from '@/core/document/schema';

/** Kinds of boxes, in words. */
export const boxKindWords: Readonly<Record<BoxKind, string>> = {
  sealed: 'sealed',
  vented: 'vented',
  'passive-radiator': 'passive radiator',
  'open-baffle': 'open baffle',
  line: 'transmission line',
};

/** How a box is filled, in words. */
export const fillWords: Readonly<Record<Box['fill'], string>> = {
  none: 'empty',
  walls: 'its walls lined',
  half: 'half filled',
  full: 'filled',
};

/** The box that a measurement holds, in words. */
export function toldInBox(inBox: InBox): string {
  if (inBox.kind === 'unknown') return 'not said';
  if (inBox.kind === 'free') return 'none';
  const fill = inBox.fill === 'none' ? '' : `, ${fillWords[inBox.fill]}`;
  const litres = `${inBox.kind} ${formatQuantity(inBox.litres, 'litre')}${fill}`;
  return inBox.kind === 'vented'
    ? `${litres}, tuned to ${formatQuantity(inBox.tunedHz, 'hertz')}`
    : litres;
}

function toldPort({ port }: Box): string {
  const mouth =
    port.shape === 'round'
      ? `${formatNumber(port.diameterMm)} mm`
      : `${formatNumber(port.slotWidthMm)} × ${formatNumber(port.slotHeightMm)} mm`;
  return `port ${port.count > 1 ? `${port.count} × ` : ''}${mouth}, ${formatNumber(port.lengthMm)} mm long`;
}

/** Boxes in use, and candidates. */
export function boxes(design: Design): Item[] {
  const names = numbered(design.boxes);
  return design.boxes.map((box): Item => {
    const { widthMm, heightMm, depthMm } = box.shell;
    const size = [widthMm, heightMm, depthMm].map((mm) => formatNumber(mm)).join(' × ');
    return {
      key: box.id,
      what: names.get(box.id)!,
      text: [
        `${boxKindWords[box.kind]}, ${size} mm`,
        ...(box.kind === 'vented' ? [toldPort(box)] : []),
        ...(box.fill === 'none' ? [] : [fillWords[box.fill]]),
        box.isUsed ? 'in use' : 'not in use',
      ].join(', '),
      raw: box,
    };
  });
}
