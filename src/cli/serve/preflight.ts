import { existsSync, realpathSync } from 'node:fs';
import { mkdir, readdir, rm, statfs, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import path from 'node:path';
import { endOrphan } from '@/server/database/orphan';
import { tryLock, type Lock } from './lock';
import type { ServeOptions } from './options';
import { sentenceOf, StartError } from './start-error';

/** Stands in a folder that Yarvo made, so that --fresh never empties another one. */
const MARKER = 'yarvo-data';
const MEGABYTE = 1024 * 1024;
/** What a new database takes, and what an old one needs to start. */
const ROOM = { fresh: 400 * MEGABYTE, kept: 64 * MEGABYTE } as const;

/**
 * Everything that can be known before anything is set up: nobody else works on the folder, the port is free, the disk
 * can be written and has room. What a killed Yarvo left running is ended on the way.
 * @param say is told what was cleaned up.
 * @returns the lock on the data folder and the port; it must be held as long as Yarvo runs.
 * @throws {StartError}
 */
export async function prepareFolder(options: ServeOptions, say: (text: string) => void): Promise<Lock> {
  const { data } = options;
  const lock = await tryLock('data', realPathOf(data));
  if (!lock) throw new StartError(`Yarvo runs on ${data} already. End it, or name another folder with --data.`);
  // The port itself is opened last, after minutes perhaps: until then two starts would both find it free.
  const portLock = await tryLock('port', String(options.port));
  try {
    if (!portLock) throw new StartError(portInUse(options.port));
    await assertOurs(options);
    if (await endOrphan(data, 'web')) say('ended a web server that a killed Yarvo had left running');
    if (await endOrphan(data, 'database')) say('ended a database that a killed Yarvo had left running');
    await assertPortFree(options);
    await assertRoom(data, options.isFresh);
    if (options.isFresh) await rm(data, { recursive: true, force: true });
    await assertWritable(data);
    return {
      release: () => {
        lock.release();
        portLock.release();
      },
    };
  } catch (error) {
    lock.release();
    portLock?.release();
    throw error instanceof StartError ? error : new StartError(sentenceOf(error));
  }
}

/** Links on the way to a folder that may not be there yet are followed: two names of one folder are one folder. */
function realPathOf(folder: string): string {
  if (existsSync(folder)) return realpathSync(folder);
  const parent = path.dirname(folder);
  return parent === folder ? folder : path.join(realPathOf(parent), path.basename(folder));
}

async function assertOurs({ data, isFresh }: ServeOptions): Promise<void> {
  if (!isFresh || !existsSync(data)) return;
  const isOurs = existsSync(path.join(data, MARKER)) || (await readdir(data)).length === 0;
  if (!isOurs)
    throw new StartError(
      `--fresh: ${data} was not made by Yarvo, so it is left alone. Remove it by hand or name another folder.`,
    );
}

const portInUse = (port: number): string =>
  `Port ${port} is in use by another program. End it, or name another port with --port.`;

function assertPortFree({ port, host }: ServeOptions): Promise<void> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error: NodeJS.ErrnoException) => {
      const why: Record<string, string> = {
        EADDRINUSE: portInUse(port),
        EACCES: `Port ${port} needs more rights than you have. Name another one with --port.`,
        EADDRNOTAVAIL: `${host} is not an address of this machine. Name another one with --host.`,
        ENOTFOUND: `${host} is not a name that this machine knows. Name another one with --host.`,
      };
      reject(new StartError(why[error.code ?? ''] ?? `Port ${port} cannot be opened: ${error.message}.`));
    });
    probe.listen(port, host, () => probe.close(() => resolve()));
  });
}

async function assertRoom(data: string, isFresh: boolean): Promise<void> {
  let at = data;
  while (!existsSync(at)) at = path.dirname(at);
  const { bavail, bsize } = await statfs(at);
  const wanted = existsSync(path.join(data, 'mariadb')) && !isFresh ? ROOM.kept : ROOM.fresh;
  const free = bavail * bsize;
  if (free >= wanted) return;
  const megabytes = (bytes: number) => Math.floor(bytes / MEGABYTE);
  throw new StartError(
    `The disk with ${data} has ${megabytes(free)} MB left and Yarvo needs ${megabytes(wanted)} MB. Make room on it, or name another folder with --data.`,
  );
}

async function assertWritable(data: string): Promise<void> {
  await mkdir(data, { recursive: true }).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'EEXIST' || error.code === 'ENOTDIR')
      throw new StartError(`${data} is not a folder. Name another one with --data.`);
    throw error;
  });
  await writeFile(path.join(data, MARKER), 'Yarvo keeps its database here.\n');
}
