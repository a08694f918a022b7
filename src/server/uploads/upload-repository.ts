import { QueryTypes, type Transaction } from 'sequelize';
import { collectBlobsOf, putBlobsOf } from '../blobs/blob-store';
import { database } from '../database/connection';
import { models } from '../database/models';
import type { ArrivedFile } from './arrived-file';

/** A file of an upload that is kept. */
export interface UploadFile {
  readonly path: string;
  readonly blobHash: string;
}

/**
 * Keeps the files of an upload under its id, each content once.
 * @returns false where that upload is kept already: of several senders at the same moment, the others wait for the first.
 */
export async function insertUpload(
  id: string,
  files: readonly ArrivedFile[],
  author: string,
  transaction: Transaction,
): Promise<boolean> {
  const [, insertedCount] = await database().query(
    'INSERT IGNORE INTO uploads (id, author, created_at) VALUES (:id, :author, :now)',
    { replacements: { id, author, now: new Date() }, type: QueryTypes.INSERT, transaction },
  );
  if (insertedCount === 0) return false;
  await putBlobsOf(files, transaction);
  const rows = files.map(({ path, hash }) => ({ uploadId: id, path, blobHash: hash }));
  await models().UploadFile.bulkCreate(rows, { transaction });
  return true;
}

export async function listUploadFiles(uploadId: string): Promise<UploadFile[]> {
  const rows = await models().UploadFile.findAll({ where: { uploadId }, order: [['path', 'ASC']] });
  return rows.map(({ path, blobHash }) => ({ path, blobHash }));
}

/** Removes an upload, with the contents that nothing else refers to; one that a character has its files from stays. */
export async function dropUpload(id: string): Promise<void> {
  const files = await listUploadFiles(id);
  if (await removeUpload(id)) await collectBlobsOf(files.map(({ blobHash }) => blobHash));
}

/** Removes uploads that no character has its files from and no job is about. @returns how many. */
export async function collectUploads(): Promise<number> {
  const unused = await database().query<{ id: string }>(
    `SELECT u.id FROM uploads u
     WHERE NOT EXISTS (SELECT 1 FROM characters c WHERE c.upload_id = u.id)
       AND NOT EXISTS (SELECT 1 FROM jobs j WHERE j.subject = u.id AND j.state IN ('queued', 'running', 'failed'))
       AND u.created_at < :before`,
    { replacements: { before: new Date(Date.now() - YOUNG_MS) }, type: QueryTypes.SELECT },
  );
  let count = 0;
  for (const { id } of unused) if (await removeUpload(id)) count++;
  return count;
}

/**
 * Removes an upload, not its contents. A character holds the one that it came with by a foreign key, also a character that
 * is being made at this moment. @returns whether it was removed.
 */
export async function removeUpload(id: string): Promise<boolean> {
  try {
    return (await models().Upload.destroy({ where: { id } })) > 0;
  } catch (error) {
    if ((error as Error).name !== 'SequelizeForeignKeyConstraintError') throw error;
    return false;
  }
}

/** An upload that is being taken in without a job is not yet anybody's. */
const YOUNG_MS = 10 * 60_000;
