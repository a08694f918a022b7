import { DataTypes, type QueryInterface } from 'sequelize';

const at = (allowNull: boolean) => ({ type: DataTypes.DATE(3), allowNull });

/**
 * Long work stands in a queue that outlives the server. Files of an upload are kept once, whatever number of characters
 * they become; those of characters from before stay in rows of their own.
 */
export async function up(query: QueryInterface): Promise<void> {
  await query.createTable('uploads', {
    id: { type: DataTypes.UUID, primaryKey: true },
    author: { type: DataTypes.STRING(80), allowNull: false },
    created_at: at(false),
  });
  await query.createTable('upload_files', {
    upload_id: {
      type: DataTypes.UUID,
      primaryKey: true,
      references: { model: 'uploads', key: 'id' },
      onDelete: 'CASCADE',
    },
    path: { type: DataTypes.STRING(300), primaryKey: true },
    blob_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
  });
  await query.addColumn('characters', 'upload_id', {
    type: DataTypes.UUID,
    allowNull: true,
    references: { model: 'uploads', key: 'id' },
  });
  await query.removeColumn('characters', 'answered_at');
  await query.createTable('jobs', {
    id: { type: DataTypes.UUID, primaryKey: true },
    sequence: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false, autoIncrement: true, unique: true },
    kind: { type: DataTypes.STRING(20), allowNull: false },
    subject: { type: DataTypes.STRING(150), allowNull: false },
    label: { type: DataTypes.STRING(300), allowNull: false },
    state: { type: DataTypes.STRING(12), allowNull: false },
    progress: { type: DataTypes.FLOAT, allowNull: false },
    stage: { type: DataTypes.STRING(200), allowNull: false },
    attempts: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
    priority: { type: DataTypes.INTEGER, allowNull: false },
    author: { type: DataTypes.STRING(80), allowNull: false },
    payload: { type: DataTypes.TEXT('medium'), allowNull: false },
    result: { type: DataTypes.TEXT('medium'), allowNull: true },
    problem: { type: DataTypes.TEXT, allowNull: true },
    lease_owner: { type: DataTypes.STRING(80), allowNull: true },
    lease_until: at(true),
    is_cancelled: { type: DataTypes.BOOLEAN, allowNull: false },
    created_at: at(false),
    updated_at: at(false),
    answered_at: at(true),
  });
  await query.addIndex('jobs', { fields: ['state', 'priority', 'sequence'], name: 'jobs_in_order' });
  await query.addIndex('jobs', { fields: ['subject'], name: 'jobs_of_subject' });
}

export async function down(query: QueryInterface): Promise<void> {
  await query.dropTable('jobs');
  await query.sequelize.query(`INSERT IGNORE INTO source_files
    (character_id, path, blob_hash, purpose, created_by, created_at)
    SELECT c.id, f.path, f.blob_hash, 'given', c.created_by, c.created_at
    FROM characters c JOIN upload_files f ON f.upload_id = c.upload_id`);
  await query.removeColumn('characters', 'upload_id');
  await query.addColumn('characters', 'answered_at', { type: DataTypes.DATE(3), allowNull: true });
  await query.sequelize.query('UPDATE characters SET answered_at = created_at');
  await query.dropTable('upload_files');
  await query.dropTable('uploads');
}
