import type { QueryInterface } from 'sequelize';

/** Portraits are named by their content, so that a page brings names and browsers keep the drawings. */
export async function up(query: QueryInterface): Promise<void> {
  await query.sequelize.query(`ALTER TABLE characters
    ADD COLUMN portrait_hash CHAR(64) CHARACTER SET ascii AS (SHA2(portrait, 256)) PERSISTENT,
    ADD INDEX characters_by_portrait (portrait_hash)`);
}

export async function down(query: QueryInterface): Promise<void> {
  await query.sequelize.query('ALTER TABLE characters DROP INDEX characters_by_portrait, DROP COLUMN portrait_hash');
}
