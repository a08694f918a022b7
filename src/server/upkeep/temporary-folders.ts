import { readdir, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { OUT_FOLDER_PREFIX } from '../board/out-zip';
import { isAlive } from '../database/orphan';
import { UPLOAD_FOLDER_PREFIX } from '../uploads/receive-files';
import { WORK_FOLDER_PREFIX } from '../work/process-pool';

const PREFIXES = [UPLOAD_FOLDER_PREFIX, OUT_FOLDER_PREFIX, WORK_FOLDER_PREFIX];

/**
 * Removes what processes left behind that were killed in the middle of an upload, a zip or an order to a worker: such a
 * folder names the process that it belongs to. @returns how many there were.
 */
export async function removeStaleFolders(folder: string = os.tmpdir()): Promise<number> {
  const names = await readdir(folder).catch(() => []);
  let count = 0;
  for (const name of names) {
    const prefix = PREFIXES.find((each) => name.startsWith(each));
    if (prefix === undefined) continue;
    const pid = Number(/^\d+/.exec(name.slice(prefix.length))?.[0]);
    if (!Number.isInteger(pid) || isAlive(pid)) continue;
    await rm(path.join(folder, name), { recursive: true, force: true }).catch(() => undefined);
    count++;
  }
  return count;
}
