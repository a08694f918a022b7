import type { HouseChoice, MotionView } from '@/contract/motions';
import { checkHouse } from '@/core/house/house-set';
import { putBlobOf } from '../blobs/blob-store';
import { madeOnce } from '../calls/made-once';
import { models, type MotionRow } from '../database/models';
import type { ArrivedFile } from '../uploads/arrived-file';
import { runInspectMotion } from '../work/pool';
import { findMotionRow, motionView } from './motion-repository';
import { newRow } from './new-row';

/** Who asks for a motion, and under which name the call is known. */
export interface Making {
  readonly author: string;
  readonly callId: string | null;
}

/** Puts a house motion with settings of its own on the shelf. @throws {YarvoError} `no-motion`, `bad-setting` */
export async function shelveHouse(house: HouseChoice, name: string, { author, callId }: Making): Promise<MotionView> {
  checkHouse(house);
  const id = await madeOnce(callId, async (transaction) => {
    const row: MotionRow = { ...newRow(author), kind: 'house', name, house: JSON.stringify(house) };
    await models().Motion.create(row, { transaction });
    return row.id;
  });
  return viewOf(id);
}

/** Keeps a motion file on the shelf; it is decoded in a worker. @throws {YarvoError} `bad-motion-file` */
export async function keepMotion(
  file: ArrivedFile,
  name: string,
  { author, callId }: Making,
  signal?: AbortSignal,
): Promise<MotionView> {
  const { frameCount, framesPerSecond } = await runInspectMotion(await file.bytes(), name, signal);
  const id = await madeOnce(callId, async (transaction) => {
    const blobHash = await putBlobOf(file, transaction);
    const facts = { blobHash, frameCount, clipRate: framesPerSecond };
    const row: MotionRow = { ...newRow(author), kind: 'kept', name, ...facts };
    await models().Motion.create(row, { transaction });
    return row.id;
  });
  return viewOf(id);
}

/** Another motion of the same source with the same choices, which can be edited for itself; null for an unknown one. */
export async function copyMotion(id: string, { author, callId }: Making): Promise<MotionView | null> {
  const copyId = await madeOnce(callId, async (transaction) => {
    const row = await findMotionRow(id, transaction);
    if (!row) return null;
    const copy: MotionRow = {
      ...row,
      ...{ id: newRow(author).id, createdBy: author, createdAt: new Date(), removedAt: null, revision: 0 },
      isCopy: true,
      clipKey: null,
      name: `${row.name.slice(0, 190)}, copy`,
    };
    await models().Motion.create(copy, { transaction });
    return copy.id;
  });
  return copyId === null ? null : viewOf(copyId);
}

async function viewOf(id: string): Promise<MotionView> {
  const row = await findMotionRow(id);
  const view = row && (await motionView(row));
  if (!view) throw new Error(`a motion was written and is not there: ${id}`);
  return view;
}
