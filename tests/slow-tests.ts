/** A test that was run, and how long it took. */
export interface TimedTest {
  readonly file: string;
  readonly title: string;
  readonly state: 'passed' | 'failed' | 'skipped';
  readonly seconds: number;
}

const SHOWN = 20;
/** A test that takes longer than this needs a reason; on an idle machine, and most of them on a busy one. */
const LONG_SECONDS = 20;

/** Why a test may take long, by a part of its file and title. */
const REASONS: readonly (readonly [RegExp, string])[] = [
  [/hardness\.test.*killed in turn/, 'starts the whole application, kills each part of it and waits for its return'],
  [/hardness\.test.*in the middle of it/, 'kills the web server in the middle of work and waits for the rest of it'],
  [/hardness\.test.*does not answer/, 'waits as long as a person would until it is noticed'],
  [/nobody-hangs.*first 2,000/, 'keeps two thousand files'],
  [/bench\.spec.*keyboard alone/, 'a whole character is gone through, key by key'],
  [/findings\.spec.*ten planted faults/, 'ten faults are mended one after another, as a person does'],
  [/board\.spec.*carried to many/, 'motions are carried to all characters of the demo'],
  [/bench\.spec.*axe/, 'every panel of a screen is opened and looked through'],
  [/nothing-lost\.spec.*long or strange/, 'every screen is opened with names of that kind, the stage among them'],
  [/nothing-lost/, 'kills and starts again in the middle of what it watches'],
  [/history\.test.*100 random actions/, 'a hundred actions are taken back and made again, each a call of its own'],
  [/history\.test.*read to its start/, 'writes a history of several pages, step by step'],
  [/(drill|inspect)\.test/, 'a whole command is run on whole characters'],
  [/drill\.spec/, 'motions are carried and measured before the page shows them'],
  [/posture\.spec.*graphics card/, 'draws every step of a character, by the processor'],
  [/findings\.spec/, 'faults are mended one after another, as a person does'],
  [/mouse\.spec.*mouse alone/, 'a whole character is put together with the mouse'],
];

/** The slowest tests with their seconds, and the reasons of those that take long. */
export function slowTestsText(tests: readonly TimedTest[]): string {
  const slowest = [...tests].sort((a, b) => b.seconds - a.seconds).slice(0, SHOWN);
  const lines = slowest.map(({ file, title, seconds }) => {
    const line = `${seconds.toFixed(1).padStart(6)} s  ${file}: ${title}`;
    if (seconds <= LONG_SECONDS) return line;
    const reason = REASONS.find(([pattern]) => pattern.test(`${file} ${title}`))?.[1];
    return `${line}\n          ${reason ?? 'long, and no reason is given in tests/slow-tests.ts'}`;
  });
  return ['the slowest tests', ...lines].join('\n');
}
