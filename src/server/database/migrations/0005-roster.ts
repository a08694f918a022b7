import { DataTypes, QueryTypes, type QueryInterface } from 'sequelize';

/**
 * Whether a character is a part of another one stands in its own row, so that the roster can leave it out without
 * reading the other one's decisions; and the roster is sorted by its last change.
 */
export async function up(query: QueryInterface): Promise<void> {
  await query.addColumn('characters', 'is_part', { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });
  await query.addIndex('fits', { fields: ['updated_at'], name: 'fit_changes_by_time' });
  const joined = await query.sequelize.query<{ id: string; joinedInto: string }>(
    'SELECT id, joined_into AS joinedInto FROM characters WHERE joined_into IS NOT NULL',
    { type: QueryTypes.SELECT },
  );
  for (const { id, joinedInto } of joined) {
    const [row] = await query.sequelize.query<{ state: string }>(
      `SELECT c.state AS state FROM fits f JOIN fit_changes c ON c.fit_id = f.id AND c.revision = f.revision
       WHERE f.character_id = :joinedInto`,
      { replacements: { joinedInto }, type: QueryTypes.SELECT },
    );
    const parts = row ? ((JSON.parse(row.state) as { intake?: { parts?: string[] } }).intake?.parts ?? []) : [];
    const isPart = parts.some((path) => path.startsWith(`part-${id.slice(0, 8)}/`));
    if (isPart) await query.bulkUpdate('characters', { is_part: true }, { id });
  }
}

export async function down(query: QueryInterface): Promise<void> {
  await query.removeIndex('fits', 'fit_changes_by_time');
  await query.removeColumn('characters', 'is_part');
}
