import type { BoxDriver } from './enclosure';

/** How drivers that are alike are joined electrically. */
export type Joined = 'series' | 'parallel';

/**
 * Drivers that are alike and share a chamber, as one: their areas add up, and with them the volume
 * that is as stiff as they are; Q and resonance stay (Small 1972). In separate chambers each is a
 * system of its own: the same, with the volumes added up.
 *
 * @throws RangeError when the count is not a whole number from 1 on
 */
export function together(driver: BoxDriver, count: number, joined: Joined): BoxDriver {
  if (!Number.isInteger(count) || count < 1)
    throw new RangeError(`There are ${count} drivers; a whole number from 1 on is needed.`);
  const times = joined === 'series' ? count : 1 / count;
  const { second } = driver;
  return {
    ...driver,
    vasM3: driver.vasM3 * count,
    sdM2: driver.sdM2 * count,
    reOhm: driver.reOhm * times,
    leHenry: driver.leHenry * times,
    second: second && { henry: second.henry * times, ohm: second.ohm * times },
  };
}
