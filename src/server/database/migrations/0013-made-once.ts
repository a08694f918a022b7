import { DataTypes, type QueryInterface } from 'sequelize';

const at = { type: DataTypes.DATE(3), allowNull: false };
const run = (query: QueryInterface, sql: string) => query.sequelize.query(sql);

/**
 * Calls that make something are answered once under their id; a clip stands on the shelf once; what boards and lists are
 * read from stands in columns, so that one statement reads it for any number of characters.
 */
export async function up(query: QueryInterface): Promise<void> {
  // What a call made that named itself: sent again, it is answered with the same.
  await query.createTable('made_calls', {
    id: { type: DataTypes.UUID, primaryKey: true },
    answer: { type: DataTypes.TEXT('medium'), allowNull: false },
    created_at: at,
  });
  // Characters that somebody looks at together: an address has no room for hundreds of ids.
  await query.createTable('selections', {
    id: { type: DataTypes.CHAR(32), primaryKey: true },
    character_ids: { type: DataTypes.TEXT('medium'), allowNull: false },
    used_at: at,
  });

  await query.addColumn('motions', 'clip_key', { type: DataTypes.STRING(60), allowNull: true });
  await query.addColumn('motions', 'frame_count', { type: DataTypes.INTEGER.UNSIGNED, allowNull: true });
  await query.addColumn('motions', 'clip_rate', { type: DataTypes.DOUBLE, allowNull: true });
  // Of clips that were shelved twice at the same moment the first stays, the others become copies.
  await run(
    query,
    `UPDATE motions m JOIN (
       SELECT character_id, clip_index, MIN(CONCAT(created_at, ' ', id)) AS first
       FROM motions WHERE kind = 'clip' AND NOT is_copy GROUP BY character_id, clip_index) f
     ON f.character_id = m.character_id AND f.clip_index = m.clip_index
     SET m.is_copy = 1
     WHERE m.kind = 'clip' AND NOT m.is_copy AND CONCAT(m.created_at, ' ', m.id) <> f.first`,
  );
  await run(
    query,
    `UPDATE motions SET clip_key = CONCAT(character_id, ' ', clip_index) WHERE kind = 'clip' AND NOT is_copy`,
  );
  await query.addIndex('motions', ['clip_key'], { unique: true, name: 'motions_by_clip_key' });

  // Names what of the fit a carried motion hangs on; null until it is asked for.
  await query.addColumn('fits', 'carry_stamp', { type: DataTypes.CHAR(64), allowNull: true });
  await query.addColumn('fits', 'can_carry', { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });

  // Names the skeleton, so that characters of one are carried to together; null until a change is made.
  await query.addColumn('characters', 'skeleton', { type: DataTypes.STRING(80), allowNull: true });
  // How often a long job has let others go first.
  await query.addColumn('jobs', 'turn', { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 });

  await query.addColumn('carried', 'harm', { type: DataTypes.DOUBLE, allowNull: false, defaultValue: 0 });
  await query.addColumn('carried', 'is_failed', { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });
  await run(
    query,
    `UPDATE carried SET harm = COALESCE(JSON_VALUE(result, '$.drilled.harm'), 0),
       is_failed = JSON_TYPE(JSON_EXTRACT(result, '$.problem')) = 'OBJECT'`,
  );
}

export async function down(query: QueryInterface): Promise<void> {
  for (const column of ['harm', 'is_failed']) await query.removeColumn('carried', column);
  await query.removeColumn('jobs', 'turn');
  await query.removeColumn('characters', 'skeleton');
  for (const column of ['carry_stamp', 'can_carry']) await query.removeColumn('fits', column);
  await query.removeIndex('motions', 'motions_by_clip_key');
  for (const column of ['clip_key', 'frame_count', 'clip_rate']) await query.removeColumn('motions', column);
  for (const table of ['selections', 'made_calls']) await query.dropTable(table);
}
