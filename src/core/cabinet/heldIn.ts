import type { Box, InBox } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { airOf } from './enclosureOf';
import { netVolumeOf } from './netVolume';
import { tunedToHz } from './vent';

/**
 * A box as a measurement in it would state it: dividing it out of that measurement and putting it back
 * changes nothing. What it lacks for the kind, a port, is what is usual.
 */
export function heldIn(
  box: Box,
  kind: InBox['kind'],
  design: Pick<Design, 'boxes' | 'drivers' | 'airTemperatureC'>,
): InBox {
  if (kind === 'unknown' || kind === 'free') return { kind };
  const litres = Math.max(0.1, Number(netVolumeOf(box, design).netLitres.toFixed(3)));
  const held = { litres, fill: box.fill, ql: box.ql };
  if (kind === 'sealed') return { kind, ...held };
  const hz = box.kind === 'vented' ? tunedToHz(box, design, airOf(design)) : null;
  return { kind, ...held, tunedHz: hz === null ? usualTuningHz : Number(hz.toFixed(3)) };
}

const usualTuningHz = 35;
