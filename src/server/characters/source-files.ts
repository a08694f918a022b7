import type { Transaction } from 'sequelize';
import type { SourceFile } from '@/formats/source/companions';
import { getBlob, putBlob } from '../blobs/blob-store';
import { models } from '../database/models';

/** "given" came with the upload; "supplied" was added later for a reference that led nowhere. */
export type FilePurpose = 'given' | 'supplied';

export interface SourceFileRecord {
  readonly path: string;
  readonly blobHash: string;
  readonly purpose: FilePurpose;
}

/** The files that a character starts with. */
export async function insertSourceFiles(characterId: string, files: readonly SourceFile[], author: string, transaction: Transaction): Promise<void> {
  for (const file of files) {
    const blobHash = await putBlob(file.bytes, transaction);
    await models().SourceFile.upsert({ characterId, path: file.path, blobHash, purpose: 'given', createdBy: author, createdAt: new Date() }, { transaction });
  }
}

/**
 * Adds files that a change of a fit names, and makes the change. Where it is refused, the files that were new go again;
 * those that were there already stay, since earlier revisions may read them.
 */
export async function changeWithFiles<Result extends { readonly ok: boolean }>(characterId: string, files: readonly SourceFileRecord[], author: string, change: () => Promise<Result>): Promise<Result> {
  const { SourceFile } = models();
  const known = new Set((await listSourceFiles(characterId)).map((file) => file.path));
  const fresh = files.filter((file) => !known.has(file.path));
  await SourceFile.bulkCreate(fresh.map((file) => ({ characterId, ...file, createdBy: author, createdAt: new Date() })));
  const withdraw = () => SourceFile.destroy({ where: { characterId, path: fresh.map((file) => file.path) } });
  try {
    const result = await change();
    if (!result.ok) await withdraw();
    return result;
  } catch (error) {
    await withdraw();
    throw error;
  }
}

export async function listSourceFiles(characterId: string): Promise<SourceFileRecord[]> {
  const rows = await models().SourceFile.findAll({ where: { characterId }, order: [['path', 'ASC']] });
  return rows.map((row) => ({ path: row.path, blobHash: row.blobHash, purpose: row.purpose as FilePurpose }));
}

/** The files that a set of decisions reads: all that were given, and the supplied ones that it names. */
export async function loadSourceFiles(characterId: string, supplied: readonly string[]): Promise<SourceFile[]> {
  const files: SourceFile[] = [];
  for (const { path, blobHash, purpose } of await listSourceFiles(characterId)) {
    if (purpose === 'supplied' && !supplied.includes(path)) continue;
    const bytes = await getBlob(blobHash);
    if (!bytes) throw new Error(`character ${characterId} has lost ${path}`);
    files.push({ path, bytes, isSupplied: purpose === 'supplied' });
  }
  return files;
}
