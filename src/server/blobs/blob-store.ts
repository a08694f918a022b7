import { createHash } from 'node:crypto';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import { database } from '../database/connection';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';

/** Rows of about a megabyte: large values are slow in both directions. */
const CHUNK_BYTES = 1024 * 1024;

/** Contents never change once they are at hand, and several parts ask what the same ones are kept under. */
const hashes = new WeakMap<Uint8Array, string>();

/** What a file is kept under. */
export function blobHashOf(bytes: Uint8Array): string {
  const known = hashes.get(bytes);
  if (known) return known;
  const hash = createHash('sha256').update(bytes).digest('hex');
  hashes.set(bytes, hash);
  return hash;
}

/** Says the SHA-256 of contents that somebody has worked out already. */
export const knowHash = (bytes: Uint8Array, hash: string): Uint8Array => {
  hashes.set(bytes, hash);
  return bytes;
};

/** Contents that are about to be kept, read as often as a transaction is tried. */
export interface BlobSource {
  /** SHA-256 of the whole, hexadecimal. */
  readonly hash: string;
  readonly size: number;
  /** From the start, in pieces of any size. */
  readonly read: () => AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}

export const blobSourceOf = (bytes: Uint8Array): BlobSource => ({
  hash: blobHashOf(bytes),
  size: bytes.length,
  read: () => [bytes],
});

/** Keeps a file that is at hand. @returns its hash. */
export const putBlob = (bytes: Uint8Array, transaction: Transaction): Promise<string> =>
  putBlobOf(blobSourceOf(bytes), transaction);

/**
 * Keeps a file byte for byte under the SHA-256 of its content; the same content is kept once. A second writer of the
 * same content waits here until the first one's transaction ends, and finds it kept or keeps it itself.
 * @returns the hash.
 */
export async function putBlobOf({ hash, size, read }: BlobSource, transaction: Transaction): Promise<string> {
  const chunkCount = Math.max(1, Math.ceil(size / CHUNK_BYTES));
  const [, insertedCount] = await database().query(
    'INSERT IGNORE INTO blobs (hash, size_bytes, chunk_count, created_at) VALUES (:hash, :size, :chunkCount, :now)',
    { replacements: { hash, size, chunkCount, now: new Date() }, type: QueryTypes.INSERT, transaction },
  );
  if (insertedCount === 0) return hash;
  let sequence = 0;
  for await (const content of inChunks(read()))
    await models().BlobChunk.create({ hash, sequence: sequence++, content }, { transaction });
  if (sequence !== chunkCount) throw new Error(`blob ${hash} came in ${sequence} chunks instead of ${chunkCount}`);
  return hash;
}

/** What is kept by one statement: as many small contents as this, of so many bytes. */
const BATCH = { contents: 100, bytes: 4 * CHUNK_BYTES } as const;

/** Keeps many files as `putBlobOf` does each; small ones some hundred at a time. */
export async function putBlobsOf(sources: readonly BlobSource[], transaction: Transaction): Promise<void> {
  // In one order for all: two writers of the same contents wait for each other and never in a ring.
  const inOrder = [...new Map(sources.map((source) => [source.hash, source])).values()].sort((a, b) =>
    a.hash < b.hash ? -1 : 1,
  );
  let batch: BlobSource[] = [];
  let bytes = 0;
  const flush = async (): Promise<void> => {
    const createdAt = new Date();
    const rows = batch.map(({ hash, size }) => ({ hash, sizeBytes: size, chunkCount: 1, createdAt }));
    const chunks = await Promise.all(
      batch.map(async ({ hash, read }) => ({ hash, sequence: 0, content: await whole(read()) })),
    );
    [batch, bytes] = [[], 0];
    if (rows.length === 0) return;
    await models().Blob.bulkCreate(rows, { ignoreDuplicates: true, transaction });
    await models().BlobChunk.bulkCreate(chunks, { ignoreDuplicates: true, transaction });
  };
  for (const source of inOrder) {
    if (source.size > CHUNK_BYTES) {
      await flush();
      await putBlobOf(source, transaction);
      continue;
    }
    if (batch.length === BATCH.contents || bytes + source.size > BATCH.bytes) await flush();
    batch.push(source);
    bytes += source.size;
  }
  await flush();
}

async function whole(pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  for await (const piece of pieces) parts.push(piece);
  return Buffer.concat(parts);
}

/** Pieces of any size as chunks of the store's own; one empty chunk where there is nothing. */
async function* inChunks(pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>): AsyncGenerator<Buffer> {
  let chunk = Buffer.allocUnsafe(CHUNK_BYTES);
  let filled = 0;
  let isFirst = true;
  for await (const piece of pieces) {
    for (let at = 0; at < piece.length;) {
      const count = Math.min(CHUNK_BYTES - filled, piece.length - at);
      chunk.set(piece.subarray(at, at + count), filled);
      [filled, at] = [filled + count, at + count];
      if (filled < CHUNK_BYTES) continue;
      yield chunk;
      [chunk, filled, isFirst] = [Buffer.allocUnsafe(CHUNK_BYTES), 0, false];
    }
  }
  if (filled > 0 || isFirst) yield chunk.subarray(0, filled);
}

