import { randomUUID } from 'node:crypto';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import type { MotionRow } from '../database/models';

/** A motion of which nothing is chosen yet; what it is made from is for its kind to say. */
export const newRow = (author: string): Omit<MotionRow, 'name' | 'kind'> => ({
  id: randomUUID(),
  characterId: null,
  clipName: null,
  clipIndex: null,
  fitCharacterId: null,
  signature: null,
  house: null,
  blobHash: null,
  frameCount: null,
  clipRate: null,
  edits: null,
  isCopy: false,
  clipKey: null,
  framesPerSecond: null,
  travel: JSON.stringify(NO_ROOT_TRAVEL),
  contacts: null,
  createdBy: author,
  createdAt: new Date(),
  removedAt: null,
  revision: 0,
});
