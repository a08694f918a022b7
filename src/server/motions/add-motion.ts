import type { HouseChoice, MotionView } from '@/contract/motions';
import { checkHouse } from '@/core/house/house-set';
import { decodeMotion } from '@/core/motion/motion-file';
import { putBlob } from '../blobs/blob-store';
import { models, type MotionRow } from '../database/models';
import { inTransaction } from '../database/transaction';
import { findMotionRow, motionView } from './motion-repository';
import { newRow } from './new-row';

/** Puts a house motion with settings of its own on the shelf. @throws {YarvoError} `no-motion`, `bad-setting` */
export async function shelveHouse(house: HouseChoice, name: string, author: string): Promise<MotionView> {
  checkHouse(house);
  const row: MotionRow = { ...newRow(author), kind: 'house', name, house: JSON.stringify(house) };
  await models().Motion.create(row);
  return viewOf(row.id);
}

/** Keeps a motion file on the shelf. @throws {YarvoError} `bad-motion-file` */
export async function keepMotion(bytes: Uint8Array, name: string, author: string): Promise<MotionView> {
  decodeMotion(bytes, name);
  const row: MotionRow = { ...newRow(author), kind: 'kept', name };
  await inTransaction(async (transaction) => {
    const blobHash = await putBlob(bytes, transaction);
    await models().Motion.create({ ...row, blobHash }, { transaction });
  });
  return viewOf(row.id);
}

/** Another motion of the same source with the same choices, which can be edited for itself; null for an unknown one. */
export async function copyMotion(id: string, author: string): Promise<MotionView | null> {
  const row = await findMotionRow(id);
  if (!row) return null;
  const copy: MotionRow = {
    ...row,
    ...{ id: newRow(author).id, createdBy: author, createdAt: new Date(), removedAt: null, revision: 0 },
    isCopy: true,
    name: `${row.name.slice(0, 190)}, copy`,
  };
  await models().Motion.create(copy);
  return viewOf(copy.id);
}

async function viewOf(id: string): Promise<MotionView> {
  const row = await findMotionRow(id);
  const view = row && (await motionView(row));
  if (!view) throw new Error(`a motion was written and is not there: ${id}`);
  return view;
}
