import { YarvoError } from '@/core/errors/yarvo-error';
import { lastPart, type SourceFile } from '@/formats/source/companions';
import { database } from '../database/connection';
import { changeIntake, type ChangeResult } from '../fits/change-fit';
import { findFit, readFitState } from '../fits/fit-repository';
import { findCharacter } from './character-repository';
import { interpretationOf } from './interpretations';
import { insertSourceFiles, listSourceFiles } from './source-files';

/**
 * Adds files that a character's model refers to and that did not come along, matched by name.
 * @throws {YarvoError} `not-wanted` where none of them is referred to.
 */
export async function supplyFiles(characterId: string, files: readonly SourceFile[], author: string): Promise<ChangeResult> {
  const character = await findCharacter(characterId);
  const fit = character && (await findFit(characterId));
  if (!character || !fit) return { ok: false, code: 'not-found', message: 'There is no such character.' };
  const { intake } = await readFitState(fit.id, fit.revision);
  const { rig } = await interpretationOf(character, intake);
  const missing = rig.source.textures.filter((texture) => texture.status === 'missing').map((texture) => texture.name);
  const wanted = new Set(missing.map((name) => lastPart(decoded(name)).toLowerCase()));
  const fitting = files.filter((file) => wanted.has(lastPart(file.path).toLowerCase()));
  if (fitting.length === 0) {
    throw new YarvoError({
      code: 'not-wanted',
      message: missing.length === 0 ? 'No texture is missing.' : `None of the files has the name of a missing texture: ${missing.slice(0, 5).map(lastPart).join(', ')}.`,
      place: files[0]?.path ?? 'textures',
      remedy: missing.length === 0 ? 'Nothing needs to be supplied.' : 'Rename the file to what the model refers to and drop it again.',
    });
  }
  // A version of a texture is never overwritten: undo must be able to read the one before.
  const taken = new Set((await listSourceFiles(characterId)).map((file) => file.path));
  const named = fitting.map((file) => ({ ...file, path: freePath(lastPart(file.path), taken) }));
  await database().transaction((transaction) => insertSourceFiles(characterId, named, 'supplied', author, transaction));
  return changeIntake(characterId, { supplied: [...intake.supplied, ...named.map((file) => file.path)] }, { baseRevision: fit.revision, author });
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

function freePath(name: string, taken: ReadonlySet<string>): string {
  for (let count = 1; ; count++) {
    const path = `supplied-${count}/${name}`;
    if (!taken.has(path)) return path;
  }
}
