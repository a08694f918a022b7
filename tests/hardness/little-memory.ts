import { mkdtemp, readFile, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { findFreePort } from '@/server/database/private-server';
import { Ledger } from './ledger';
import { YarvoProcess } from './yarvo-process';

const WORKER_MEGABYTES = 24;
const ROUNDS = 10;

/**
 * A Yarvo whose workers have too little memory for what they are given: each such file is refused in words, files that
 * fit are read in between, and the server stays the same process.
 * @returns what did not hold.
 */
export async function runLittleMemory(say: (text: string) => void): Promise<string[]> {
  const data = await mkdtemp(path.join(os.tmpdir(), 'yarvo-memory-'));
  const yarvo = new YarvoProcess(data, await findFreePort(), { YARVO_WORKER_MEMORY_MB: String(WORKER_MEGABYTES) });
  const complaints: string[] = [];
  try {
    await yarvo.start();
    const pid = await yarvo.pidOf('web');
    const ledger = new Ledger(yarvo.url);
    const file = (name: string) => readFile(path.resolve(import.meta.dirname, '../../demo/files', name));
    const [large, small] = [await file('yardstick/harbour-master.fbx'), await file('quay-walk.bvh')];
    for (let round = 0; round < ROUNDS; round++) {
      const bytes = Buffer.concat([large, Buffer.alloc(30_000_000, 10)]);
      const { problem } = await ledger.problemOf(`large-${round}.fbx`, bytes);
      say(`a file that is too large: ${problem?.code ?? 'read'}`);
      if (problem?.code !== 'too-much-memory') complaints.push(`round ${round}: ${problem?.code}`);
      await ledger.upload(`small-${round}.bvh`, small);
    }
    if ((await yarvo.pidOf('web')) !== pid) complaints.push('the web server was started anew');
    complaints.push(...(await ledger.audit()));
  } finally {
    await yarvo.stop();
    await rm(data, { recursive: true, force: true });
  }
  return complaints;
}
