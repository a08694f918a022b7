import { Op } from 'sequelize';
import type { CharacterView, RosterRow } from '@/core/character/character-view';
import { shownTexts } from '@/core/text/shown-text';
import { models } from '../database/models';
import { readFitView } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { listHandoffs } from '../handoffs/handoff-repository';
import { findCharacter, type CharacterRecord } from './character-repository';
import { interpretationOf } from './interpretations';
import { listSourceFiles } from './source-files';

/** All characters for the roster, newest change first. What became a part of another character is not listed. */
export async function listRoster(): Promise<RosterRow[]> {
  const { Character, Fit, FitChange } = models();
  const characters = (await Character.findAll()).map((row) => row.get({ plain: true }) as CharacterRecord);
  const fits = new Map((await Fit.findAll()).map((fit) => [fit.characterId, fit]));
  const newest = [...fits.values()].map(({ id, revision }) => ({ fitId: id, revision }));
  const changes = newest.length > 0 ? await FitChange.findAll({ where: { [Op.or]: newest }, attributes: ['fitId', 'author'] }) : [];
  const authors = new Map(changes.map((change) => [change.fitId, change.author]));
  const rows: RosterRow[] = [];
  for (const character of characters) {
    const fit = fits.get(character.id);
    if (!fit || (await isPartNow(character))) continue;
    const { id, name, fileName, state, kind, portrait, bones, isHumanoid } = character;
    rows.push({
      id, name, fileName, state, kind, portrait, bones, isHumanoid,
      doubts: fit.doubts,
      blockers: fit.blockers,
      updatedAt: fit.updatedAt.toISOString(),
      updatedBy: authors.get(fit.id) ?? character.createdBy,
      isArchived: character.archivedAt !== null,
    });
  }
  return rows.sort((a, b) => (a.updatedAt < b.updatedAt ? 1 : a.updatedAt > b.updatedAt ? -1 : a.name < b.name ? -1 : 1));
}

/** Joining can be undone: a joined character is a part only while the other one's decisions say so. */
async function isPartNow({ id, joinedInto }: CharacterRecord): Promise<boolean> {
  const fit = joinedInto ? await findCurrentFit(joinedInto) : null;
  return fit !== null && fit.state.intake.parts.some((path) => path.startsWith(`${partFolder(id)}/`));
}

/** Folder under which the files of a joined character stand among those of its new whole. */
export const partFolder = (characterId: string): string => `part-${characterId.slice(0, 8)}`;

/** A character as screens hold it: texts from its files are as they can be shown. */
export async function readCharacter(id: string): Promise<CharacterView | null> {
  const character = await findCharacter(id);
  if (!character) return null;
  const [fit, handoffs, files, blob] = await Promise.all([readFitView(character), listHandoffs(id), listSourceFiles(id), models().Blob.findByPk(character.blobHash)]);
  const { rig, match, normalisation, sheet, origins, glbHash } = await interpretationOf(character, fit.state.intake);
  const { name, fileName, mainPath, state, createdBy, createdAt, blobHash } = character;
  return shownTexts({
    id, name, fileName, mainPath, state, createdBy,
    createdAt: createdAt.toISOString(),
    isArchived: character.archivedAt !== null,
    sha256: blobHash,
    sizeBytes: Number(blob?.sizeBytes ?? 0),
    files: files.map(({ path, purpose }) => ({ path, purpose })),
    modelHash: glbHash,
    rig, match, normalisation, sheet, origins, fit, handoffs,
  });
}
