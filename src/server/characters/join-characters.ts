import { compareSkeletons } from '@/core/intake/same-skeleton';
import { YarvoError } from '@/core/errors/yarvo-error';
import { getBlob } from '../blobs/blob-store';
import { database } from '../database/connection';
import { changeIntake, type ChangeResult } from '../fits/change-fit';
import { findFit, readFitState } from '../fits/fit-repository';
import { findCharacter, updateCharacter, type CharacterRecord } from './character-repository';
import { interpretationOf } from './interpretations';
import { partFolder } from './read-characters';
import { insertSourceFiles, listSourceFiles } from './source-files';
import { models } from '../database/models';

export interface JoinProposal {
  readonly bodyId: string;
  readonly bodyName: string;
  readonly parts: readonly { readonly id: string; readonly name: string; readonly shared: number; readonly total: number }[];
}

async function readingOf(character: CharacterRecord) {
  const fit = await findFit(character.id);
  if (!fit) throw new Error(`character ${character.id} has no fit`);
  return interpretationOf(character, (await readFitState(fit.id, fit.revision)).intake);
}

/** Which of some characters look like parts of one: the largest skeleton is the body, others stand on it by name and place. */
export async function proposeJoins(characterIds: readonly string[]): Promise<JoinProposal[]> {
  const found = (await Promise.all(characterIds.map(findCharacter))).filter((character) => character !== null).sort((a, b) => b.bones - a.bones || (a.name < b.name ? -1 : 1));
  const used = new Set<string>();
  const proposals: JoinProposal[] = [];
  for (const body of found) {
    if (used.has(body.id) || body.bones === 0) continue;
    const { rig } = await readingOf(body);
    const parts: JoinProposal['parts'][number][] = [];
    for (const part of found) {
      if (part.id === body.id || used.has(part.id) || part.bones === 0) continue;
      const agreement = compareSkeletons(rig, (await readingOf(part)).rig);
      if (agreement.isPart) parts.push({ id: part.id, name: part.name, shared: agreement.shared, total: agreement.total });
    }
    if (parts.length === 0) continue;
    [body.id, ...parts.map((part) => part.id)].forEach((id) => used.add(id));
    proposals.push({ bodyId: body.id, bodyName: body.name, parts });
  }
  return proposals;
}

/**
 * Makes characters parts of another one: their files are added to its own, and its intake decisions name them. Undoing
 * that decision brings them back to the roster as they were.
 * @throws {YarvoError} for a character that is not there.
 */
export async function joinCharacters(bodyId: string, partIds: readonly string[], request: { baseRevision: number; author: string }): Promise<ChangeResult> {
  const body = await findCharacter(bodyId);
  const fit = body && (await findFit(bodyId));
  if (!body || !fit) return { ok: false, code: 'not-found', message: 'There is no such character.' };
  const parts = await Promise.all(partIds.filter((id) => id !== bodyId).map(findCharacter));
  const { intake } = await readFitState(fit.id, fit.revision);
  const paths: string[] = [];
  for (const part of parts) {
    if (!part) throw new YarvoError({ code: 'not-found', message: 'One of the parts is not there any more.', place: 'parts', remedy: 'Reload the roster and join again.' });
    const folder = partFolder(part.id);
    const files = await Promise.all((await listSourceFiles(part.id)).map(async ({ path, blobHash }) => ({ path: `${folder}/${path}`, bytes: (await getBlob(blobHash)) ?? new Uint8Array() })));
    await database().transaction((transaction) => insertSourceFiles(bodyId, files, 'given', request.author, transaction));
    paths.push(`${folder}/${part.mainPath}`);
  }
  const result = await changeIntake(bodyId, { parts: [...new Set([...intake.parts, ...paths])] }, request);
  if (result.ok) await Promise.all(parts.map((part) => part && updateCharacter(part.id, { joinedInto: bodyId })));
  else await models().SourceFile.destroy({ where: { characterId: bodyId, path: paths } });
  return result;
}
