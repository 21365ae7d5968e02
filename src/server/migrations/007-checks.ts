import type { QueryInterface } from 'sequelize';

export const name = '007-checks';

/** Words and pairs that the tables allow, as they are at this release. */
const checks = [
  {
    table: 'versions',
    rule: 'versions_reason',
    test: "reason IN ('begin', 'pause', 'named', 'import', 'fit', 'variant', 'go-back')",
  },
  {
    table: 'searches',
    rule: 'searches_state',
    test: "state IN ('running', 'done', 'stopped', 'failed')",
  },
  {
    table: 'states',
    rule: 'states_patch_or_document',
    test: '(patch IS NULL) <> (document IS NULL)',
  },
] as const;

/** What the program holds to is held by the database too; what it looks for has an index. */
export async function up(db: QueryInterface): Promise<void> {
  for (const { table, rule, test } of checks)
    await db.sequelize.query(`ALTER TABLE ${table} ADD CONSTRAINT ${rule} CHECK (${test})`);
  await db.addIndex('states', ['project_id', 'version']);
  for (const table of ['projects', 'library_drivers'])
    await db.addIndex(table, { fields: ['measurement_ids'], using: 'gin' });
}

export async function down(db: QueryInterface): Promise<void> {
  for (const table of ['library_drivers', 'projects'])
    await db.removeIndex(table, ['measurement_ids']);
  await db.removeIndex('states', ['project_id', 'version']);
  for (const { table, rule } of checks.toReversed()) await db.removeConstraint(table, rule);
}
