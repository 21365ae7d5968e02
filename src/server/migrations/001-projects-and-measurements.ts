import { DataTypes, type QueryInterface } from 'sequelize';

export const name = '001-projects-and-measurements';

export async function up(db: QueryInterface): Promise<void> {
  const timestamp = { type: DataTypes.DATE, allowNull: false };
  await db.createTable('projects', {
    id: { type: DataTypes.UUID, primaryKey: true },
    name: { type: DataTypes.TEXT, allowNull: false },
    document: { type: DataTypes.JSONB, allowNull: false },
    revision: { type: DataTypes.INTEGER, allowNull: false },
    created_at: timestamp,
    updated_at: timestamp,
    deleted_at: DataTypes.DATE,
  });
  await db.createTable('measurements', {
    id: { type: DataTypes.TEXT, primaryKey: true },
    frequency_hz: { type: DataTypes.ARRAY(DataTypes.DOUBLE), allowNull: false },
    magnitude: { type: DataTypes.ARRAY(DataTypes.DOUBLE), allowNull: false },
    phase_deg: DataTypes.ARRAY(DataTypes.DOUBLE),
    created_at: timestamp,
  });
  await db.addIndex('projects', ['updated_at']);
}

export async function down(db: QueryInterface): Promise<void> {
  await db.dropTable('projects');
  await db.dropTable('measurements');
}
