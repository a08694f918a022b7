import { Op, type Transaction } from 'sequelize';
import type { MotionView } from '@/contract/motions';
import type { RootTravel } from '@/core/motion/carry-options';
import { countDoubts } from '@/core/fit/fit';
import type { Contact } from '@/core/motion/motion';
import { models, type MotionRow } from '../database/models';
import { findCurrentFit } from '../fits/fit-repository';
import { findCharacter } from '../characters/character-repository';
import { matchedReading } from '../matches/matched-reading';

/** Motions of the shelf, by name; those that were taken off it as well where that is asked for. */
export async function listMotionRows(isRemovedToo = false): Promise<MotionRow[]> {
  const rows = await models().Motion.findAll({
    where: isRemovedToo ? {} : { removedAt: null },
    order: [
      ['name', 'ASC'],
      ['clipIndex', 'ASC'],
    ],
  });
  return rows.map((row) => row.get() as MotionRow);
}

export async function findMotionRow(
  id: string,
  transaction?: Transaction,
  isLocking = false,
): Promise<MotionRow | null> {
  const row = await models().Motion.findByPk(id, { transaction, ...(isLocking && { lock: true }) });
  return row ? (row.get() as MotionRow) : null;
}

/** Motions that came with a character. */
export async function motionsOfCharacter(characterId: string): Promise<MotionRow[]> {
  const rows = await models().Motion.findAll({ where: { characterId }, order: [['clipIndex', 'ASC']] });
  return rows.map((row) => row.get() as MotionRow);
}

/** The character whose fit counts for a skeleton: the source that was shelved first; null where there is none yet. */
export async function fitterOf(signature: string, except: string): Promise<string | null> {
  const row = await models().Motion.findOne({
    where: { signature, removedAt: null, characterId: { [Op.ne]: except } },
    order: [['createdAt', 'ASC']],
  });
  return row && (await findCharacter(row.fitCharacterId)) ? row.fitCharacterId : null;
}

/** A motion as screens hold it; null where its character is gone. */
export async function motionView(row: MotionRow): Promise<MotionView | null> {
  const character = await findCharacter(row.characterId);
  const fit = character && (await findCurrentFit(row.characterId));
  if (!character || !fit) return null;
  const fitter = row.fitCharacterId === row.characterId ? character : await findCharacter(row.fitCharacterId);
  const fitterFit = fitter && (await findCurrentFit(fitter.id));
  const { rig } = await matchedReading(character, fit.state);
  const clip = rig.clips[row.clipIndex];
  if (!clip) return null;
  const { pose } = fit.state.intake;
  return {
    id: row.id,
    name: row.name,
    characterId: row.characterId,
    characterName: character.name,
    fileName: character.fileName,
    clipIndex: row.clipIndex,
    clipName: clip.name,
    durationSeconds: clip.durationSeconds,
    clipFramesPerSecond: clip.framesPerSecond,
    framesPerSecond: row.framesPerSecond,
    reference: pose.kind === 'frame' ? `frame ${pose.frame}${pose.isDropped ? ', left out' : ''}` : pose.kind,
    travel: JSON.parse(row.travel) as RootTravel,
    contacts: row.contacts === null ? null : (JSON.parse(row.contacts) as Contact[]),
    fitCharacterId: fitterFit ? row.fitCharacterId : row.characterId,
    fitCharacterName: fitterFit && fitter ? fitter.name : character.name,
    doubts: countDoubts((fitterFit ?? fit).state),
    createdBy: row.createdBy,
    createdAt: row.createdAt.toISOString(),
    isRemoved: row.removedAt !== null,
    revision: row.revision,
  };
}
