import type { LevelLimit } from '@/core/box/cleanLevel';
import type { Box } from '@/core/document/boxSchema';
import { isShortOfLevel } from '@/core/lows/boxFigures';
import type { BoxView, BoxViews } from '@/core/lows/view';
import { formatFixed } from '@/core/units/quantity';
import { finding, hzText, type BoxFinding } from './finding';

const limitWords: Readonly<Record<LevelLimit, readonly [what: string, mend: string]>> = {
  excursion: ['the cone’s excursion', 'More cone area or Xmax, a higher tuning, or less level.'],
  opening: ['the opening', 'A wider port, a second one, or flared ends; all of them get longer.'],
  power: ['the drivers’ power', 'Drivers that bear more, or two of them.'],
  amplifier: ['the amplifier', 'A more sensitive driver, or more amplifier power.'],
};

/** A box that gives less of a sine than the brief asks at the farthest seat. */
export function ofLevel(box: Box, { figures, curves }: BoxView, views: BoxViews): BoxFinding[] {
  const { frequencyHz, wantedDb } = views;
  const cleanDb = figures?.cleanF3Db ?? null;
  if (!curves || cleanDb === null || wantedDb === null || !isShortOfLevel(cleanDb, wantedDb))
    return [];
  const at = curves.clean.db.indexOf(cleanDb);
  const limit = curves.clean.by[at];
  const [what, mend] = limit ? limitWords[limit] : ['', ''];
  return [
    finding(
      'advice',
      box.name,
    )([
      'sine_short_of_level',
      `From F3 to an octave above, a sine stays clean up to ${formatFixed(cleanDb, 0)} dB at 1 m; the brief asks for ${formatFixed(wantedDb, 0)}.`,
      `At ${hzText(frequencyHz[at])} it is ${what} that limits it. Programme has less in the lows than a sine: what is asked of cone and port under programme is promised by itself.`,
      mend,
    ]),
  ];
}
