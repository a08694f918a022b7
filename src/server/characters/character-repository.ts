import { QueryTypes, type Transaction } from 'sequelize';
import type { CharacterState } from '@/contract/character-view';
import type { Rig } from '@/core/rig/rig';
import { database } from '../database/connection';
import { likeText } from '../database/like-text';
import { models } from '../database/models';

/** A character as it is kept; plain and readonly. What its files hold stands in its interpretations. */
export interface CharacterRecord {
  readonly id: string;
  readonly name: string;
  /** Last part of the main file's path. */
  readonly fileName: string;
  /** The uploaded file that holds the main model: itself, or a zip. */
  readonly blobHash: string;
  /** Path of the main model among the character's unpacked files. */
  readonly mainPath: string;
  /** Character that this one became a part of; null for one of its own. */
  readonly joinedInto: string | null;
  readonly state: CharacterState;
  readonly kind: Rig['kind'];
  readonly bones: number;
  readonly isHumanoid: boolean;
  readonly portrait: string;
  readonly createdBy: string;
  readonly createdAt: Date;
  /** Set while the character is put away. */
  readonly archivedAt: Date | null;
  /** The upload it came with; null for one whose files stand in rows of its own. */
  readonly uploadId: string | null;
  /** It was joined into another one, whose decisions name it now. */
  readonly isPart: boolean;
  /** Names its skeleton; null for one that was kept before this was written down. */
  readonly skeleton: string | null;
}

export async function findCharacter(id: string): Promise<CharacterRecord | null> {
  const row = await models().Character.findByPk(id);
  return row ? (row.get({ plain: true }) as CharacterRecord) : null;
}

/** Some characters by id: one statement. */
export async function findCharacters(ids: readonly string[]): Promise<Map<string, CharacterRecord>> {
  const rows = await models().Character.findAll({ where: { id: [...ids] } });
  return new Map(rows.map((row) => [row.id, row.get({ plain: true }) as CharacterRecord]));
}

export async function insertCharacter(record: CharacterRecord, transaction: Transaction): Promise<void> {
  await models().Character.create({ ...record }, { transaction });
}

export type CharacterChange = Partial<
  Pick<CharacterRecord, 'state' | 'kind' | 'bones' | 'isHumanoid' | 'portrait' | 'joinedInto' | 'skeleton'>
>;

export async function updateCharacter(id: string, change: CharacterChange, transaction?: Transaction): Promise<void> {
  await models().Character.update(change, { where: { id }, transaction });
}

/**
 * The state of a character, locked until the transaction ends. Read under the lock of its fit: what a handoff wrote
 * while a change waited for it counts.
 */
export async function lockCharacterState(id: string, transaction: Transaction): Promise<CharacterState> {
  const row = await models().Character.findByPk(id, { attributes: ['id', 'state'], transaction, lock: true });
  if (!row) throw new Error(`character ${id} is gone while its fit is locked`);
  return row.state as CharacterState;
}

/** A name nobody has yet: "Eel seller", "Eel seller 2" ... One statement and one row, however many have it. */
export async function freeName(wanted: string, transaction: Transaction): Promise<string> {
  const [{ count, last }] = await database().query<{ count: number; last: number | null }>(
    `SELECT SUM(name = :wanted) AS count, MAX(CAST(SUBSTRING(name, :numberAt) AS UNSIGNED)) AS last
     FROM characters
     WHERE name = :wanted OR (name LIKE :pattern AND SUBSTRING(name, :numberAt) REGEXP '^[1-9][0-9]{0,8}$')`,
    {
      replacements: { wanted, pattern: `${likeText(wanted)} %`, numberAt: [...wanted].length + 2 },
      type: QueryTypes.SELECT,
      transaction,
    },
  );
  return Number(count ?? 0) === 0 ? wanted : `${wanted} ${Math.max(1, Number(last ?? 0)) + 1}`;
}

export const archivedText = ({ name }: Pick<CharacterRecord, 'name'>): string =>
  `${name} is archived; restore it to change it.`;
