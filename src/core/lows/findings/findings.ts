import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { BoxView, BoxViews } from '@/core/lows/view';
import type { BoxFinding } from './finding';
import { ofFill, ofLine, ofModes, ofWalls } from './inside';
import { ofLevel } from './level';
import { ofExcursion, ofVent } from './opening';
import { ofBaffle, ofData, ofDrivers, ofFrontPorts, ofNetwork, ofWood } from './surroundings';

/** All findings of a box, what stops the work first. */
export function boxFindings(
  design: Design,
  box: Box,
  views: BoxViews,
  view: BoxView,
): BoxFinding[] {
  const order = { stops: 0, doubt: 1, advice: 2 };
  return [
    ...ofDrivers(design, box),
    ...ofData(design, box),
    ...ofBaffle(design, box),
    ...ofWood(design, box),
    ...ofFrontPorts(design, box),
    ...ofVent(design, box, view, views),
    ...ofExcursion(design, box, view, views),
    ...ofLevel(box, view, views),
    ...ofNetwork(design, box, view, views),
    ...ofFill(box),
    ...ofLine(design, box),
    ...ofModes(design, box),
    ...ofWalls(box),
  ].sort((a, b) => order[a.severity] - order[b.severity]);
}
