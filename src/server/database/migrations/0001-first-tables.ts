import { DataTypes, type QueryInterface } from 'sequelize';

const ID = { type: DataTypes.UUID, primaryKey: true };
const AT = { type: DataTypes.DATE(3), allowNull: false };

/** Files by content, characters, their fits with an append-only history, and handoffs. */
export async function up(query: QueryInterface): Promise<void> {
  await query.createTable('blobs', {
    hash: { type: DataTypes.CHAR(64), primaryKey: true },
    size_bytes: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
    chunk_count: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
    created_at: AT,
  });
  await query.createTable('blob_chunks', {
    hash: {
      type: DataTypes.CHAR(64),
      primaryKey: true,
      references: { model: 'blobs', key: 'hash' },
      onDelete: 'CASCADE',
    },
    sequence: { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true },
    content: { type: 'MEDIUMBLOB', allowNull: false },
  });
  await query.createTable('characters', {
    id: ID,
    name: { type: DataTypes.STRING(200), allowNull: false },
    file_name: { type: DataTypes.STRING(255), allowNull: false },
    blob_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
    state: { type: DataTypes.STRING(20), allowNull: false },
    rig: { type: DataTypes.TEXT('long'), allowNull: false },
    first_pass: { type: DataTypes.TEXT('long'), allowNull: false },
    portrait: { type: DataTypes.TEXT, allowNull: false },
    created_by: { type: DataTypes.STRING(80), allowNull: false },
    created_at: AT,
  });
  await query.createTable('fits', {
    id: ID,
    character_id: {
      type: DataTypes.UUID,
      allowNull: false,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    definition_id: { type: DataTypes.STRING(80), allowNull: false },
    revision: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
    doubts: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
    blockers: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
    updated_at: AT,
  });
  await query.createTable('fit_changes', {
    fit_id: { type: DataTypes.UUID, primaryKey: true, references: { model: 'fits', key: 'id' }, onDelete: 'CASCADE' },
    revision: { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true },
    kind: { type: DataTypes.STRING(10), allowNull: false },
    description: { type: DataTypes.STRING(300), allowNull: false },
    action: { type: DataTypes.TEXT('medium'), allowNull: true },
    state: { type: DataTypes.TEXT('medium'), allowNull: false },
    author: { type: DataTypes.STRING(80), allowNull: false },
    created_at: AT,
  });
  await query.createTable('handoffs', {
    id: ID,
    character_id: {
      type: DataTypes.UUID,
      allowNull: false,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
    file_name: { type: DataTypes.STRING(255), allowNull: false },
    blob_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
    manifest: { type: DataTypes.TEXT('medium'), allowNull: false },
    author: { type: DataTypes.STRING(80), allowNull: false },
    created_at: AT,
  });
  await query.addIndex('handoffs', { fields: ['character_id', 'version'], unique: true, name: 'handoff_versions' });
  await query.addIndex('fits', { fields: ['character_id', 'definition_id'], unique: true, name: 'fit_of_definition' });
}

export async function down(query: QueryInterface): Promise<void> {
  for (const table of ['handoffs', 'fit_changes', 'fits', 'characters', 'blob_chunks', 'blobs'])
    await query.dropTable(table);
}
