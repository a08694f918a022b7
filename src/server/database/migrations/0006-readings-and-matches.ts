import { DataTypes, type QueryInterface } from 'sequelize';

const AT = { type: DataTypes.DATE(3), allowNull: false };
const LONG = { type: DataTypes.TEXT('long'), allowNull: false };
const blobOrNull = () => ({
  type: DataTypes.CHAR(64),
  allowNull: true,
  references: { model: 'blobs', key: 'hash' },
});

/**
 * What a character's files hold and what was matched in it are kept apart, each under the versions of what made it;
 * definitions, profiles and dialects move into a library; what a newer reader or matcher would change waits in
 * `renewals`. Readings that were kept before are by the first reader, their matches by the first matcher.
 */
export async function up(query: QueryInterface): Promise<void> {
  await query.createTable('library', {
    kind: { type: DataTypes.STRING(20), primaryKey: true },
    id: { type: DataTypes.STRING(80), primaryKey: true },
    version: { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true },
    label: { type: DataTypes.STRING(200), allowNull: false },
    body: LONG,
    created_by: { type: DataTypes.STRING(80), allowNull: false },
    created_at: AT,
  });
  await query.createTable('readings', {
    character_id: {
      type: DataTypes.UUID,
      primaryKey: true,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    decisions_key: { type: DataTypes.CHAR(64), primaryKey: true },
    reader_version: { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true },
    content_key: { type: DataTypes.CHAR(64), allowNull: true },
    glb_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
    geometry_hash: blobOrNull(),
    tracks_hash: blobOrNull(),
    rig: LONG,
    sheet: LONG,
    origins: LONG,
    created_at: AT,
  });
  await query.addIndex('readings', { fields: ['content_key'], name: 'readings_by_content' });
  await query.createTable('matches', {
    character_id: { type: DataTypes.UUID, primaryKey: true },
    decisions_key: { type: DataTypes.CHAR(64), primaryKey: true },
    reader_version: { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true },
    definition_id: { type: DataTypes.STRING(80), primaryKey: true },
    definition_version: { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true },
    dialect: { type: DataTypes.STRING(100), primaryKey: true },
    matcher_version: { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true },
    first_pass: LONG,
    portrait: { type: DataTypes.TEXT, allowNull: false },
    created_at: AT,
  });
  const run = (sql: string) => query.sequelize.query(sql);
  await run(`ALTER TABLE matches ADD CONSTRAINT matches_of_readings
    FOREIGN KEY (character_id, decisions_key, reader_version)
    REFERENCES readings (character_id, decisions_key, reader_version) ON DELETE CASCADE`);
  await run(`INSERT INTO readings
    (character_id, decisions_key, reader_version, glb_hash, rig, sheet, origins, created_at)
    SELECT character_id, decisions_key, 1, glb_hash, rig, sheet, origins, created_at FROM interpretations`);
  await run(`INSERT INTO matches
    (character_id, decisions_key, reader_version, definition_id, definition_version, dialect, matcher_version,
     first_pass, portrait, created_at)
    SELECT character_id, decisions_key, 1, 'quay', 2, 'shipped@1', 1, first_pass, portrait, created_at
    FROM interpretations`);
  await query.dropTable('interpretations');
  await query.createTable('renewals', {
    fit_id: { type: DataTypes.UUID, primaryKey: true, references: { model: 'fits', key: 'id' }, onDelete: 'CASCADE' },
    /** Revision of the fit that the changes were worked out for. */
    revision: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
    basis: { type: DataTypes.STRING(200), allowNull: false },
    changes: LONG,
    created_at: AT,
  });
}

export async function down(query: QueryInterface): Promise<void> {
  await query.dropTable('renewals');
  await query.createTable('interpretations', {
    character_id: {
      type: DataTypes.UUID,
      primaryKey: true,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    decisions_key: { type: DataTypes.CHAR(64), primaryKey: true },
    glb_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
    rig: LONG,
    first_pass: LONG,
    sheet: LONG,
    origins: LONG,
    portrait: { type: DataTypes.TEXT, allowNull: false },
    created_at: AT,
  });
  await query.sequelize.query(`INSERT IGNORE INTO interpretations
    (character_id, decisions_key, glb_hash, rig, first_pass, sheet, origins, portrait, created_at)
    SELECT r.character_id, r.decisions_key, r.glb_hash, r.rig, m.first_pass, r.sheet, r.origins, m.portrait, r.created_at
    FROM readings r JOIN matches m USING (character_id, decisions_key, reader_version)
    WHERE m.definition_id = 'quay' ORDER BY r.reader_version DESC, m.matcher_version DESC`);
  for (const table of ['matches', 'readings', 'library']) await query.dropTable(table);
}
