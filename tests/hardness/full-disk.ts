import { execFileSync } from 'node:child_process';
import { chmod, mkdtemp, open, readFile, rm, statfs } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { findFreePort } from '@/server/database/private-server';
import { Ledger } from './ledger';
import { YarvoProcess } from './yarvo-process';

const DISK_MEGABYTES = 700;

/**
 * A Yarvo on a small disk of its own, which is filled while changes and files come in, and cleared again. What was
 * acknowledged before must be there afterwards, the full disk must be named, and all must go on by itself.
 * Needs the right to mount; linux only.
 * @returns what did not hold.
 */
export async function runFullDisk(say: (text: string) => void): Promise<string[]> {
  const disk = await mkdtemp(path.join(os.tmpdir(), 'yarvo-full-'));
  execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MEGABYTES}m`, 'tmpfs', disk]);
  await chmod(disk, 0o755);
  const yarvo = new YarvoProcess(path.join(disk, 'data'), await findFreePort());
  const complaints: string[] = [];
  try {
    await yarvo.start();
    const ledger = new Ledger(yarvo.url);
    const lamp = await readFile(path.resolve(import.meta.dirname, '../../demo/files/lamplighter.glb'));
    for (let made = 0; made < 5; made++) await ledger.upload(`before-${made}.glb`, lamp);
    for (const [at, id] of ledger.characterIds().entries())
      await ledger.change(id, `before-${at}`, { kind: 'clear', role: 'head' });
    const filler = await fill(disk);
    say('the disk is full');
    const said = new Set<string>();
    for (let tries = 0; tries < 60 && said.size === 0; tries++) {
      const bytes = Buffer.concat([lamp, Buffer.alloc(3_000_000, tries)]);
      const { status, problem } = await ledger.problemOf(`full-${tries}.glb`, bytes);
      if (problem && /disk/.test(problem.message)) said.add(problem.message);
      say(`an upload was answered ${status} ${problem?.message ?? ''}`);
    }
    if (said.size === 0) complaints.push('the full disk was never named');
    await rm(filler);
    say('the disk was cleared');
    await yarvo.whenAnswering();
    await ledger.change(ledger.characterIds()[0], 'afterwards', { kind: 'align-posture' });
    complaints.push(...(await ledger.audit()));
  } finally {
    await yarvo.stop();
    execFileSync('umount', ['-l', disk]);
    await rm(disk, { recursive: true, force: true });
  }
  return complaints;
}

/** Writes a file that leaves no room. */
async function fill(disk: string): Promise<string> {
  const file = path.join(disk, 'filler');
  const handle = await open(file, 'w');
  const block = Buffer.alloc(1024 * 1024);
  try {
    for (let written = 0; written < DISK_MEGABYTES; written++) await handle.write(block);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
  } finally {
    await handle.close();
  }
  const { bavail, bsize } = await statfs(disk);
  if (bavail * bsize > block.length) throw new Error(`${bavail * bsize} bytes are left`);
  return file;
}
