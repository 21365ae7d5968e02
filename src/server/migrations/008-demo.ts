import { DataTypes, type QueryInterface } from 'sequelize';

export const name = '008-demo';

/** Which projects were begun as the demo, so that it can be opened again instead of once more. */
export async function up(db: QueryInterface): Promise<void> {
  await db.addColumn('projects', 'is_demo', {
    type: DataTypes.BOOLEAN,
    allowNull: false,
    defaultValue: false,
  });
  // Until now only its name told.
  await db.sequelize.query(`UPDATE projects SET is_demo = true WHERE name = 'The Reading Room'`);
}

export async function down(db: QueryInterface): Promise<void> {
  await db.removeColumn('projects', 'is_demo');
}
