import type { JoinProposal } from '@/contract/character-view';
import { compareSkeletons } from '@/core/rig/same-skeleton';
import { YarvoError } from '@/core/errors/yarvo-error';
import { changeIntake, type ChangeResult } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { findCharacter, updateCharacter, type CharacterRecord } from '../characters/character-repository';
import { matchedReading } from '../matches/matched-reading';
import { partFolder } from '../characters/roster';
import { listSourceFiles, type FreshFile } from '../characters/source-files';

async function readingOf(character: CharacterRecord) {
  const fit = await findCurrentFit(character.id);
  if (!fit) throw new Error(`character ${character.id} has no fit`);
  return matchedReading(character, fit.state);
}

/** Which of some characters look like parts of one: the largest skeleton is the body, others stand on it by name and place. */
export async function proposeJoins(characterIds: readonly string[]): Promise<JoinProposal[]> {
  const found = (await Promise.all(characterIds.map(findCharacter)))
    .filter((character) => character !== null)
    .sort((a, b) => b.bones - a.bones || (a.name < b.name ? -1 : 1));
  const used = new Set<string>();
  const proposals: JoinProposal[] = [];
  for (const body of found) {
    if (used.has(body.id) || body.bones === 0) continue;
    const { rig } = await readingOf(body);
    const parts: JoinProposal['parts'][number][] = [];
    for (const part of found) {
      if (part.id === body.id || used.has(part.id) || part.bones === 0) continue;
      const agreement = compareSkeletons(rig, (await readingOf(part)).rig);
      if (agreement.isPart)
        parts.push({ id: part.id, name: part.name, shared: agreement.shared, total: agreement.total });
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
export async function joinCharacters(
  bodyId: string,
  partIds: readonly string[],
  request: { baseRevision: number; author: string },
): Promise<ChangeResult> {
  const fit = await findCurrentFit(bodyId);
  if (!fit) return { ok: false, code: 'not-found', message: 'There is no such character.' };
  const parts = await Promise.all(partIds.filter((id) => id !== bodyId).map(findPart));
  const files = await Promise.all(
    parts.map(async ({ id }) =>
      (await listSourceFiles(id)).map((file): FreshFile => ({
        ...file,
        path: `${partFolder(id)}/${file.path}`,
        purpose: 'given',
      })),
    ),
  );
  const mains = parts.map(({ id, mainPath }) => `${partFolder(id)}/${mainPath}`);
  const paths = [...new Set([...fit.state.intake.parts, ...mains])];
  return changeIntake(bodyId, { parts: paths }, request, {
    files: files.flat(),
    also: async (transaction) => {
      for (const { id } of parts) await updateCharacter(id, { joinedInto: bodyId }, transaction);
    },
  });
}

async function findPart(id: string): Promise<CharacterRecord> {
  const part = await findCharacter(id);
  if (!part)
    throw new YarvoError({
      code: 'not-found',
      message: 'One of the parts is not there any more.',
      place: 'parts',
      remedy: 'Reload the roster and join again.',
    });
  return part;
}
