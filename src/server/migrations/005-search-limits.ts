import { DataTypes, type QueryInterface } from 'sequelize';

export const name = '005-search-limits';

/**
 * Limits besides the number of parts as they were then: a released migration does not change with
 * the code.
 */
const otherLimits = {
  mostWatts: null,
  mostOutlay: null,
  rates: { resistor: 1.5, coil: 3, copperPerKg: 25, capacitor: 1, perMicrofarad: 0.5 },
  mostHenries: null,
};

/** All that a search keeps within, in the place of the largest number of parts alone. */
export async function up(db: QueryInterface): Promise<void> {
  await db.addColumn('searches', 'limits', { type: DataTypes.JSONB, allowNull: true });
  await db.sequelize.query(
    `UPDATE searches SET limits = :others::jsonb || jsonb_build_object('mostParts', most_parts)`,
    { replacements: { others: JSON.stringify(otherLimits) } },
  );
  await db.changeColumn('searches', 'limits', { type: DataTypes.JSONB, allowNull: false });
  await db.removeColumn('searches', 'most_parts');
}

export async function down(db: QueryInterface): Promise<void> {
  await db.addColumn('searches', 'most_parts', { type: DataTypes.INTEGER, allowNull: true });
  await db.sequelize.query(`UPDATE searches SET most_parts = (limits->>'mostParts')::int`);
  await db.changeColumn('searches', 'most_parts', { type: DataTypes.INTEGER, allowNull: false });
  await db.removeColumn('searches', 'limits');
}
