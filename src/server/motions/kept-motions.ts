import type { Motion } from '@/core/motion/motion';
import { decodeMotion } from '@/core/motion/motion-file';
import { getBlob } from '../blobs/blob-store';

/** Decoded ones stay at hand: the shelf names length and rate of each. */
const known = new Map<string, Motion>();
const MOST_KNOWN = 8;

/** A kept motion by the hash of its file; null for one that is not there. */
export async function keptMotion(hash: string): Promise<Motion | null> {
  const there = known.get(hash);
  if (there) return there;
  const bytes = await getBlob(hash);
  if (!bytes) return null;
  const motion = decodeMotion(bytes, 'kept motion');
  known.set(hash, motion);
  for (const old of known.keys()) if (known.size > MOST_KNOWN && old !== hash) known.delete(old);
  return motion;
}
