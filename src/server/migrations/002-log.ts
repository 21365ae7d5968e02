import { DataTypes, type QueryInterface } from 'sequelize';

export const name = '002-log';

/**
 * Every saved state as a patch to the one before (every so often whole), and the versions that they
 * group into.
 */
export async function up(db: QueryInterface): Promise<void> {
  const { sequelize } = db;
  const project = {
    type: DataTypes.UUID,
    primaryKey: true,
    references: { model: 'projects', key: 'id' },
    onDelete: 'CASCADE',
  };
  const text = { type: DataTypes.TEXT, allowNull: false };
  const date = { type: DataTypes.DATE, allowNull: false };
  const number = { type: DataTypes.INTEGER, allowNull: false };
  await db.createTable('states', {
    project_id: project,
    revision: { ...number, primaryKey: true },
    version: number,
    saved_at: date,
    label: text,
    /** RFC 6902, from the revision before. */
    patch: DataTypes.JSONB,
    document: DataTypes.JSONB,
  });
  await db.createTable('versions', {
    project_id: project,
    number: { ...number, primaryKey: true },
    variant: text,
    reason: text,
    name: DataTypes.TEXT,
    first_revision: number,
    last_revision: number,
    started_at: date,
    ended_at: date,
    labels: { type: DataTypes.ARRAY(DataTypes.TEXT), allowNull: false, defaultValue: [] },
    note: { ...text, defaultValue: '' },
    impressions: { type: DataTypes.JSONB, allowNull: false, defaultValue: [] },
    figures: DataTypes.JSONB,
  });
  await db.addColumn('projects', 'pinned_revision', DataTypes.INTEGER);
  // Every measurement that any state ever named: old versions keep their numbers.
  await db.addColumn('projects', 'measurement_ids', {
    type: DataTypes.ARRAY(DataTypes.TEXT),
    allowNull: false,
    defaultValue: [],
  });
  await sequelize.query(`
    UPDATE projects SET measurement_ids = ARRAY(
      SELECT jsonb_array_elements(document->'measurements')->>'id');
    INSERT INTO states (project_id, revision, version, saved_at, label, document)
      SELECT id, revision, 1, updated_at, '', document FROM projects;
    INSERT INTO versions (project_id, number, variant, reason, first_revision, last_revision, started_at, ended_at)
      SELECT id, 1, 'main line', 'begin', revision, revision, created_at, updated_at FROM projects;`);
}

export async function down(db: QueryInterface): Promise<void> {
  await db.removeColumn('projects', 'measurement_ids');
  await db.removeColumn('projects', 'pinned_revision');
  await db.dropTable('versions');
  await db.dropTable('states');
}
