import { Op } from 'sequelize';
import { models } from '../database/models';
import { readFitView } from '../fits/change-fit';
import { listHandoffs } from '../handoffs/handoff-repository';
import { findCharacter } from './character-repository';
import type { CharacterState, CharacterView, RosterRow } from '@/core/character/character-view';

/** All characters for the roster, newest change first. Rigs are not read; doubts and blockers are kept in columns. */
export async function listRoster(): Promise<RosterRow[]> {
  const { Character, Fit, FitChange } = models();
  const characters = await Character.findAll({ attributes: ['id', 'name', 'fileName', 'state', 'portrait', 'firstPass', 'createdBy'] });
  const fits = new Map((await Fit.findAll()).map((fit) => [fit.characterId, fit]));
  const newest = [...fits.values()].map(({ id, revision }) => ({ fitId: id, revision }));
  const changes = newest.length > 0 ? await FitChange.findAll({ where: { [Op.or]: newest }, attributes: ['fitId', 'author'] }) : [];
  const authors = new Map(changes.map((change) => [change.fitId, change.author]));
  const rows: RosterRow[] = [];
  for (const character of characters) {
    const fit = fits.get(character.id);
    if (!fit) continue;
    const { match } = JSON.parse(character.firstPass) as { match: { creature: { isHumanoid: boolean }; prefixLengths: number[] } };
    rows.push({
      id: character.id,
      name: character.name,
      fileName: character.fileName,
      state: character.state as CharacterState,
      portrait: character.portrait,
      bones: match.prefixLengths.length,
      isHumanoid: match.creature.isHumanoid,
      doubts: fit.doubts,
      blockers: fit.blockers,
      updatedAt: fit.updatedAt.toISOString(),
      updatedBy: authors.get(fit.id) ?? character.createdBy,
    });
  }
  return rows.sort((a, b) => (a.updatedAt < b.updatedAt ? 1 : a.updatedAt > b.updatedAt ? -1 : a.name < b.name ? -1 : 1));
}

export async function readCharacter(id: string): Promise<CharacterView | null> {
  const character = await findCharacter(id);
  if (!character) return null;
  const [fit, handoffs, blob] = await Promise.all([readFitView(character), listHandoffs(id), models().Blob.findByPk(character.blobHash)]);
  const { blobHash, createdAt, portrait: _portrait, ...rest } = character;
  return { ...rest, sha256: blobHash, sizeBytes: Number(blob?.sizeBytes ?? 0), createdAt: createdAt.toISOString(), fit, handoffs };
}
