import type { Transaction } from 'sequelize';
import { getBlob, putBlob } from '../blobs/blob-store';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { runCompanions } from '../work/pool';
import { findReading, type ReadingName } from './readings';

export type BlockKind = 'geometry' | 'tracks';

/** Hash of a reading's geometry or motion; made now where the reading was kept without. Null for an unknown reading. */
export async function blockHash(name: ReadingName, kind: BlockKind): Promise<string | null> {
  const row = await findReading(name);
  if (!row) return null;
  const known = kind === 'geometry' ? row.geometryHash : row.tracksHash;
  if (known) return known;
  const canonical = await getBlob(row.glbHash);
  if (!canonical) throw new Error(`character ${name.characterId} has lost its canonical file`);
  const { geometry, tracks } = await runCompanions(canonical, 'canonical file');
  const hashes = await inTransaction((transaction) => keepBlocks(name, geometry, tracks, transaction));
  return kind === 'geometry' ? hashes.geometryHash : hashes.tracksHash;
}

async function keepBlocks(
  name: ReadingName,
  geometry: Uint8Array,
  tracks: Uint8Array,
  transaction: Transaction,
): Promise<{ geometryHash: string; tracksHash: string }> {
  const geometryHash = await putBlob(geometry, transaction);
  const tracksHash = await putBlob(tracks, transaction);
  await models().Reading.update({ geometryHash, tracksHash }, { where: { ...name }, transaction });
  return { geometryHash, tracksHash };
}
