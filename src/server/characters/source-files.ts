import type { Transaction } from 'sequelize';
import type { SourceFile } from '@/formats/files/companions';
import { isModel } from '@/core/intake/file-names';
import { getBlobs, putBlobOf } from '../blobs/blob-store';
import { models } from '../database/models';
import type { ArrivedFile } from '../uploads/arrived-file';
import { listUploadFiles } from '../uploads/upload-repository';

/** "given" came with the upload; "supplied" was added later for a reference that led nowhere. */
type FilePurpose = 'given' | 'supplied';

export interface SourceFileRecord {
  readonly path: string;
  readonly blobHash: string;
  readonly purpose: FilePurpose;
}

/** A file that a change of a fit is about to add: of contents that are kept already, or as it came in. */
export interface FreshFile extends SourceFileRecord {
  readonly arrived?: ArrivedFile;
}

/** Adds the files that a change names. Those that are there already stay, since earlier revisions may read them. */
export async function insertFreshFiles(
  characterId: string,
  files: readonly FreshFile[],
  author: string,
  transaction: Transaction,
): Promise<void> {
  for (const { path, purpose, blobHash, arrived } of files) {
    if (arrived) await putBlobOf(arrived, transaction);
    await models().SourceFile.findOrCreate({
      where: { characterId, path },
      defaults: { characterId, path, blobHash, purpose, createdBy: author, createdAt: new Date() },
      transaction,
    });
  }
}

/** Files of a character: those of its upload that are its own or anybody's, and those that were added since. */
export async function listSourceFiles(characterId: string): Promise<SourceFileRecord[]> {
  const [character, rows] = await Promise.all([
    models().Character.findByPk(characterId, { attributes: ['uploadId', 'mainPath'] }),
    models().SourceFile.findAll({ where: { characterId } }),
  ]);
  const uploaded = character?.uploadId ? await listUploadFiles(character.uploadId) : [];
  const own = uploaded.filter(({ path }) => path === character?.mainPath || !isModel(path));
  const files: SourceFileRecord[] = [
    ...own.map((file) => ({ ...file, purpose: 'given' as const })),
    ...rows.map(({ path, blobHash, purpose }) => ({ path, blobHash, purpose: purpose as FilePurpose })),
  ];
  return files.sort((a, b) => (a.path < b.path ? -1 : 1));
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
  const wanted = all.filter(({ path, purpose }) => purpose !== 'supplied' || supplied.includes(path));
  const contents = await getBlobs(wanted.flatMap(({ arrived, blobHash }) => (arrived ? [] : [blobHash])));
  const files: SourceFile[] = [];
  for (const { path, blobHash, purpose, arrived } of wanted) {
    const bytes = arrived ? await arrived.bytes() : contents.get(blobHash);
    if (!bytes) throw new Error(`character ${characterId} has lost ${path}`);
    files.push({ path, bytes, isSupplied: purpose === 'supplied' });
  }
  return files;
}
