import { DataTypes, QueryTypes, type QueryInterface } from 'sequelize';

/**
 * Names are unique; characters can be archived and deleted, and their packs may outlive them; readings have an age, so
 * that unused ones can be collected; a fit's counts say by which version of the checks they were made; a change knows what its sender
 * called it.
 */
export async function up(query: QueryInterface): Promise<void> {
  await query.addColumn('characters', 'archived_at', { type: DataTypes.DATE(3), allowNull: true });
  await query.addColumn('characters', 'answered_at', { type: DataTypes.DATE(3), allowNull: true });
  await query.sequelize.query('UPDATE characters SET answered_at = created_at');
  await makeNamesUnique(query);
  await query.addIndex('characters', { fields: ['name'], unique: true, name: 'character_names' });
  await query.addIndex('characters', { fields: ['joined_into'], name: 'character_wholes' });
  await query.addColumn('interpretations', 'created_at', {
    type: DataTypes.DATE(3),
    allowNull: false,
    defaultValue: new Date(0),
  });
  await query.addColumn('fits', 'counted_by', { type: DataTypes.STRING(80), allowNull: false, defaultValue: '' });
  await query.addColumn('fit_changes', 'change_id', { type: DataTypes.UUID, allowNull: true });
  await query.addColumn('handoffs', 'character_name', {
    type: DataTypes.STRING(200),
    allowNull: false,
    defaultValue: '',
  });
  await query.sequelize.query(
    'UPDATE handoffs SET character_name = (SELECT name FROM characters WHERE characters.id = handoffs.character_id)',
  );
  for (const name of await characterKeysOf(query)) await query.removeConstraint('handoffs', name);
}

/** Two characters could get one name while names were only looked up: the later one gets a number. */
async function makeNamesUnique(query: QueryInterface): Promise<void> {
  const rows = await query.sequelize.query<{ id: string; name: string }>(
    'SELECT id, name FROM characters ORDER BY created_at, id',
    { type: QueryTypes.SELECT },
  );
  const all = new Set(rows.map(({ name }) => name));
  const seen = new Set<string>();
  for (const { id, name } of rows) {
    if (!seen.has(name)) {
      seen.add(name);
      continue;
    }
    let count = 2;
    while (all.has(`${name} ${count}`)) count++;
    all.add(`${name} ${count}`);
    seen.add(`${name} ${count}`);
    await query.bulkUpdate('characters', { name: `${name} ${count}` }, { id });
  }
}

async function characterKeysOf(query: QueryInterface): Promise<string[]> {
  const rows = await query.sequelize.query<{ name: string }>(
    `SELECT constraint_name AS name FROM information_schema.key_column_usage
     WHERE table_schema = DATABASE() AND table_name = 'handoffs' AND referenced_table_name = 'characters'`,
    { type: QueryTypes.SELECT },
  );
  return rows.map(({ name }) => name);
}

export async function down(query: QueryInterface): Promise<void> {
  await query.sequelize.query('DELETE FROM handoffs WHERE character_id NOT IN (SELECT id FROM characters)');
  await query.addConstraint('handoffs', {
    type: 'foreign key',
    name: 'handoffs_ibfk_1',
    fields: ['character_id'],
    references: { table: 'characters', field: 'id' },
    onDelete: 'cascade',
    onUpdate: 'restrict',
  });
  await query.removeColumn('handoffs', 'character_name');
  await query.removeColumn('fit_changes', 'change_id');
  await query.removeColumn('fits', 'counted_by');
  await query.removeColumn('interpretations', 'created_at');
  await query.removeIndex('characters', 'character_wholes');
  await query.removeIndex('characters', 'character_names');
  await query.removeColumn('characters', 'answered_at');
  await query.removeColumn('characters', 'archived_at');
}
