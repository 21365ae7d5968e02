import { DataTypes, type QueryInterface } from 'sequelize';

export const name = '006-saves-and-notes';

/**
 * Which save a project's newest state came from, so that a client whose answer was lost recognises
 * its own; and the same for what is written about a version, which is checked against its own
 * revision.
 */
export async function up(db: QueryInterface): Promise<void> {
  await db.addColumn('projects', 'save_chain', { type: DataTypes.UUID, allowNull: true });
  await db.addColumn('projects', 'save_number', { type: DataTypes.INTEGER, allowNull: true });
  await db.addColumn('versions', 'annotation_revision', {
    type: DataTypes.INTEGER,
    allowNull: false,
    defaultValue: 0,
  });
  await db.addColumn('versions', 'annotation_chain', { type: DataTypes.UUID, allowNull: true });
  await db.addColumn('versions', 'annotation_number', { type: DataTypes.INTEGER, allowNull: true });
  /** Which tries a failed search can go on without. */
  await db.addColumn('searches', 'failed_batch', { type: DataTypes.JSONB, allowNull: true });
  await db.addIndex('searches', ['project_id']);
}

export async function down(db: QueryInterface): Promise<void> {
  await db.removeIndex('searches', ['project_id']);
  await db.removeColumn('searches', 'failed_batch');
  await db.removeColumn('versions', 'annotation_number');
  await db.removeColumn('versions', 'annotation_chain');
  await db.removeColumn('versions', 'annotation_revision');
  await db.removeColumn('projects', 'save_number');
  await db.removeColumn('projects', 'save_chain');
}
