import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { buildWorkers } from '@/server/work/build-workers';
import { waitForLock } from './lock';
import { StartError } from './start-error';

export interface Built {
  /** Folder with the bundled entries of the workers and of the web server. */
  readonly entries: string;
}

/**
 * Builds the pages, the workers and the web server when a source file changed since the last time. Two starts from one
 * checkout follow each other here.
 * @throws {StartError}
 */
export async function buildIfChanged(root: string, say: (text: string) => void): Promise<Built> {
  const entries = path.join(root, '.cache/entries');
  const lock = await waitForLock('build', root, () => say('another start is building; waiting for it ...'));
  try {
    const stamp = path.join(root, '.cache/build-stamp');
    const now = await hashSources(root);
    const known = existsSync(stamp) ? await readFile(stamp, 'utf8') : '';
    const isThere = existsSync(path.join(root, '.next/BUILD_ID')) && existsSync(path.join(entries, 'web.mjs'));
    if (known === now && isThere) return { entries };
    say('building ...');
    await buildWorkers(root, entries);
    await buildPages(root, say);
    await mkdir(path.dirname(stamp), { recursive: true });
    await writeFile(stamp, now);
    return { entries };
  } finally {
    lock.release();
  }
}

function buildPages(root: string, say: (text: string) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    const next = path.join(root, 'node_modules/next/dist/bin/next');
    const build = spawn(process.execPath, [next, 'build'], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'inherit'],
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    });
    // A start that is told to end in the middle of it takes the build with it.
    const end = () => void build.kill('SIGKILL');
    process.once('exit', end);
    let said = '';
    build.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString();
    });
    build.once('error', reject);
    build.once('close', (code) => {
      process.off('exit', end);
      if (code === 0) return resolve();
      say(said);
      reject(new StartError('The pages could not be built; what is wrong stands above.'));
    });
  });
}

async function hashSources(root: string): Promise<string> {
  const hash = createHash('sha256');
  const found = await readdir(path.join(root, 'src'), { recursive: true, withFileTypes: true });
  const sources = found.filter((entry) => entry.isFile()).map((entry) => path.join(entry.parentPath, entry.name));
  const others = ['package-lock.json', 'next.config.ts'].map((name) => path.join(root, name));
  for (const file of [...sources, ...others].sort()) {
    hash.update(path.relative(root, file));
    hash.update(await readFile(file));
  }
  return hash.digest('hex');
}
