import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Transaction } from 'sequelize';
import { ZipFile } from 'yazl';
import { MotionManifestSchema, type MotionManifest, type WrittenOut } from '@/contract/board';
import { nameTemplate } from '@/core/text/name-template';
import { putBlobOf, type BlobSource } from '../blobs/blob-store';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { nextVersions } from './out-names';

/** Folders in which zips are put together; named after the process that they belong to. */
export const OUT_FOLDER_PREFIX = 'yarvo-out-';

/** A file that was made, before it has a name. */
export interface OutFile {
  /** Where it lies meanwhile. */
  readonly place: string;
  readonly format: string;
  readonly entry: Omit<MotionManifest['files'][number], 'path'>;
}

/** A folder for files on their way into a zip: all together they may be larger than memory. */
export class OutFolder {
  private count = 0;

  private constructor(private readonly folder: string) {}

  static async make(): Promise<OutFolder> {
    return new OutFolder(await mkdtemp(path.join(os.tmpdir(), `${OUT_FOLDER_PREFIX}${process.pid}-`)));
  }

  async put(bytes: Uint8Array): Promise<string> {
    const place = path.join(this.folder, String(this.count++));
    await writeFile(place, bytes, { mode: 0o600 });
    return place;
  }

  /** Packs files under their paths; piece by piece, on threads of the runtime's own. */
  async zip(
    files: readonly { readonly place: string; readonly path: string }[],
    text: string,
    at: Date,
  ): Promise<BlobSource> {
    const place = path.join(this.folder, 'zip');
    const zip = new ZipFile();
    // GLBs hardly shrink, and there may be many.
    for (const file of files) zip.addFile(file.place, file.path, { mtime: at, compressionLevel: 1 });
    zip.addBuffer(Buffer.from(text), 'manifest.json', { mtime: at });
    zip.end();
    const hash = createHash('sha256');
    let size = 0;
    const watch = new Transform({
      transform: (chunk: Buffer, _, done) => {
        size += chunk.length;
        hash.update(chunk);
        done(null, chunk);
      },
    });
    const failed = new Promise<never>((_, reject) => zip.on('error', reject));
    await Promise.race([pipeline(zip.outputStream, watch, createWriteStream(place, { mode: 0o600 })), failed]);
    return { hash: hash.digest('hex'), size, read: () => createReadStream(place, { highWaterMark: 1024 * 1024 }) };
  }

  remove(): Promise<void> {
    return rm(this.folder, { recursive: true, force: true });
  }
}

/** Names the files, packs them beside a list of them, and keeps the zip. @param also written together with it. */
export async function keepZip(
  { template }: { readonly template: string },
  folder: OutFolder,
  files: readonly OutFile[],
  failed: MotionManifest['failed'],
  author: string,
  also: (made: WrittenOut, transaction: Transaction) => Promise<void>,
): Promise<WrittenOut> {
  const { path: pathOf } = nameTemplate(template);
  const parts = files.map(({ entry }) => ({ character: entry.character, motion: entry.motion }));
  const versions = await nextVersions(template, parts);
  const paths = files.map(({ format }, at) => `${pathOf(parts[at], versions[at])}.${format}`);
  const now = new Date();
  const manifest = MotionManifestSchema.parse({
    schema: 'yarvo-motions-1',
    createdAt: now.toISOString(),
    writtenBy: author,
    files: files.map(({ entry }, at) => ({ path: paths[at], ...entry })),
    failed,
  });
  const zipped = await folder.zip(
    files.map(({ place }, at) => ({ place, path: paths[at] })),
    `${JSON.stringify(manifest, null, 2)}\n`,
    now,
  );
  const id = randomUUID();
  const fileName = `motions-${now.toISOString().slice(0, 10)}-${id.slice(0, 4)}.zip`;
  const made: WrittenOut = { id, fileName, files: files.length, failed: failed.length };
  await inTransaction(async (transaction) => {
    const blobHash = await putBlobOf(zipped, transaction);
    await models().MotionOut.create(
      { id, fileName, blobHash, manifest: JSON.stringify(manifest), author, createdAt: now },
      { transaction },
    );
    await also(made, transaction);
  });
  return made;
}
