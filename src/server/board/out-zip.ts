import { randomUUID } from 'node:crypto';
import { strToU8, zip, type AsyncZippable } from 'fflate';
import type { Transaction } from 'sequelize';
import { MotionManifestSchema, type MotionManifest, type WrittenOut } from '@/contract/board';
import { nameTemplate } from '@/core/text/name-template';
import { putBlob } from '../blobs/blob-store';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { nextVersions } from './out-names';

/** A file that was made, before it has a name. */
export interface OutFile {
  readonly bytes: Uint8Array;
  readonly format: string;
  readonly entry: Omit<MotionManifest['files'][number], 'path'>;
}

/** Names the files, packs them beside a list of them, and keeps the zip. @param also written together with it. */
export async function keepZip(
  { template }: { readonly template: string },
  files: readonly OutFile[],
  failed: MotionManifest['failed'],
  author: string,
  also: (made: WrittenOut, transaction: Transaction) => Promise<void>,
): Promise<WrittenOut> {
  const { path } = nameTemplate(template);
  const parts = files.map(({ entry }) => ({ character: entry.character, motion: entry.motion }));
  const versions = await nextVersions(template, parts);
  const paths = files.map(({ format }, at) => `${path(parts[at], versions[at])}.${format}`);
  const now = new Date();
  const manifest = MotionManifestSchema.parse({
    schema: 'yarvo-motions-1',
    createdAt: now.toISOString(),
    writtenBy: author,
    files: files.map(({ entry }, at) => ({ path: paths[at], ...entry })),
    failed,
  });
  const zipped = await packed(
    {
      ...Object.fromEntries(files.map(({ bytes }, at) => [paths[at], bytes])),
      'manifest.json': strToU8(`${JSON.stringify(manifest, null, 2)}\n`),
    },
    now,
  );
  const id = randomUUID();
  const fileName = `motions-${now.toISOString().slice(0, 10)}-${id.slice(0, 4)}.zip`;
  const made: WrittenOut = { id, fileName, files: files.length, failed: failed.length };
  await inTransaction(async (transaction) => {
    const blobHash = await putBlob(zipped, transaction);
    await models().MotionOut.create(
      { id, fileName, blobHash, manifest: JSON.stringify(manifest), author, createdAt: now },
      { transaction },
    );
    await also(made, transaction);
  });
  return made;
}

/** In threads of its own: the server answers meanwhile. GLBs hardly shrink, and there may be many. */
const packed = (files: AsyncZippable, mtime: Date): Promise<Uint8Array> =>
  new Promise((resolve, reject) =>
    zip(files, { level: 1, mtime }, (error, bytes) => (error ? reject(error) : resolve(bytes))),
  );
