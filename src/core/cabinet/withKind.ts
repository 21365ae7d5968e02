import { airOf } from './enclosureOf';
import { leakageOf } from './leakage';
import { lineFacts } from './line';
import { netVolumeOf } from './netVolume';
import { portHits, withPortClear } from './vent';
import { isSameDesign } from '@/core/document/sameDesign';
import { usualPipe, type Box, type BoxKind } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';

/**
 * A box that becomes one of another kind: it leaks as that kind does, a first port is not put where a
 * driver sits, and a first line is one that the box holds.
 */
export function withKind(box: Box, kind: BoxKind, design: Design): Box {
  const changed = { ...box, kind, ql: leakageOf(kind, box) };
  if (kind === 'line' && isSameDesign(box.pipe, usualPipe)) return withLineInside(changed, design);
  return portHits(changed, design) === null ? changed : withPortClear(changed, design);
}

/** The line as narrow as the room in its box asks, with what its dividers take. */
function withLineInside(box: Box, design: Design): Box {
  let line = box;
  // A narrower line leaves less open at its turns, so its dividers take more.
  for (let k = 0; k < 5; k++) {
    const { litres } = lineFacts(line.pipe, airOf(design).speedOfSound);
    const { netLitres } = netVolumeOf(line, design);
    if (litres <= netLitres || netLitres <= 0) return line;
    const segments = line.pipe.segments.map((one) => ({
      ...one,
      areaCm2: Math.max(1, Math.floor((one.areaCm2 * netLitres) / litres)),
    }));
    line = { ...line, pipe: { ...line.pipe, segments } };
  }
  return line;
}
