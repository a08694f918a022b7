import type { Transaction } from 'sequelize';
import type { FirstPass } from '@/core/assess/assess';
import type { Rig } from '@/core/rig/rig';
import { models, type CharacterRow } from '../database/models';
import type { CharacterState } from '@/core/character/character-view';

/** A character as it is kept; plain and readonly. */
export interface CharacterRecord extends FirstPass {
  readonly id: string;
  readonly name: string;
  readonly fileName: string;
  readonly blobHash: string;
  readonly state: CharacterState;
  readonly portrait: string;
  readonly createdBy: string;
  readonly createdAt: Date;
  readonly rig: Rig;
}

/** Rig and first pass never change for a character, so parsing them once serves many requests. */
const MAX_CACHED = 32;
const parsed = new Map<string, Pick<CharacterRecord, 'rig' | 'match' | 'normalisation'>>();

function parseHeavy(row: CharacterRow): Pick<CharacterRecord, 'rig' | 'match' | 'normalisation'> {
  const known = parsed.get(row.id);
  if (known) return known;
  const value = { rig: JSON.parse(row.rig) as Rig, ...(JSON.parse(row.firstPass) as FirstPass) };
  parsed.set(row.id, value);
  if (parsed.size > MAX_CACHED) parsed.delete(parsed.keys().next().value as string);
  return value;
}

export async function findCharacter(id: string): Promise<CharacterRecord | null> {
  const row = await models().Character.findByPk(id);
  if (!row) return null;
  return { id: row.id, name: row.name, fileName: row.fileName, blobHash: row.blobHash, state: row.state as CharacterState, portrait: row.portrait, createdBy: row.createdBy, createdAt: row.createdAt, ...parseHeavy(row) };
}

export async function insertCharacter(record: CharacterRecord, transaction: Transaction): Promise<void> {
  const { rig, match, normalisation, ...plain } = record;
  await models().Character.create({ ...plain, rig: JSON.stringify(rig), firstPass: JSON.stringify({ match, normalisation }) }, { transaction });
}

export async function updateCharacterState(id: string, state: CharacterState, transaction?: Transaction): Promise<void> {
  await models().Character.update({ state }, { where: { id }, transaction });
}

/** A name nobody has yet: "Eel seller", "Eel seller 2" ... */
export async function freeName(wanted: string, transaction: Transaction): Promise<string> {
  for (let count = 1; ; count++) {
    const name = count === 1 ? wanted : `${wanted} ${count}`;
    if (!(await models().Character.findOne({ where: { name }, attributes: ['id'], transaction }))) return name;
  }
}
