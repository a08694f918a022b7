import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { findFreePort } from '@/server/database/private-server';
import { runSoak } from './soak';
import { YarvoProcess } from './yarvo-process';

/**
 * `npx tsx tests/hardness/run.ts [--minutes 10] [--characters 500] [--writers 10] [--between 12]`: a soak of a real
 * Yarvo on loopback, on data of its own that goes with it; exit code 1 where anything was lost, doubled or invented.
 */
const { values } = parseArgs({
  options: {
    minutes: { type: 'string', default: '10' },
    characters: { type: 'string', default: '500' },
    writers: { type: 'string', default: '10' },
    between: { type: 'string', default: '12' },
  },
});
const say = (text: string): void => void process.stdout.write(`${text}\n`);
const seconds = Math.min(60, Number(values.minutes)) * 60;
const between = Math.max(1, Number(values.between));
/** What a killed part takes to be back, about. */
const RETURN_SECONDS = 2;
const data = await mkdtemp(path.join(os.tmpdir(), 'yarvo-soak-'));
const yarvo = new YarvoProcess(data, await findFreePort());
try {
  const report = await runSoak(yarvo, {
    characters: Number(values.characters),
    writers: Number(values.writers),
    kills: Math.floor((seconds * 0.6) / (between + RETURN_SECONDS)),
    secondsBetweenKills: between,
    quietSeconds: seconds * 0.4,
    say,
  });
  say(JSON.stringify(report, null, 2));
  process.exitCode = report.complaints.length > 0 ? 1 : 0;
} finally {
  const code = await yarvo.stop();
  say(`asked to end, it ended with ${code}`);
  await rm(data, { recursive: true, force: true });
}
