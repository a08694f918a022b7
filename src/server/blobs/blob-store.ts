import { createHash } from 'node:crypto';
import { QueryTypes, type Transaction } from 'sequelize';
import { database } from '../database/connection';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';

/** Rows of about a megabyte: large values are slow in both directions. */
const CHUNK_BYTES = 1024 * 1024;

/** What a file is kept under. */
export const blobHashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/**
 * Keeps a file byte for byte under the SHA-256 of its content; the same content is kept once. A second writer of the
 * same content waits here until the first one's transaction ends, and finds it kept or keeps it itself.
 * @returns the hash.
 */
export async function putBlob(bytes: Uint8Array, transaction: Transaction): Promise<string> {
  const hash = blobHashOf(bytes);
  const chunkCount = Math.max(1, Math.ceil(bytes.length / CHUNK_BYTES));
  const [, insertedCount] = await database().query(
    'INSERT IGNORE INTO blobs (hash, size_bytes, chunk_count, created_at) VALUES (:hash, :size, :chunkCount, :now)',
    {
      replacements: { hash, size: bytes.length, chunkCount, now: new Date() },
      type: QueryTypes.INSERT,
      transaction,
    },
  );
  if (insertedCount === 0) return hash;
  for (let sequence = 0; sequence < chunkCount; sequence++) {
    const content = Buffer.from(bytes.subarray(sequence * CHUNK_BYTES, (sequence + 1) * CHUNK_BYTES));
    await models().BlobChunk.create({ hash, sequence, content }, { transaction });
  }
  return hash;
}

/** The bytes of a blob, or null for an unknown hash. */
export async function getBlob(hash: string): Promise<Uint8Array | null> {
  const { Blob, BlobChunk } = models();
  const blob = await Blob.findByPk(hash);
  if (!blob) return null;
  const out = new Uint8Array(Number(blob.sizeBytes));
  for (let sequence = 0, at = 0; sequence < blob.chunkCount; sequence++) {
    const chunk = await BlobChunk.findOne({ where: { hash, sequence } });
    if (!chunk) throw new Error(`blob ${hash} has lost chunk ${sequence}`);
    out.set(chunk.content, at);
    at += chunk.content.length;
  }
  return out;
}

/**
 * Removes contents that nothing refers to any more. What is referred to is protected by the database's own foreign
 * keys, also against a writer that refers to it at this moment.
 * @returns how many, and their bytes.
 */
export async function collectBlobs(): Promise<{ readonly count: number; readonly bytes: number }> {
  const unused = await database().query<{ hash: string; bytes: number }>(
    `SELECT hash, size_bytes AS bytes FROM blobs
     WHERE NOT EXISTS (SELECT 1 FROM characters WHERE characters.blob_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM source_files WHERE source_files.blob_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM readings WHERE readings.glb_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM readings WHERE readings.geometry_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM readings WHERE readings.tracks_hash = blobs.hash)
       AND NOT EXISTS (SELECT 1 FROM handoffs WHERE handoffs.blob_hash = blobs.hash)`,
    { type: QueryTypes.SELECT },
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
