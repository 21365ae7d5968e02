import { DataTypes, type QueryInterface } from 'sequelize';

export const name = '004-searches';

/** Searches for networks that the server carries on, and every network that was tried in them. */
export async function up(db: QueryInterface): Promise<void> {
  const timestamp = { type: DataTypes.DATE, allowNull: false };
  const count = { type: DataTypes.INTEGER, allowNull: false };
  await db.createTable('searches', {
    id: { type: DataTypes.UUID, primaryKey: true },
    project_id: {
      type: DataTypes.UUID,
      allowNull: false,
      references: { model: 'projects', key: 'id' },
      onDelete: 'CASCADE',
    },
    design: { type: DataTypes.JSONB, allowNull: false },
    most_parts: count,
    state: { type: DataTypes.TEXT, allowNull: false },
    /** Number of the stage that is going on; -1 before the first. */
    stage: count,
    stage_name: { type: DataTypes.TEXT, allowNull: false },
    stage_count: count,
    tried: count,
    networks: { type: DataTypes.JSONB, allowNull: false },
    trouble: DataTypes.TEXT,
    created_at: timestamp,
    updated_at: timestamp,
  });
  await db.createTable('search_tries', {
    search_id: {
      type: DataTypes.UUID,
      primaryKey: true,
      references: { model: 'searches', key: 'id' },
      onDelete: 'CASCADE',
    },
    stage: { type: DataTypes.INTEGER, primaryKey: true },
    number: { type: DataTypes.INTEGER, primaryKey: true },
    /** Null for one that can't be solved. */
    network: DataTypes.JSONB,
  });
}

export async function down(db: QueryInterface): Promise<void> {
  await db.dropTable('search_tries');
  await db.dropTable('searches');
}
