import { QueryTypes, type Transaction } from 'sequelize';
import type { CharacterRemains } from '@/contract/character-view';
import { collectBlobs } from '../blobs/blob-store';
import { database } from '../database/connection';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { dropUpload } from '../uploads/upload-repository';
import { lockFits } from '../fits/fit-repository';

/** What stands behind a character, counted; null for an unknown one. */
export async function countRemains(characterId: string, transaction?: Transaction): Promise<CharacterRemains | null> {
  const [row] = await database().query<Record<keyof CharacterRemains, number>>(
    `SELECT
       (SELECT COUNT(*) FROM source_files WHERE character_id = c.id)
         + (SELECT COUNT(*) FROM upload_files WHERE upload_id = c.upload_id) AS files,
       (SELECT COALESCE(SUM(size_bytes), 0) FROM blobs
         WHERE hash IN (SELECT blob_hash FROM source_files WHERE character_id = c.id)
            OR hash IN (SELECT blob_hash FROM upload_files WHERE upload_id = c.upload_id)) AS fileBytes,
       (SELECT COUNT(*) FROM readings WHERE character_id = c.id) AS readings,
       (SELECT COUNT(*) FROM fits WHERE character_id = c.id) AS fits,
       (SELECT COUNT(*) FROM fit_changes JOIN fits ON fits.id = fit_id WHERE character_id = c.id) AS changes,
       (SELECT COUNT(*) FROM handoffs WHERE character_id = c.id) AS packs,
       (SELECT COUNT(*) FROM characters parts WHERE parts.joined_into = c.id AND parts.is_part = 1) AS parts
     FROM characters c WHERE c.id = :characterId`,
    { replacements: { characterId }, type: QueryTypes.SELECT, transaction },
  );
  if (!row) return null;
  return Object.fromEntries(
    Object.entries(row).map(([name, count]) => [name, Number(count)]),
  ) as unknown as CharacterRemains;
}

/** Puts characters away, or brings them back; nothing of them changes. @returns how many were there. */
export async function archiveCharacters(ids: readonly string[], isAway: boolean): Promise<number> {
  const where = { id: [...ids] };
  await models().Character.update({ archivedAt: isAway ? new Date() : null }, { where });
  return models().Character.count({ where });
}

/**
 * Deletes a character with its files, readings and fits, all or nothing. Its packs were handed to somebody: they stay
 * and can be fetched under the same address, unless they are named on purpose. Characters that were joined into it
 * come back to the roster.
 * @returns what was removed; null for an unknown character.
 */
export async function deleteCharacter(
  characterId: string,
  { withPacks }: { readonly withPacks: boolean },
): Promise<CharacterRemains | null> {
  const removed = await inTransaction(async (transaction) => {
    // A change or a handoff that holds the fit is waited for; one that comes later finds it gone.
    await lockFits(characterId, transaction);
    const remains = await countRemains(characterId, transaction);
    if (!remains) return null;
    const { Character, Handoff } = models();
    const uploadId = (await Character.findByPk(characterId, { attributes: ['uploadId'], transaction }))?.uploadId;
    await Character.update({ joinedInto: null, isPart: false }, { where: { joinedInto: characterId }, transaction });
    if (withPacks) await Handoff.destroy({ where: { characterId }, transaction });
    await Character.destroy({ where: { id: characterId }, transaction });
    return { remains: { ...remains, packs: withPacks ? remains.packs : 0 }, uploadId };
  });
  if (removed?.uploadId) await dropUpload(removed.uploadId);
  if (removed) await collectBlobs();
  return removed?.remains ?? null;
}
