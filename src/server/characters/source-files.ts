import type { Transaction } from 'sequelize';
import type { SourceFile } from '@/formats/files/companions';
import { getBlob, putBlob } from '../blobs/blob-store';
import { models } from '../database/models';

/** "given" came with the upload; "supplied" was added later for a reference that led nowhere. */
type FilePurpose = 'given' | 'supplied';

export interface SourceFileRecord {
  readonly path: string;
  readonly blobHash: string;
  readonly purpose: FilePurpose;
}

/** The files that a character starts with. */
export async function insertSourceFiles(
  characterId: string,
  files: readonly SourceFile[],
  author: string,
  transaction: Transaction,
): Promise<void> {
  for (const file of files) {
    const blobHash = await putBlob(file.bytes, transaction);
    await models().SourceFile.upsert(
      { characterId, path: file.path, blobHash, purpose: 'given', createdBy: author, createdAt: new Date() },
      { transaction },
    );
  }
}

/** A file that a change of a fit is about to add: of contents that are kept already, or with its bytes. */
export interface FreshFile extends SourceFileRecord {
  readonly bytes?: Uint8Array;
}

/** Adds the files that a change names. Those that are there already stay, since earlier revisions may read them. */
export async function insertFreshFiles(
  characterId: string,
  files: readonly FreshFile[],
  author: string,
  transaction: Transaction,
): Promise<void> {
  for (const { path, purpose, blobHash, bytes } of files) {
    if (bytes) await putBlob(bytes, transaction);
    await models().SourceFile.findOrCreate({
      where: { characterId, path },
      defaults: { characterId, path, blobHash, purpose, createdBy: author, createdAt: new Date() },
      transaction,
    });
  }
}

export async function listSourceFiles(characterId: string): Promise<SourceFileRecord[]> {
  const rows = await models().SourceFile.findAll({ where: { characterId }, order: [['path', 'ASC']] });
  return rows.map((row) => ({ path: row.path, blobHash: row.blobHash, purpose: row.purpose as FilePurpose }));
}

/** The files that a set of decisions reads: all that were given, and the supplied ones that it names. */
export async function loadSourceFiles(
  characterId: string,
  supplied: readonly string[],
  fresh: readonly FreshFile[] = [],
): Promise<SourceFile[]> {
  const kept: readonly FreshFile[] = await listSourceFiles(characterId);
  const known = new Set(kept.map(({ path }) => path));
  const all = [...kept, ...fresh.filter(({ path }) => !known.has(path))];
  const files: SourceFile[] = [];
  for (const { path, blobHash, purpose, bytes: given } of all) {
    if (purpose === 'supplied' && !supplied.includes(path)) continue;
    const bytes = given ?? (await getBlob(blobHash));
    if (!bytes) throw new Error(`character ${characterId} has lost ${path}`);
    files.push({ path, bytes, isSupplied: purpose === 'supplied' });
  }
  return files;
}
