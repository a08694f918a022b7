import { mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { isAlive } from './orphan';

/** Folders with the socket of a database, and for a moment the statements that set its password. */
const PREFIX = 'yarvo-db-';
/** Names the process that made the folder. */
const OWNER_FILE = 'owner';
/** A folder that names nobody is from before folders did, or is being made. */
const YOUNG_MS = 60_000;

/** A folder for one run of a database. Socket paths are limited to about 100 characters, so it is the system's own. */
export async function makeRunFolder(): Promise<string> {
  const folder = await mkdtemp(path.join(os.tmpdir(), PREFIX));
  await writeFile(path.join(folder, OWNER_FILE), `${process.pid}\n`);
  return folder;
}

/** Removes what databases left behind that were killed: a folder whose server and whose maker are gone is nobody's. */
export async function removeStaleRunFolders(): Promise<void> {
  const names = await readdir(os.tmpdir()).catch(() => []);
  for (const name of names.filter((candidate) => candidate.startsWith(PREFIX))) {
    const folder = path.join(os.tmpdir(), name);
    if (await isInUse(folder)) continue;
    await rm(folder, { recursive: true, force: true }).catch(() => undefined);
  }
}

async function isInUse(folder: string): Promise<boolean> {
  const pids = await Promise.all(['db.pid', OWNER_FILE].map((file) => readPid(path.join(folder, file))));
  const named = pids.filter((pid) => pid !== null);
  if (named.length > 0) return named.some(isAlive);
  const made = await stat(folder).then(
    ({ mtimeMs }) => mtimeMs,
    () => 0,
  );
  return Date.now() - made < YOUNG_MS;
}

const readPid = (file: string): Promise<number | null> =>
  readFile(file, 'utf8').then(
    (text) => Number(text.trim()),
    () => null,
  );
