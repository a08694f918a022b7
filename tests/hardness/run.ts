import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { findFreePort } from '@/server/database/private-server';
import { runFullDisk } from './full-disk';
import { runLittleMemory } from './little-memory';
import { runSoak } from './soak';
import { YarvoProcess } from './yarvo-process';

/**
 * `npx tsx tests/hardness/run.ts [soak|full-disk|little-memory] [--minutes 10] [--characters 500] [--writers 10]
 * [--between 12] [--readers 150]`: a real Yarvo on loopback, on data of its own that goes with it; exit code 1 where anything was lost,
 * doubled or invented. The options are the soak's.
 */
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    minutes: { type: 'string', default: '10' },
    characters: { type: 'string', default: '500' },
    writers: { type: 'string', default: '10' },
    between: { type: 'string', default: '12' },
    readers: { type: 'string', default: '150' },
  },
});
const say = (text: string): void => void process.stdout.write(`${text}\n`);
/** What a killed part takes to be back, about. */
const RETURN_SECONDS = 2;

async function soak(): Promise<readonly string[]> {
  const seconds = Math.min(60, Number(values.minutes)) * 60;
  const between = Math.max(1, Number(values.between));
  const data = await mkdtemp(path.join(os.tmpdir(), 'yarvo-soak-'));
  const yarvo = new YarvoProcess(data, await findFreePort());
  try {
    const report = await runSoak(yarvo, {
      characters: Number(values.characters),
      writers: Number(values.writers),
      kills: Math.floor((seconds * 0.6) / (between + RETURN_SECONDS)),
      hasStandstills: true,
      idleReaders: Number(values.readers),
      secondsBetweenKills: between,
      quietSeconds: seconds * 0.4,
      say,
    });
    say(JSON.stringify(report, null, 2));
    if (report.complaints.length > 0) await sayErrors(path.join(data, 'logs'));
    return report.complaints;
  } finally {
    say(`asked to end, it ended with ${await yarvo.stop()}`);
    await rm(data, { recursive: true, force: true });
  }
}

const MOST_ERRORS = 20;

/** What went wrong inside, before the folder with the logs goes. */
async function sayErrors(folder: string): Promise<void> {
  const lines: string[] = [];
  for (const file of await readdir(folder)) {
    const text = await readFile(path.join(folder, file), 'utf8').catch(() => '');
    lines.push(...text.split('\n').filter((line) => line.includes('"level":50')));
  }
  say(lines.slice(0, MOST_ERRORS).join('\n'));
}

const runs = { soak, 'full-disk': () => runFullDisk(say), 'little-memory': () => runLittleMemory(say) };
const run = runs[(positionals[0] ?? 'soak') as keyof typeof runs];
if (!run) throw new Error(`there is no run "${positionals[0]}"; there are ${Object.keys(runs).join(', ')}`);
const complaints = await run();
say(complaints.length === 0 ? 'everything held' : complaints.join('\n'));
process.exitCode = complaints.length > 0 ? 1 : 0;
