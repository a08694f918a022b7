import { randomUUID } from 'node:crypto';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Manifest } from '@/pipeline/write';
import type { HandoffView, LeftPack } from '@/contract/character-view';
import { collectBlobs } from '../blobs/blob-store';
import { database } from '../database/connection';
import { models } from '../database/models';

export interface NewHandoff {
  readonly characterId: string;
  /** Kept beside the pack, which may outlive its character. */
  readonly characterName: string;
  readonly version: number;
  readonly fileName: string;
  readonly blobHash: string;
  readonly manifest: Manifest;
  readonly author: string;
  readonly at: Date;
}

export async function insertHandoff(handoff: NewHandoff, transaction: Transaction): Promise<void> {
  const { at, manifest, ...plain } = handoff;
  await models().Handoff.create(
    { id: randomUUID(), ...plain, manifest: JSON.stringify(manifest), createdAt: at },
    { transaction },
  );
}

/** Newest first, each with the parts of its manifest that a page shows: findings stand in the pack. One statement. */
export async function listHandoffs(characterId: string): Promise<HandoffView[]> {
  const rows = await database().query<Omit<HandoffView, 'at' | 'manifest'> & { createdAt: Date; manifest: string }>(
    `SELECT h.version, h.file_name AS fileName, h.author, h.created_at AS createdAt, b.size_bytes AS sizeBytes,
       CAST(JSON_REMOVE(h.manifest, '$.findings', '$.waived') AS CHAR) AS manifest
     FROM handoffs h JOIN blobs b ON b.hash = h.blob_hash
     WHERE h.character_id = :characterId ORDER BY h.version DESC`,
    { replacements: { characterId }, type: QueryTypes.SELECT },
  );
  return rows.map(({ createdAt, sizeBytes, manifest, ...row }) => ({
    ...row,
    at: new Date(createdAt).toISOString(),
    sizeBytes: Number(sizeBytes),
    manifest: JSON.parse(manifest) as Omit<Manifest, 'findings' | 'waived'>,
  }));
}

export interface HandoffRecord {
  readonly fileName: string;
  readonly blobHash: string;
  readonly author: string;
}

export async function findHandoff(
  characterId: string,
  version: number,
  transaction?: Transaction,
): Promise<HandoffRecord | null> {
  const row = await models().Handoff.findOne({ where: { characterId, version }, transaction });
  return row ? { fileName: row.fileName, blobHash: row.blobHash, author: row.author } : null;
}

export async function nextVersion(characterId: string, transaction?: Transaction): Promise<number> {
  return (Number(await models().Handoff.max('version', { where: { characterId }, transaction })) || 0) + 1;
}

/** Packs that outlived their characters, newest first. */
export async function listLeftPacks(): Promise<LeftPack[]> {
  const rows = await database().query<Omit<LeftPack, 'at'> & { createdAt: Date }>(
    `SELECT character_id AS characterId, character_name AS characterName, version, file_name AS fileName, author,
       created_at AS createdAt
     FROM handoffs WHERE character_id NOT IN (SELECT id FROM characters) ORDER BY created_at DESC`,
    { type: QueryTypes.SELECT },
  );
  return rows.map(({ createdAt, ...pack }) => ({ ...pack, at: new Date(createdAt).toISOString() }));
}

/**
 * Deletes a pack that outlived its character. Packs of characters that are there stay: a version that was handed off
 * is never taken back. @returns whether there was one.
 */
export async function deleteLeftPack(characterId: string, version: number): Promise<boolean> {
  const isLeft = (await models().Character.count({ where: { id: characterId } })) === 0;
  const count = isLeft ? await models().Handoff.destroy({ where: { characterId, version } }) : 0;
  if (count > 0) await collectBlobs();
  return count > 0;
}
