import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { slowTestsText, type TimedTest } from './slow-tests';

/**
 * Runs the checks of a tier and adds up what passed and what failed: `./test` runs all of them, `./test fast` those that
 * need neither a database nor a browser nor minutes. What does not need the same things runs at the same time: none of
 * the parts keeps a core busy all along. Each part is printed as a whole when it is done.
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

let passed = 0;
let failed = 0;
let skipped = 0;
const timed: TimedTest[] = [];

interface Outcome {
  readonly isOk: boolean;
  readonly said: string;
}

function outcomeOf(command: string, args: readonly string[]): Promise<Outcome> {
  return new Promise((resolve) => {
    const child = spawn(command, args, { env: ENVIRONMENT, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.on('error', (error) => resolve({ isOk: false, said: `${said}${error.message}\n` }));
    child.on('close', (status) => resolve({ isOk: status === 0, said }));
  });
}

/** Runs one part and prints what it said once it is over. */
async function part(title: string, work: () => Promise<Outcome>): Promise<boolean> {
  const started = performance.now();
  process.stdout.write(`.. ${title} begins\n`);
  const { isOk, said } = await work();
  const seconds = Math.round((performance.now() - started) / 1000);
  process.stdout.write(`\n== ${title}\n${said}== ${title}: ${isOk ? 'passed' : 'failed'} in ${seconds} s\n`);
  return isOk;
}

/** A check that is one thing: it passes or fails as a whole. */
async function check(title: string, command: string, args: readonly string[]): Promise<void> {
  if (await part(title, () => outcomeOf(command, args))) passed++;
  else failed++;
}

/** A suite that counts its own tests in a JSON report; a suite that dies without one has failed. */
async function suite(
  title: string,
  work: () => Promise<Outcome>,
  report: string,
  read: (json: unknown) => readonly TimedTest[],
): Promise<void> {
  const isOk = await part(title, work);
  const tests = existsSync(report) ? read(JSON.parse(readFileSync(report, 'utf8'))) : [];
  timed.push(...tests);
  const count = (state: TimedTest['state']): number => tests.filter((test) => test.state === state).length;
  passed += count('passed');
  failed += count('failed');
  skipped += count('skipped');
  if (!isOk && count('failed') === 0) failed++;
}

const bin = (name: string) => `node_modules/.bin/${name}`;

interface VitestReport {
  readonly testResults: readonly {
    readonly name: string;
    readonly assertionResults: readonly {
      readonly title: string;
      readonly status: string;
      readonly duration?: number | null;
    }[];
  }[];
}
const readVitest = (json: unknown): TimedTest[] =>
  (json as VitestReport).testResults.flatMap(({ name, assertionResults }) =>
    assertionResults.map(({ title, status, duration }) => ({
      file: name.replace(`${process.cwd()}/`, ''),
      title,
      state: status === 'passed' ? 'passed' : status === 'failed' ? 'failed' : 'skipped',
      seconds: (duration ?? 0) / 1000,
    })),
  );

interface PlaywrightSuite {
  readonly file: string;
  readonly suites?: readonly PlaywrightSuite[];
  readonly specs: readonly {
    readonly title: string;
    readonly tests: readonly { readonly status: string; readonly results: readonly { readonly duration: number }[] }[];
  }[];
}
const readPlaywright = (json: unknown): TimedTest[] => {
  const testsOf = ({ file, suites = [], specs }: PlaywrightSuite): TimedTest[] => [
    ...specs.flatMap(({ title, tests }) =>
      tests.map(({ status, results }) => ({
        file: `tests/e2e/${file}`,
        title,
        state:
          status === 'expected'
            ? ('passed' as const)
            : status === 'skipped'
              ? ('skipped' as const)
              : ('failed' as const),
        seconds: results.reduce((sum, { duration }) => sum + duration, 0) / 1000,
      })),
    ),
    ...suites.flatMap(testsOf),
  ];
  return (json as { suites: readonly PlaywrightSuite[] }).suites.flatMap(testsOf);
};

const vitest = (title: string, args: readonly string[]): Promise<void> => {
  const report = `${RESULTS}/${title}.json`;
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  return suite(title, () => outcomeOf(bin('vitest'), ['run', ...args, ...reporters]), report, readVitest);
};

const browserTests = (): Promise<void> =>
  suite('end to end', () => outcomeOf(bin('playwright'), ['test']), `${RESULTS}/e2e.json`, readPlaywright);

/** @param built the build of the pages writes types of its own and the compiler's settings: what reads these comes after. */
async function staticChecks(built: Promise<unknown>): Promise<void> {
  await check('format', bin('prettier'), ['--check', '--log-level', 'warn', '**/*.{ts,tsx,mjs,cjs,css,json}']);
  const structure = ['--config', '.dependency-cruiser.cjs', 'src', 'demo', 'tests', 'bench'];
  await check('dependency direction', bin('depcruise'), structure);
  await check('unused code', bin('knip'), ['--no-config-hints']);
  await built;
  await check('types', bin('tsc'), ['--noEmit', '-p', 'tsconfig.json']);
  await check('lint', bin('eslint'), ['.', '--max-warnings', '0']);
}

const types = await outcomeOf(bin('next'), ['typegen']);
if (!types.isOk) {
  process.stdout.write(types.said);
  failed++;
}
if (tier === 'fast') {
  await Promise.all([staticChecks(Promise.resolve()), vitest('unit', ['--project', 'unit', '--dir', 'src'])]);
} else {
  // What the browser tests and the hardness start; should it fail, their start says why.
  const built = part('build', () => outcomeOf(bin('tsx'), ['tests/build-ahead.ts']));
  // Three things at a time: browser and database tests wait more than they work, and so does the hardness.
  await Promise.all([
    built.then(browserTests),
    vitest('integration', ['--project', 'integration'])
      .then(() => built)
      .then(() => vitest('hardness', ['--project', 'hardness'])),
    vitest('unit', ['--project', 'unit', '--maxWorkers=1']).then(() => staticChecks(built)),
  ]);
}

process.stdout.write(`\n${slowTestsText(timed)}\n`);
if (skipped > 0) process.stdout.write(`\n${skipped} skipped\n`);
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exitCode = failed === 0 && passed > 0 ? 0 : 1;
