import { existsSync } from 'node:fs';
import { readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { terminate } from './terminate';

/** Names the database process of a data folder and the process that started it. */
const FILE = 'database-process';

export async function rememberProcess(folder: string, databasePid: number): Promise<void> {
  await writeFile(path.join(folder, FILE), `${databasePid} ${process.pid}\n`);
}

export const forgetProcess = (folder: string): Promise<void> => rm(path.join(folder, FILE), { force: true });

/**
 * Ends a database that outlived the Yarvo which started it (killed, or out of memory): it holds the data folder's lock.
 * A database whose Yarvo still runs is left alone.
 * @throws {Error} where another Yarvo works on this folder.
 */
export async function endOrphan(folder: string): Promise<void> {
  const file = path.join(folder, FILE);
  if (!existsSync(file)) return;
  const [database, owner] = (await readFile(file, 'utf8')).trim().split(' ').map(Number);
  if (!(await isDatabaseOf(database, folder))) return forgetProcess(folder);
  if (owner !== process.pid && isAlive(owner)) throw new Error(`Yarvo runs on ${folder} already (process ${owner}). End it, or name another folder with --data.`);
  await terminate(database, () => isAlive(database));
  await forgetProcess(folder);
}

function isAlive(pid: number): boolean {
  if (!Number.isInteger(pid) || pid <= 0) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** Process numbers are used again: only a process that was started on this folder counts. */
async function isDatabaseOf(pid: number, folder: string): Promise<boolean> {
  if (!isAlive(pid)) return false;
  const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
  return command.includes(`--datadir=${path.resolve(folder, 'mariadb')}`);
}
