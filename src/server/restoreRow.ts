import type { Model, ModelStatic } from 'sequelize';
import type { ProblemError } from '@/core/problem';

/**
 * Takes a deletion back; when it was changed last does not change.
 *
 * @throws what `absent` makes, for a row that is not there or was not deleted
 */
export async function restoreRow<Row extends Model & { deletedAt: Date | null }>(
  table: ModelStatic<Row>,
  id: string,
  absent: () => ProblemError,
): Promise<void> {
  const row = await table.findByPk(id, { paranoid: false });
  if (!row?.deletedAt) throw absent();
  // `silent` is handed on to the save that this is, though its types do not say so.
  await row.restore({ silent: true } as Parameters<Row['restore']>[0]);
}
