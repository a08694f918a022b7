import { QueryTypes, type Transaction } from 'sequelize';
import type { CharacterRemains } from '@/contract/character-view';
import { collectBlobsOf } from '../blobs/blob-store';
import { database } from '../database/connection';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { removeUpload } from '../uploads/upload-repository';
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

/** Hashes of all that a character refers to. */
async function contentsOf(characterId: string, transaction: Transaction): Promise<string[]> {
  const rows = await database().query<{ hash: string }>(
    `SELECT blob_hash AS hash FROM characters WHERE id = :characterId
     UNION SELECT blob_hash FROM source_files WHERE character_id = :characterId
     UNION SELECT f.blob_hash FROM upload_files f JOIN characters c ON c.upload_id = f.upload_id WHERE c.id = :characterId
     UNION SELECT glb_hash FROM readings WHERE character_id = :characterId
     UNION SELECT geometry_hash FROM readings WHERE character_id = :characterId AND geometry_hash IS NOT NULL
     UNION SELECT tracks_hash FROM readings WHERE character_id = :characterId AND tracks_hash IS NOT NULL
     UNION SELECT blob_hash FROM handoffs WHERE character_id = :characterId`,
    { replacements: { characterId }, type: QueryTypes.SELECT, transaction },
  );
  return rows.map(({ hash }) => hash);
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
    const freed = await contentsOf(characterId, transaction);
    const { Character, Handoff } = models();
    const uploadId = (await Character.findByPk(characterId, { attributes: ['uploadId'], transaction }))?.uploadId;
    await Character.update({ joinedInto: null, isPart: false }, { where: { joinedInto: characterId }, transaction });
    if (withPacks) await Handoff.destroy({ where: { characterId }, transaction });
    await Character.destroy({ where: { id: characterId }, transaction });
    return { remains: { ...remains, packs: withPacks ? remains.packs : 0 }, uploadId, freed };
  });
  if (removed?.uploadId) await removeUpload(removed.uploadId);
  if (removed) await collectBlobsOf(removed.freed);
  return removed?.remains ?? null;
}
