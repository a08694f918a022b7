import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';

/**
 * Runs the checks of a tier one after another and adds up what passed and what failed: `./test` runs all of them,
 * `./test fast` those that need neither a database nor a browser nor minutes.
 */
const [tier = 'all', ...stray] = process.argv.slice(2);
if (!['all', 'fast'].includes(tier) || stray.length > 0) {
  process.stderr.write('Usage: ./test [all|fast]\n');
  process.exit(2);
}
const RESULTS = 'test-results';
rmSync(RESULTS, { recursive: true, force: true });
mkdirSync(RESULTS, { recursive: true });
// With CI set, answers on record that are missing or differ fail: a run never writes them anew.
const ENVIRONMENT = { ...process.env, CI: '1', NEXT_TELEMETRY_DISABLED: '1' };

interface Counts {
  readonly passed: number;
  readonly failed: number;
  readonly skipped: number;
}

let passed = 0;
let failed = 0;
let skipped = 0;

function run(title: string, command: string, args: string[]): boolean {
  process.stdout.write(`\n== ${title}\n`);
  const started = Date.now();
  const { status } = spawnSync(command, args, { stdio: 'inherit', env: ENVIRONMENT });
  process.stdout.write(
    `== ${title}: ${status === 0 ? 'passed' : 'failed'} in ${Math.round((Date.now() - started) / 1000)} s\n`,
  );
  return status === 0;
}

/** A check that is one thing: it passes or fails as a whole. */
interface Check {
  readonly title: string;
  readonly command: string;
  readonly args: readonly string[];
}

/** Each keeps one core busy: two at a time, what they say as a whole when they are done. */
async function checkAll(checks: readonly Check[]): Promise<void> {
  const waiting = [...checks];
  const work = async (): Promise<void> => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const { title, command, args } = next;
      const started = Date.now();
      const { status, said } = await outcomeOf(command, args);
      const verdict = status === 0 ? 'passed' : 'failed';
      process.stdout.write(
        `\n== ${title}\n${said}== ${title}: ${verdict} in ${Math.round((Date.now() - started) / 1000)} s\n`,
      );
      if (status === 0) passed++;
      else failed++;
    }
  };
  await Promise.all([work(), work()]);
}

function outcomeOf(command: string, args: readonly string[]): Promise<{ status: number | null; said: string }> {
  return new Promise((resolve) => {
    const child = spawn(command, args, { env: ENVIRONMENT, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.on('error', (error) => resolve({ status: 1, said: `${said}${error.message}\n` }));
    child.on('close', (status) => resolve({ status, said }));
  });
}

/** A suite that counts its own tests in a JSON report; a suite that dies without one has failed. */
function suite(title: string, command: string, args: string[], report: string, count: (json: unknown) => Counts): void {
  const isOk = run(title, command, args);
  const counts = existsSync(report)
    ? count(JSON.parse(readFileSync(report, 'utf8')))
    : { passed: 0, failed: 0, skipped: 0 };
  passed += counts.passed;
  failed += counts.failed;
  skipped += counts.skipped;
  if (!isOk && counts.failed === 0) failed++;
}

const vitestCount = (json: unknown): Counts => {
  const { numPassedTests, numFailedTests, numPendingTests } = json as {
    numPassedTests: number;
    numFailedTests: number;
    numPendingTests: number;
  };
  return { passed: numPassedTests, failed: numFailedTests, skipped: numPendingTests };
};
const playwrightCount = (json: unknown): Counts => {
  const { stats } = json as { stats: { expected: number; unexpected: number; flaky: number; skipped: number } };
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky, skipped: stats.skipped };
};

const bin = (name: string) => `node_modules/.bin/${name}`;
const vitest = (title: string, args: string[]) => {
  const report = `${RESULTS}/${title}.json`;
  suite(
    title,
    bin('vitest'),
    ['run', ...args, '--reporter=default', '--reporter=json', `--outputFile.json=${report}`],
    report,
    vitestCount,
  );
};

const next = spawnSync(bin('next'), ['typegen'], { stdio: 'inherit', env: ENVIRONMENT });
if (next.status !== 0) failed++;
await checkAll([
  { title: 'lint', command: bin('eslint'), args: ['.', '--max-warnings', '0'] },
  { title: 'types', command: bin('tsc'), args: ['--noEmit', '-p', 'tsconfig.json'] },
  {
    title: 'format',
    command: bin('prettier'),
    args: ['--check', '--log-level', 'warn', '**/*.{ts,tsx,mjs,cjs,css,json}'],
  },
  {
    title: 'dependency direction',
    command: bin('depcruise'),
    args: ['--config', '.dependency-cruiser.cjs', 'src', 'demo', 'tests', 'bench'],
  },
  { title: 'unused code', command: bin('knip'), args: ['--no-config-hints'] },
]);
if (tier === 'fast') vitest('unit', ['--project', 'unit', '--dir', 'src']);
else {
  // Left to itself it keeps one of two cores free.
  vitest('unit', ['--project', 'unit', '--maxWorkers=2']);
  // These keep one core busy; the other one builds what the browser tests start. Should it fail, their start says why.
  const building = outcomeOf(bin('tsx'), ['tests/build-ahead.ts']);
  vitest('integration', ['--project', 'integration']);
  await building;
  suite('end to end', bin('playwright'), ['test'], `${RESULTS}/e2e.json`, playwrightCount);
}

if (skipped > 0) process.stdout.write(`\n${skipped} skipped\n`);
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exitCode = failed === 0 && passed > 0 ? 0 : 1;
