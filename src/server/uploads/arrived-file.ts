import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { isZip } from '@/formats/source/source-format';
import { blobSourceOf, type BlobSource } from '../blobs/blob-store';

/** A file that came in, on disk or at hand, and is not kept yet. */
export interface ArrivedFile extends BlobSource {
  /** As the sender calls it. */
  readonly path: string;
  readonly isZip: boolean;
  /** The whole of it, for work that needs it before it is kept. */
  readonly bytes: () => Promise<Uint8Array>;
}

export const fileAtHand = (path: string, bytes: Uint8Array): ArrivedFile => ({
  ...blobSourceOf(bytes),
  path,
  isZip: isZip(bytes),
  bytes: () => Promise.resolve(bytes),
});

/** @param start its first bytes. */
export const fileOnDisk = (
  path: string,
  place: string,
  { hash, size, start }: { hash: string; size: number; start: Uint8Array },
): ArrivedFile => ({
  path,
  hash,
  size,
  isZip: isZip(start),
  read: () => createReadStream(place, { highWaterMark: 1024 * 1024 }),
  // Not copied: for 250 MB that alone would hold everybody up.
  bytes: async () => {
    const { buffer, byteOffset, byteLength } = await readFile(place);
    return new Uint8Array(buffer, byteOffset, byteLength);
  },
});
