import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';

/** Runs every check one after another and adds up what passed and what failed. */
const RESULTS = 'test-results';
rmSync(RESULTS, { recursive: true, force: true });
mkdirSync(RESULTS, { recursive: true });

let passed = 0;
let failed = 0;

function run(title: string, command: string, args: string[]): boolean {
  process.stdout.write(`\n== ${title}\n`);
  const started = Date.now();
  const { status } = spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } });
  process.stdout.write(`== ${title}: ${status === 0 ? 'passed' : 'failed'} in ${Math.round((Date.now() - started) / 1000)} s\n`);
  return status === 0;
}

/** A check that is one thing: it passes or fails as a whole. */
function check(title: string, command: string, args: string[]): void {
  if (run(title, command, args)) passed++;
  else failed++;
}

/** A suite that counts its own tests in a JSON report; a suite that dies without one has failed. */
function suite(title: string, command: string, args: string[], report: string, count: (json: unknown) => { passed: number; failed: number }): void {
  const isOk = run(title, command, args);
  const counts = existsSync(report) ? count(JSON.parse(readFileSync(report, 'utf8'))) : { passed: 0, failed: 0 };
  passed += counts.passed;
  failed += counts.failed;
  if (!isOk && counts.failed === 0) failed++;
}

const vitestCount = (json: unknown) => {
  const { numPassedTests, numFailedTests } = json as { numPassedTests: number; numFailedTests: number };
  return { passed: numPassedTests, failed: numFailedTests };
};
const playwrightCount = (json: unknown) => {
  const { stats } = json as { stats: { expected: number; unexpected: number; flaky: number } };
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky };
};

const bin = (name: string) => `node_modules/.bin/${name}`;
const next = spawnSync(bin('next'), ['typegen'], { stdio: 'inherit', env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } });
if (next.status !== 0) failed++;
check('types', bin('tsc'), ['--noEmit', '-p', 'tsconfig.json']);
check('lint', bin('eslint'), ['.', '--max-warnings', '0']);
check('dependency direction', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', 'src', 'demo', 'tests', 'bench']);
suite('unit', bin('vitest'), ['run', '--project', 'unit', '--reporter=default', '--reporter=json', `--outputFile.json=${RESULTS}/unit.json`], `${RESULTS}/unit.json`, vitestCount);
suite('integration', bin('vitest'), ['run', '--project', 'integration', '--reporter=default', '--reporter=json', `--outputFile.json=${RESULTS}/integration.json`], `${RESULTS}/integration.json`, vitestCount);
suite('end to end', bin('playwright'), ['test'], `${RESULTS}/e2e.json`, playwrightCount);

process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exitCode = failed === 0 && passed > 0 ? 0 : 1;
