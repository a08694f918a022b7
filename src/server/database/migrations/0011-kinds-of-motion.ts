import { DataTypes, type QueryInterface } from 'sequelize';

/** What only clips of a character have. */
const OF_CLIPS = {
  character_id: DataTypes.UUID,
  fit_character_id: DataTypes.UUID,
  clip_name: DataTypes.STRING(300),
  clip_index: DataTypes.INTEGER,
  signature: DataTypes.STRING(80),
};

/**
 * Motions of other kinds than clips of a character: of the house set, by their settings, and kept ones, as motion files.
 * Every motion has steps of editing. A clip may stand on the shelf more than once: as itself and in copies.
 */
export async function up(query: QueryInterface): Promise<void> {
  await query.addColumn('motions', 'kind', { type: DataTypes.STRING(10), allowNull: false, defaultValue: 'clip' });
  await query.addColumn('motions', 'house', { type: DataTypes.TEXT, allowNull: true });
  await query.addColumn('motions', 'edits', { type: DataTypes.TEXT('medium'), allowNull: true });
  await query.addColumn('motions', 'is_copy', { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });
  await query.addColumn('motions', 'blob_hash', { type: DataTypes.CHAR(64), allowNull: true });
  await query.addConstraint('motions', {
    fields: ['blob_hash'],
    type: 'foreign key',
    name: 'motions_by_blob',
    references: { table: 'blobs', field: 'hash' },
    onDelete: 'RESTRICT',
    onUpdate: 'RESTRICT',
  });
  // The foreign key needs an index of its own before the unique one goes.
  await query.addIndex('motions', ['character_id'], { name: 'motions_by_character' });
  await query.removeIndex('motions', 'motions_by_clip');
  for (const [column, type] of Object.entries(OF_CLIPS))
    await query.changeColumn('motions', column, { type, allowNull: true });
}

export async function down(query: QueryInterface): Promise<void> {
  await query.sequelize.query("DELETE FROM motions WHERE kind <> 'clip' OR is_copy");
  for (const [column, type] of Object.entries(OF_CLIPS))
    await query.changeColumn('motions', column, { type, allowNull: false });
  await query.addIndex('motions', ['character_id', 'clip_index'], { unique: true, name: 'motions_by_clip' });
  await query.removeIndex('motions', 'motions_by_character');
  await query.removeConstraint('motions', 'motions_by_blob');
  for (const column of ['kind', 'house', 'edits', 'is_copy', 'blob_hash']) await query.removeColumn('motions', column);
}
