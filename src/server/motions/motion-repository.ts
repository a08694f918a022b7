import { Op, type Transaction } from 'sequelize';
import type { ClipMotion, HouseChoice, MotionView } from '@/contract/motions';
import type { RootTravel } from '@/core/motion/carry-options';
import { countDoubts } from '@/core/fit/fit';
import { HOUSE_RATE } from '@/core/house/house-motion';
import { houseEntry } from '@/core/house/house-set';
import type { MotionEdit } from '@/core/motion/edits/motion-edit';
import type { Contact } from '@/core/motion/motion';
import { getBlob } from '../blobs/blob-store';
import { models, type MotionRow } from '../database/models';
import { findCurrentFit } from '../fits/fit-repository';
import { findCharacter } from '../characters/character-repository';
import { matchedReading } from '../matches/matched-reading';
import { runInspectMotion } from '../work/pool';

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

/** What of a motion its stamp is made of. */
export type StampRow = Pick<
  MotionRow,
  'id' | 'name' | 'revision' | 'kind' | 'characterId' | 'fitCharacterId' | 'edits' | 'removedAt'
>;

/** All motions by name, those that were taken off the shelf as well: others may append them. */
export async function listStampRows(): Promise<StampRow[]> {
  const rows = await models().Motion.findAll({
    attributes: ['id', 'name', 'revision', 'kind', 'characterId', 'fitCharacterId', 'edits', 'removedAt'],
    order: [
      ['name', 'ASC'],
      ['clipIndex', 'ASC'],
    ],
  });
  return rows.map((row) => row.get() as StampRow);
}

export async function findMotionRow(
  id: string,
  transaction?: Transaction,
  isLocking = false,
): Promise<MotionRow | null> {
  const row = await models().Motion.findByPk(id, { transaction, ...(isLocking && { lock: true }) });
  return row ? (row.get() as MotionRow) : null;
}

/** Motions that came with a character, without copies of them. */
export async function motionsOfCharacter(characterId: string, transaction?: Transaction): Promise<MotionRow[]> {
  const rows = await models().Motion.findAll({
    where: { characterId, isCopy: false },
    order: [['clipIndex', 'ASC']],
    transaction,
  });
  return rows.map((row) => row.get() as MotionRow);
}

/** The character whose fit counts for a skeleton: the source that was shelved first; null where there is none yet. */
export async function fitterOf(signature: string, except: string): Promise<string | null> {
  const row = await models().Motion.findOne({
    where: { signature, removedAt: null, characterId: { [Op.ne]: except } },
    order: [['createdAt', 'ASC']],
  });
  return row?.fitCharacterId && (await findCharacter(row.fitCharacterId)) ? row.fitCharacterId : null;
}

/** A motion as screens hold it; null where what it is made from is gone. */
export async function motionView(row: MotionRow): Promise<MotionView | null> {
  const shelved = {
    id: row.id,
    name: row.name,
    framesPerSecond: row.framesPerSecond,
    travel: JSON.parse(row.travel) as RootTravel,
    contacts: row.contacts === null ? null : (JSON.parse(row.contacts) as Contact[]),
    edits: row.edits === null ? [] : (JSON.parse(row.edits) as MotionEdit[]),
    createdBy: row.createdBy,
    createdAt: row.createdAt.toISOString(),
    isRemoved: row.removedAt !== null,
    revision: row.revision,
  };
  switch (row.kind) {
    case 'house': {
      const house = JSON.parse(row.house ?? 'null') as HouseChoice;
      const { seconds } = houseEntry(house.entry).make(house.settings);
      return { kind: 'house', ...shelved, house, durationSeconds: seconds, clipFramesPerSecond: HOUSE_RATE };
    }
    case 'kept': {
      const facts = row.blobHash && (await keptFacts(row, row.blobHash));
      if (!facts) return null;
      const { frameCount, framesPerSecond } = facts;
      return {
        kind: 'kept',
        ...shelved,
        hash: row.blobHash as string,
        durationSeconds: (frameCount - 1) / framesPerSecond,
        clipFramesPerSecond: framesPerSecond,
      };
    }
    case 'clip': {
      const clip = await clipOf(row);
      return clip && { kind: 'clip', ...shelved, ...clip };
    }
  }
}

/** Length and rate of a kept motion; one that was kept before these were written down is decoded once, in a worker. */
async function keptFacts(
  { id, name, frameCount, clipRate }: MotionRow,
  blobHash: string,
): Promise<{ readonly frameCount: number; readonly framesPerSecond: number } | null> {
  if (frameCount !== null && clipRate !== null) return { frameCount, framesPerSecond: clipRate };
  const bytes = await getBlob(blobHash);
  if (!bytes) return null;
  const facts = await runInspectMotion(bytes, name);
  await models().Motion.update({ frameCount: facts.frameCount, clipRate: facts.framesPerSecond }, { where: { id } });
  return facts;
}

type ClipFacts = Pick<
  ClipMotion,
  | 'characterId'
  | 'characterName'
  | 'fileName'
  | 'clipIndex'
  | 'clipName'
  | 'durationSeconds'
  | 'clipFramesPerSecond'
  | 'reference'
  | 'fitCharacterId'
  | 'fitCharacterName'
  | 'doubts'
>;

/** What a clip's motion says of the clip and of the fit that counts for it. */
async function clipOf(row: MotionRow): Promise<ClipFacts | null> {
  const { characterId, fitCharacterId, clipIndex } = row;
  if (characterId === null || fitCharacterId === null || clipIndex === null) return null;
  const character = await findCharacter(characterId);
  const fit = character && (await findCurrentFit(characterId));
  if (!character || !fit) return null;
  const fitter = fitCharacterId === characterId ? character : await findCharacter(fitCharacterId);
  const fitterFit = fitter && (await findCurrentFit(fitter.id));
  const { rig } = await matchedReading(character, fit.state);
  const clip = rig.clips[clipIndex];
  if (!clip) return null;
  const { pose } = fit.state.intake;
  return {
    characterId,
    characterName: character.name,
    fileName: character.fileName,
    clipIndex,
    clipName: clip.name,
    durationSeconds: clip.durationSeconds,
    clipFramesPerSecond: clip.framesPerSecond,
    reference: pose.kind === 'frame' ? `frame ${pose.frame}${pose.isDropped ? ', left out' : ''}` : pose.kind,
    fitCharacterId: fitterFit ? fitCharacterId : characterId,
    fitCharacterName: fitterFit && fitter ? fitter.name : character.name,
    doubts: countDoubts((fitterFit ?? fit).state),
  };
}
