import type { Transaction } from 'sequelize';
import type { Definition } from '@/core/definition/definition';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { FitState } from '@/core/fit/fit';
import type { PackMotion } from '@/pipeline/pack-motions';
import { getBlob, putBlob } from '../blobs/blob-store';
import { findCharacter, updateCharacter } from '../characters/character-repository';
import { matchedReading } from '../matches/matched-reading';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { yardsticksOf } from '../fits/assess-reading';
import { drillResultsOf } from '../fits/drill-results';
import { STUDIO } from '../library/studio';
import { findCurrentFit, findFit } from '../fits/fit-repository';
import { keyedMotion } from '../motions/recipe';
import { runHandoff } from '../work/pool';
import { findHandoff, insertHandoff, nextVersion } from './handoff-repository';

export interface MadePack {
  readonly version: number;
  readonly fileName: string;
}

/**
 * Builds a pack of the fit as it stands, and keeps it as the next version. Nothing is overwritten.
 * @param also written together with the pack, or not at all.
 * @returns null for an unknown character.
 * @throws {YarvoError} while a blocker is open, when the read-back fails, or when the fit changed meanwhile.
 */
export async function handOff(
  characterId: string,
  author: string,
  definitionId: string = STUDIO.definition,
  also?: (made: MadePack, transaction: Transaction) => Promise<void>,
): Promise<MadePack | null> {
  const character = await findCharacter(characterId);
  const fit = character && (await findCurrentFit(characterId, definitionId));
  if (!character || !fit) return null;
  if (character.archivedAt) throw archived(character.name);
  const { state } = fit;
  const reading = await matchedReading(character, state);
  const [canonical, source] = await Promise.all([getBlob(reading.glbHash), models().Blob.findByPk(character.blobHash)]);
  if (!canonical || !source) {
    if (!(await findCharacter(characterId))) return null;
    throw new Error(`character ${characterId} has lost its file`);
  }
  const version = await nextVersion(characterId);
  const yardsticks = await yardsticksOf(state);
  const motions = await motionsOf(state, yardsticks.definition);
  const now = new Date();
  const pack = await runHandoff({
    canonical,
    source: { file: character.fileName, sha256: character.blobHash, bytes: Number(source.sizeBytes) },
    character: character.name,
    version,
    fit: state,
    fitRevision: fit.revision,
    ...yardsticks,
    drill: await drillResultsOf(fit),
    motions,
    match: reading.match,
    normalisation: reading.normalisation,
    signedOffBy: author,
    createdAt: now.toISOString(),
  });
  return inTransaction(async (transaction) => {
    const locked = await findFit(characterId, definitionId, transaction, true);
    if (!locked) return null;
    if (locked.revision !== fit.revision) throw changedMeanwhile(character.name);
    const other = await findHandoff(characterId, version, transaction);
    if (other) throw handedOffMeanwhile(character.name, version, other.author);
    const blobHash = await putBlob(pack.zip, transaction);
    const { fileName, manifest } = pack;
    const characterName = character.name;
    await insertHandoff(
      { characterId, characterName, version, fileName, blobHash, manifest, author, at: now },
      transaction,
    );
    await updateCharacter(characterId, { state: 'handed off' }, transaction);
    const made = { version, fileName };
    await also?.(made, transaction);
    return made;
  });
}

async function motionsOf({ packMotions }: FitState, definition: Definition): Promise<PackMotion[]> {
  const motions: PackMotion[] = [];
  for (const key of packMotions) {
    const motion = await keyedMotion(key);
    if (!motion)
      throw new YarvoError({
        code: 'no-motion',
        message: 'A motion of the pack is no longer on the shelf.',
        place: key,
        remedy: "Take it out of the pack's motions, or put it back on the shelf.",
      });
    motions.push({ key, name: motion.name, travel: motion.travel, recipe: await motion.recipe(definition) });
  }
  return motions;
}

const changedMeanwhile = (place: string): YarvoError =>
  new YarvoError({
    code: 'changed-meanwhile',
    message: 'Somebody changed the fit while the pack was built.',
    place,
    remedy: 'Look at the change, then hand off again.',
  });

const handedOffMeanwhile = (place: string, version: number, author: string): YarvoError =>
  new YarvoError({
    code: 'handed-off-meanwhile',
    message: `${author} handed off version ${version} of the same fit while this pack was built.`,
    place,
    remedy: 'Use that pack. Hand off again only if you want another one.',
  });

const archived = (place: string): YarvoError =>
  new YarvoError({
    code: 'archived',
    message: `${place} is archived.`,
    place,
    remedy: 'Restore it, then hand it off.',
  });
