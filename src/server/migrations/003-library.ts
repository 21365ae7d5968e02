import { DataTypes, type QueryInterface } from 'sequelize';

export const name = '003-library';

/**
 * Drivers kept across projects: each a document with the samples of one driver and nothing else.
 */
export async function up(db: QueryInterface): Promise<void> {
  const timestamp = { type: DataTypes.DATE, allowNull: false };
  await db.createTable('library_drivers', {
    id: { type: DataTypes.UUID, primaryKey: true },
    name: { type: DataTypes.TEXT, allowNull: false },
    document: { type: DataTypes.JSONB, allowNull: false },
    revision: { type: DataTypes.INTEGER, allowNull: false },
    measurement_ids: {
      type: DataTypes.ARRAY(DataTypes.TEXT),
      allowNull: false,
      defaultValue: [],
    },
    created_at: timestamp,
    updated_at: timestamp,
    deleted_at: DataTypes.DATE,
  });
}

export async function down(db: QueryInterface): Promise<void> {
  await db.dropTable('library_drivers');
}
