import { createHash } from 'node:crypto';
import type { Transaction } from 'sequelize';
import { models } from '../database/models';

/** Rows of about a megabyte: large values are slow in both directions. */
const CHUNK_BYTES = 1024 * 1024;

/** What a file is kept under. */
export const blobHashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Keeps a file byte for byte under the SHA-256 of its content; the same content is kept once. @returns the hash. */
export async function putBlob(bytes: Uint8Array, transaction: Transaction): Promise<string> {
  const { Blob, BlobChunk } = models();
  const hash = blobHashOf(bytes);
  if (await Blob.findByPk(hash, { transaction })) return hash;
  const chunkCount = Math.max(1, Math.ceil(bytes.length / CHUNK_BYTES));
  await Blob.create({ hash, sizeBytes: bytes.length, chunkCount, createdAt: new Date() }, { transaction });
  for (let sequence = 0; sequence < chunkCount; sequence++) {
    const content = Buffer.from(bytes.subarray(sequence * CHUNK_BYTES, (sequence + 1) * CHUNK_BYTES));
    await BlobChunk.create({ hash, sequence, content }, { transaction });
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
