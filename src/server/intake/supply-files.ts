import { YarvoError } from '@/core/errors/yarvo-error';
import { lastPart, nameKey } from '@/formats/files/companions';
import type { ArrivedFile } from '../uploads/arrived-file';
import { changeIntake, type ChangeResult } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { findCharacter } from '../characters/character-repository';
import { matchedReading } from '../matches/matched-reading';
import { listSourceFiles, type FreshFile } from '../characters/source-files';

/**
 * Adds files that a character's model refers to and that did not come along, matched by name.
 * @throws {YarvoError} `not-wanted` where none of them is referred to.
 */
export async function supplyFiles(
  characterId: string,
  files: readonly ArrivedFile[],
  author: string,
): Promise<ChangeResult> {
  const character = await findCharacter(characterId);
  const fit = character && (await findCurrentFit(characterId));
  if (!character || !fit) return { ok: false, code: 'not-found', message: 'There is no such character.' };
  const { intake } = fit.state;
  const { rig } = await matchedReading(character, fit.state);
  const missing = rig.source.textures.filter((texture) => texture.status === 'missing').map((texture) => texture.name);
  const wanted = new Set(missing.map(nameKey));
  const fitting = files.filter((file) => wanted.has(lastPart(file.path).toLowerCase()));
  if (fitting.length === 0) {
    throw new YarvoError({
      code: 'not-wanted',
      message:
        missing.length === 0
          ? 'No texture is missing.'
          : `None of the files has the name of a missing texture: ${missing.slice(0, 5).map(lastPart).join(', ')}.`,
      place: files[0]?.path ?? 'textures',
      remedy:
        missing.length === 0
          ? 'Nothing needs to be supplied.'
          : 'Rename the file to what the model refers to and drop it again.',
    });
  }
  // A version of a texture is never overwritten: undo must be able to read the one before.
  const taken = new Set((await listSourceFiles(characterId)).map((file) => file.path));
  const fresh: FreshFile[] = [];
  for (const arrived of fitting) {
    const free = freePath(lastPart(arrived.path), taken);
    taken.add(free);
    fresh.push({ path: free, arrived, blobHash: arrived.hash, purpose: 'supplied' });
  }
  const supplied = [...intake.supplied, ...fresh.map((file) => file.path)];
  return changeIntake(characterId, { supplied }, { baseRevision: fit.revision, author }, { files: fresh });
}

function freePath(name: string, taken: ReadonlySet<string>): string {
  for (let count = 1; ; count++) {
    const path = `supplied-${count}/${name}`;
    if (!taken.has(path)) return path;
  }
}
