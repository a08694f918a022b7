import type { CharacterView } from '@/contract/character-view';
import { shownTexts } from '@/core/text/shown-text';
import { models } from '../database/models';
import { readFitView } from '../fits/change-fit';
import { listHandoffs } from '../packs/handoff-repository';
import { findCharacter } from '../characters/character-repository';
import { interpretationOf } from '../readings/interpretations';
import { listSourceFiles } from '../characters/source-files';

/** A character as screens hold it: texts from its files are as they can be shown. */
export async function readCharacter(id: string): Promise<CharacterView | null> {
  const character = await findCharacter(id);
  if (!character) return null;
  const [fit, handoffs, files, blob] = await Promise.all([
    readFitView(character),
    listHandoffs(id),
    listSourceFiles(id),
    models().Blob.findByPk(character.blobHash),
  ]);
  const { rig, match, normalisation, sheet, origins, glbHash } = await interpretationOf(character, fit.state.intake);
  const { name, fileName, mainPath, state, createdBy, createdAt, blobHash } = character;
  return shownTexts({
    id,
    name,
    fileName,
    mainPath,
    state,
    createdBy,
    createdAt: createdAt.toISOString(),
    isArchived: character.archivedAt !== null,
    sha256: blobHash,
    sizeBytes: Number(blob?.sizeBytes ?? 0),
    files: files.map(({ path, purpose }) => ({ path, purpose })),
    modelHash: glbHash,
    rig,
    match,
    normalisation,
    sheet,
    origins,
    fit,
    handoffs,
  });
}
