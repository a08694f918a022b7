import { models } from '../database/models';

/** What a zip of motions is kept under; null for an unknown one. */
export async function readOut(id: string): Promise<{ readonly fileName: string; readonly blobHash: string } | null> {
  const row = await models().MotionOut.findByPk(id);
  return row && { fileName: row.fileName, blobHash: row.blobHash };
}
