import type { Design } from '@/core/document/schema';
import type { BaffleView } from './view';

/**
 * What a baffle does to its drivers, as comma-separated rows.
 *
 * @param views one per driver, in all directions that the table shall have; null for one that is on no
 *   baffle
 */
export function orbitTable(
  { drivers }: Pick<Design, 'drivers'>,
  views: readonly (BaffleView | null)[],
): string {
  const rows = ['driver,freq_hz,plane,angle_deg,mag_db'];
  for (const view of views) {
    if (!view) continue;
    const name = drivers.find(({ id }) => id === view.driverId)?.name ?? view.driverId;
    // A spreadsheet must not take a name for a formula, nor its commas for columns.
    const driver = `"${name.replace(/"/g, '""').replace(/^([=+\-@])/, "'$1")}"`;
    view.directions.forEach(({ plane, degrees }, d) =>
      view.frequencyHz.forEach((hz, i) =>
        rows.push(
          [
            driver,
            hz.toFixed(2),
            plane === 'horizontal' ? 'H' : 'V',
            degrees,
            view.towardDb[d][i].toFixed(3),
          ].join(','),
        ),
      ),
    );
  }
  return `${rows.join('\n')}\n`;
}
