import { existsSync, readFileSync } from 'node:fs';
import { readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { terminate } from './terminate';

/** Processes of a data folder that may outlive the Yarvo which started them. */
export type KeptProcess = 'database' | 'web';

/** Names a process of a data folder and the process that started it. */
const noteOf = (folder: string, kind: KeptProcess): string => path.join(folder, `${kind}-process`);

export async function rememberProcess(folder: string, pid: number, kind: KeptProcess = 'database'): Promise<void> {
  await writeFile(noteOf(folder, kind), `${pid} ${process.pid}\n`);
}

export const forgetProcess = (folder: string, kind: KeptProcess = 'database'): Promise<void> =>
  rm(noteOf(folder, kind), { force: true });

/**
 * Ends a process that outlived the Yarvo which started it (killed, or out of memory): a database holds the data
 * folder's lock, a web server its port. One whose Yarvo still runs is left alone.
 * @returns whether there was one.
 * @throws {Error} where another Yarvo works on this folder.
 */
export async function endOrphan(folder: string, kind: KeptProcess = 'database'): Promise<boolean> {
  const file = noteOf(folder, kind);
  if (!existsSync(file)) return false;
  const [pid, owner] = (await readFile(file, 'utf8')).trim().split(' ').map(Number);
  if (!(await isProcessOf(pid, folder, kind))) {
    await forgetProcess(folder, kind);
    return false;
  }
  if (owner !== process.pid && isAlive(owner))
    throw new Error(`Yarvo runs on ${folder} already (process ${owner}). End it, or name another folder with --data.`);
  await terminate(pid, () => isAlive(pid));
  await forgetProcess(folder, kind);
  return true;
}

/** Whether a process runs; one that has ended and was not collected by its parent does not. */
export function isAlive(pid: number): boolean {
  if (!Number.isInteger(pid) || pid <= 0) return false;
  try {
    // The state follows the name, which stands in brackets and may hold anything (proc(5)).
    return !/^\d+ \(.*\) Z/s.test(readFileSync(`/proc/${pid}/stat`, 'latin1'));
  } catch {
    return false;
  }
}

/** How the command line of a process names its data folder. */
export const folderArgument = (folder: string, kind: KeptProcess): string =>
  kind === 'database' ? `--datadir=${path.resolve(folder, 'mariadb')}` : `--yarvo-data=${path.resolve(folder)}`;

/** Process numbers are used again: only a process that was started on this folder counts. */
async function isProcessOf(pid: number, folder: string, kind: KeptProcess): Promise<boolean> {
  if (!isAlive(pid)) return false;
  const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
  return command.split('\0').includes(folderArgument(folder, kind));
}
