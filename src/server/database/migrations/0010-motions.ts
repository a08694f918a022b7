import { DataTypes, type QueryInterface } from 'sequelize';

const at = (allowNull: boolean) => ({ type: DataTypes.DATE(3), allowNull });

/**
 * The shelf of motions. A motion is a clip of a character (one that came as motion only, or any other); what it does is
 * worked out from that character's reading and fit, so nothing of it is kept here but what a person chose.
 */
export async function up(query: QueryInterface): Promise<void> {
  await query.createTable('motions', {
    id: { type: DataTypes.UUID, primaryKey: true },
    name: { type: DataTypes.STRING(200), allowNull: false },
    character_id: {
      type: DataTypes.UUID,
      allowNull: false,
      references: { model: 'characters', key: 'id' },
      onDelete: 'CASCADE',
    },
    clip_name: { type: DataTypes.STRING(300), allowNull: false },
    clip_index: { type: DataTypes.INTEGER, allowNull: false },
    // The character whose fit counts: the first one of the same skeleton.
    fit_character_id: { type: DataTypes.UUID, allowNull: false },
    signature: { type: DataTypes.STRING(80), allowNull: false },
    frames_per_second: { type: DataTypes.DOUBLE, allowNull: true },
    travel: { type: DataTypes.TEXT, allowNull: false },
    contacts: { type: DataTypes.TEXT('long'), allowNull: true },
    created_by: { type: DataTypes.STRING(80), allowNull: false },
    created_at: at(false),
    removed_at: at(true),
    revision: { type: DataTypes.INTEGER, allowNull: false },
  });
  await query.addIndex('motions', ['character_id', 'clip_index'], { unique: true, name: 'motions_by_clip' });
  await query.addIndex('motions', ['signature'], { name: 'motions_by_skeleton' });
}

export async function down(query: QueryInterface): Promise<void> {
  await query.dropTable('motions');
}
