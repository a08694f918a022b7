import { QueryTypes, type Transaction } from 'sequelize';
import { collectBlobs, putBlobsOf } from '../blobs/blob-store';
import { database } from '../database/connection';
import { models } from '../database/models';
import type { ArrivedFile } from './arrived-file';

/** A file of an upload that is kept. */
export interface UploadFile {
  readonly path: string;
  readonly blobHash: string;
}

/** Keeps the files of an upload under its id, each content once. */
export async function insertUpload(
  id: string,
  files: readonly ArrivedFile[],
  author: string,
  transaction: Transaction,
): Promise<void> {
  await models().Upload.create({ id, author, createdAt: new Date() }, { transaction });
  await putBlobsOf(files, transaction);
  const rows = files.map(({ path, hash }) => ({ uploadId: id, path, blobHash: hash }));
  await models().UploadFile.bulkCreate(rows, { transaction });
}

export async function listUploadFiles(uploadId: string): Promise<UploadFile[]> {
  const rows = await models().UploadFile.findAll({ where: { uploadId }, order: [['path', 'ASC']] });
  return rows.map(({ path, blobHash }) => ({ path, blobHash }));
}

/** Removes an upload, with the contents that nothing else refers to; one that a character has its files from stays. */
export async function dropUpload(id: string): Promise<void> {
  if (await destroyUnheld(id)) await collectBlobs();
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
  for (const { id } of unused) if (await destroyUnheld(id)) count++;
  return count;
}

/** A character holds the upload it came with by a foreign key, also one that is being made at this moment. */
async function destroyUnheld(id: string): Promise<boolean> {
  try {
    return (await models().Upload.destroy({ where: { id } })) > 0;
  } catch (error) {
    if ((error as Error).name !== 'SequelizeForeignKeyConstraintError') throw error;
    return false;
  }
}

/** An upload that is being taken in without a job is not yet anybody's. */
const YOUNG_MS = 10 * 60_000;
