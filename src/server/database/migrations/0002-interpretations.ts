import { DataTypes, QueryTypes, type QueryInterface } from 'sequelize';

/** Key of a reading without decisions, as it was when this migration was written. */
const AS_FOUND_KEY = '0be69121a6dc6fa844a199ed8ab8be5bed93b90786d550cc80f9096c47ba0d15';

/**
 * A character may consist of several files, and what they hold depends on decisions: rig, first pass and canonical file
 * move from the character into its interpretations. The roster's figures get columns of their own.
 */
export async function up(query: QueryInterface): Promise<void> {
  await query.createTable('source_files', {
    character_id: {
      type: DataTypes.UUID,
      primaryKey: true,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    path: { type: DataTypes.STRING(300), primaryKey: true },
    blob_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
    purpose: { type: DataTypes.STRING(10), allowNull: false },
    created_by: { type: DataTypes.STRING(80), allowNull: false },
    created_at: { type: DataTypes.DATE(3), allowNull: false },
  });
  await query.createTable('interpretations', {
    character_id: {
      type: DataTypes.UUID,
      primaryKey: true,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    decisions_key: { type: DataTypes.CHAR(64), primaryKey: true },
    glb_hash: { type: DataTypes.CHAR(64), allowNull: false, references: { model: 'blobs', key: 'hash' } },
    rig: { type: DataTypes.TEXT('long'), allowNull: false },
    first_pass: { type: DataTypes.TEXT('long'), allowNull: false },
    sheet: { type: DataTypes.TEXT('long'), allowNull: false },
    origins: { type: DataTypes.TEXT('long'), allowNull: false },
    portrait: { type: DataTypes.TEXT, allowNull: false },
  });
  await query.addColumn('characters', 'main_path', { type: DataTypes.STRING(300), allowNull: false, defaultValue: '' });
  await query.addColumn('characters', 'joined_into', { type: DataTypes.UUID, allowNull: true });
  await query.addColumn('characters', 'bones', { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 });
  await query.addColumn('characters', 'kind', {
    type: DataTypes.STRING(20),
    allowNull: false,
    defaultValue: 'character',
  });
  await query.addColumn('characters', 'is_humanoid', { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true });
  await moveRigs(query);
  await query.removeColumn('characters', 'rig');
  await query.removeColumn('characters', 'first_pass');
}

/** Characters taken in before: one plain GLB each, read with no decisions. */
async function moveRigs(query: QueryInterface): Promise<void> {
  const rows = await query.sequelize.query<{
    id: string;
    fileName: string;
    blobHash: string;
    rig: string;
    firstPass: string;
    portrait: string;
    createdBy: string;
    createdAt: Date;
  }>(
    'SELECT id, file_name AS fileName, blob_hash AS blobHash, rig, first_pass AS firstPass, portrait, created_by AS createdBy, created_at AS createdAt FROM characters',
    { type: QueryTypes.SELECT },
  );
  for (const row of rows) {
    const {
      format: _format,
      generator,
      ...rig
    } = JSON.parse(row.rig) as {
      format: string;
      generator: string;
      clips: object[];
      bones: { parent: number }[];
      extras: object[];
    };
    const source = {
      format: 'glb',
      version: '2.0',
      generator,
      unitMetres: 1,
      up: '+Y',
      handedness: 'right',
      provenance: { source: '', author: '', licence: '', attribution: '' },
      statedRoles: {},
      expressions: [],
      textures: [],
      jointNodes: [],
      clipRates: [],
      remarks: [],
    };
    const clips = rig.clips.map((clip) => ({ ...clip, startSeconds: 0 }));
    const moved = { ...rig, source, clips, poses: [], statedRoles: {} };
    const sheet = {
      extras: rig.extras.map((extra) => ({ ...extra, vertexCount: 0, boneCount: 0, canLeaveOut: true })),
      clips,
      poses: [],
      boneCount: rig.bones.length,
      worstBones: {},
      copies: [],
      parts: [],
      size: 0,
    };
    const { match } = JSON.parse(row.firstPass) as { match: { creature: { isHumanoid: boolean } } };
    await query.bulkInsert('source_files', [
      {
        character_id: row.id,
        path: row.fileName,
        blob_hash: row.blobHash,
        purpose: 'given',
        created_by: row.createdBy,
        created_at: row.createdAt,
      },
    ]);
    await query.bulkInsert('interpretations', [
      {
        character_id: row.id,
        decisions_key: AS_FOUND_KEY,
        glb_hash: row.blobHash,
        rig: JSON.stringify(moved),
        first_pass: row.firstPass,
        sheet: JSON.stringify(sheet),
        origins: 'null',
        portrait: row.portrait,
      },
    ]);
    await query.bulkUpdate(
      'characters',
      { main_path: row.fileName, bones: rig.bones.length, is_humanoid: match.creature.isHumanoid },
      { id: row.id },
    );
  }
}

export async function down(query: QueryInterface): Promise<void> {
  await query.dropTable('interpretations');
  await query.dropTable('source_files');
  for (const column of ['main_path', 'joined_into', 'bones', 'kind', 'is_humanoid'])
    await query.removeColumn('characters', column);
}
