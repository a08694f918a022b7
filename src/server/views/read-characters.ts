import type { CharacterView } from '@/contract/character-view';
import { shownTexts } from '@/core/text/shown-text';
import { models } from '../database/models';
import { readFitView } from '../fits/change-fit';
import { findFit, listFits } from '../fits/fit-repository';
import { listHandoffs } from '../packs/handoff-repository';
import { findCharacter } from '../characters/character-repository';
import { yardsticksOf } from '../fits/assess-reading';
import { listEntries } from '../library/library';
import { STUDIO } from '../library/studio';
import { matchedReading } from '../matches/matched-reading';
import { listSourceFiles } from '../characters/source-files';

/** A character as screens hold it: texts from its files are as they can be shown. */
export async function readCharacter(
  id: string,
  definitionId: string = STUDIO.definition,
): Promise<CharacterView | null> {
  const character = await findCharacter(id);
  if (!character || !(await findFit(id, definitionId))) return null;
  const [fit, handoffs, files, blob, known, fits, profiles] = await Promise.all([
    readFitView(character, definitionId),
    listHandoffs(id),
    listSourceFiles(id),
    models().Blob.findByPk(character.blobHash),
    listEntries('definition'),
    listFits(id),
    listEntries('profile'),
  ]);
  const [reading, yardsticks] = await Promise.all([matchedReading(character, fit.state), yardsticksOf(fit.state)]);
  const { rig, match, normalisation, sheet, origins, glbHash } = reading;
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
    ...yardsticks,
    profiles,
    definitions: known.map(({ id: definition, label }) => ({
      id: definition,
      label,
      hasFit: fits.some((each) => each.definitionId === definition),
      isStudios: definition === STUDIO.definition,
    })),
    handoffs,
  });
}