/** Chunks that are read by one query: about 8 MB. */
const RANGE_CHUNKS = 8;

/** The bytes of a blob in order, one query for each range of chunks. */
async function* readRanges(hash: string, chunkCount: number): AsyncGenerator<Uint8Array> {
  for (let from = 0; from < chunkCount; from += RANGE_CHUNKS) {
    const rows = await models().BlobChunk.findAll({
      where: { hash, sequence: { [Op.between]: [from, from + RANGE_CHUNKS - 1] } },
      order: [['sequence', 'ASC']],
    });
    if (rows.length !== Math.min(RANGE_CHUNKS, chunkCount - from)) throw new Error(`blob ${hash} has lost chunks`);
    for (const { content } of rows) yield content;
  }
}

/** The bytes of a blob, or null for an unknown hash. */
export async function getBlob(hash: string): Promise<Uint8Array | null> {
  const blob = await models().Blob.findByPk(hash);
  if (!blob) return null;
  const out = new Uint8Array(Number(blob.sizeBytes));
  let at = 0;
  for await (const content of readRanges(hash, blob.chunkCount)) {
    out.set(content, at);
    at += content.length;
  }
  return knowHash(out, hash);
}

/** The bytes of many blobs by their hash, some hundred small ones by one query. Unknown hashes are left out. */
export async function getBlobs(hashes: readonly string[]): Promise<Map<string, Uint8Array>> {
  const found = new Map<string, Uint8Array>();
  const wanted = [...new Set(hashes)];
  for (let from = 0; from < wanted.length; from += BATCH.contents) {
    const batch = wanted.slice(from, from + BATCH.contents);
    const rows = await database().query<{ hash: string; bytes: number; content: Buffer | null }>(
      `SELECT b.hash, b.size_bytes AS bytes, c.content FROM blobs b
       LEFT JOIN blob_chunks c ON c.hash = b.hash AND c.sequence = 0 AND b.size_bytes <= :small
       WHERE b.hash IN (:batch)`,
      { replacements: { batch, small: SMALL_BYTES }, type: QueryTypes.SELECT },
    );
    for (const { hash, bytes, content } of rows) {
      if (content && content.length === Number(bytes)) found.set(hash, knowHash(new Uint8Array(content), hash));
      else {
        const large = await getBlob(hash);
        if (large) found.set(hash, large);
      }
    }
  }
  return found;
}

/** Contents up to this come along with others in one answer. */
const SMALL_BYTES = 64 * 1024;

/** A blob as a stream, which holds a few chunks at a time; null for an unknown hash. */
export async function streamBlob(hash: string): Promise<{ size: number; body: ReadableStream<Uint8Array> } | null> {
  const blob = await models().Blob.findByPk(hash);
  if (!blob) return null;
  const chunks = readRanges(hash, blob.chunkCount);
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { done, value } = await chunks.next();
      if (done) controller.close();
      else controller.enqueue(new Uint8Array(value));
    },
    async cancel() {
      await chunks.return(undefined);
    },
  });
  return { size: Number(blob.sizeBytes), body };
}

/** Contents that one statement is asked about. */
const COLLECTED_AT_ONCE = 500;

/** The same for some contents: what something that was removed referred to. */
export async function collectBlobsOf(hashes: readonly string[]): Promise<void> {
  const wanted = [...new Set(hashes)];
  for (let from = 0; from < wanted.length; from += COLLECTED_AT_ONCE)
    await collect(wanted.slice(from, from + COLLECTED_AT_ONCE));
}

/**
 * Removes contents that nothing refers to any more. What is referred to is protected by the database's own foreign
 * keys, also against a writer that refers to it at this moment.
 * @returns how many, and their bytes.
 */
export const collectBlobs = (): Promise<{ readonly count: number; readonly bytes: number }> => collect(null);

async function collect(hashes: readonly string[] | null): Promise<{ readonly count: number; readonly bytes: number }> {
  const unused = await database().query<{ hash: string; bytes: number }>(
    `SELECT hash, size_bytes AS bytes FROM blobs
     WHERE NOT EXISTS (SELECT 1 FROM characters WHERE characters.blob_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM source_files WHERE source_files.blob_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM motions WHERE motions.blob_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM motion_outs WHERE motion_outs.blob_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM upload_files WHERE upload_files.blob_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM readings WHERE readings.glb_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM readings WHERE readings.geometry_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM readings WHERE readings.tracks_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM handoffs WHERE handoffs.blob_hash = blobs.hash)
       ${hashes ? 'AND blobs.hash IN (:hashes)' : ''}`,
    { replacements: { hashes }, type: QueryTypes.SELECT },
  );
  let [count, bytes] = [0, 0];
  for (const blob of unused) {
    try {
      await inTransaction((transaction) => models().Blob.destroy({ where: { hash: blob.hash }, transaction }));
      count++;
      bytes += Number(blob.bytes);
    } catch (error) {
      if ((error as Error).name !== 'SequelizeForeignKeyConstraintError') throw error;
    }
  }
  return { count, bytes };
}
