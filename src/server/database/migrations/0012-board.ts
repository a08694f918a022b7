import { DataTypes, type QueryInterface } from 'sequelize';

const at = { type: DataTypes.DATE(3), allowNull: false };

/** What carrying motions to characters came to, and the files that motions were written out as. */
export async function up(query: QueryInterface): Promise<void> {
  await query.createTable('carried', {
    character_id: {
      type: DataTypes.UUID,
      primaryKey: true,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    // Id of a motion of the shelf, or the name of one of the house set.
    motion_key: { type: DataTypes.STRING(60), primaryKey: true },
    // What it was made from: where that changed since, it is old.
    stamp: { type: DataTypes.CHAR(64), allowNull: false },
    result: { type: DataTypes.TEXT, allowNull: false },
    author: { type: DataTypes.STRING(80), allowNull: false },
    carried_at: at,
  });
  await query.createTable('motion_outs', {
    id: { type: DataTypes.UUID, primaryKey: true },
    file_name: { type: DataTypes.STRING(200), allowNull: false },
    blob_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
    manifest: { type: DataTypes.TEXT('long'), allowNull: false },
    author: { type: DataTypes.STRING(80), allowNull: false },
    created_at: at,
  });
  // The last version that a file's name was given.
  await query.createTable('motion_names', {
    name_hash: { type: DataTypes.CHAR(64), primaryKey: true },
    version: { type: DataTypes.INTEGER, allowNull: false },
  });
}

export async function down(query: QueryInterface): Promise<void> {
  for (const table of ['motion_names', 'motion_outs', 'carried']) await query.dropTable(table);
}
