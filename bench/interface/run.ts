import { parseArgs } from 'node:util';
import { chromium, type CDPSession, type Page } from '@playwright/test';
import { bigGlb } from './big-glb';
import { median } from '../median';
import { mainThreadTasks, type Task, type TraceEvent } from './tasks';

/**
 * `npx tsx bench/interface/run.ts [--url http://127.0.0.1:4380] [--bones 2000]`: main-thread work of the Match screen on
 * a big rig, from the browser's own trace, beside the same on a small one. Needs a running Yarvo, to which it gives the
 * two characters.
 */
const { values } = parseArgs({
  options: { url: { type: 'string', default: 'http://127.0.0.1:4380' }, bones: { type: 'string', default: '2000' } },
});
const REPEATS = 12;
/** What a frame leaves for work at 60 a second. */
const FRAME_MS = 16;

/** Tasks on the page's main thread while something is done. */
async function tasksOf(page: Page, session: CDPSession, work: () => Promise<void>, restMs = 250): Promise<Task[]> {
  const events: TraceEvent[] = [];
  const collect = ({ value }: { value: object[] }) => {
    events.push(...(value as TraceEvent[]));
  };
  session.on('Tracing.dataCollected', collect);
  await session.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: {
      includedCategories: ['toplevel', 'devtools.timeline', 'disabled-by-default-devtools.timeline', '__metadata'],
    },
  });
  await work();
  await page.waitForTimeout(restMs);
  const done = new Promise<void>((resolve) => session.once('Tracing.tracingComplete', () => resolve()));
  await session.send('Tracing.end');
  await done;
  session.off('Tracing.dataCollected', collect);
  return mainThreadTasks(events);
}

const twoFrames = (page: Page): Promise<void> =>
  page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        requestAnimationFrame(() => requestAnimationFrame(() => resolve()));
      }),
  );
const sum = (tasks: readonly Task[]): number => tasks.reduce((total, task) => total + task.whole, 0);
async function measure(page: Page, name: string, bones: number): Promise<void> {
  const form = new FormData();
  form.append('file', new File([(await bigGlb(bones)) as BlobPart], `${name}.glb`), `${name}.glb`);
  const answer = (await (await fetch(`${values.url}/api/characters`, { method: 'POST', body: form })).json()) as {
    characters: { id: string }[];
  };
  await page.goto(`${values.url}/characters/${answer.characters[0].id}/match`);
  await page.waitForSelector('body[data-listening="match"]');
  await page.waitForSelector('[data-stage="ready"]');
  await page.waitForTimeout(1500);
  const session = await page.context().newCDPSession(page);
  const rows = page.getByRole('listbox', { name: 'Bone tree' }).getByRole('option');
  const shown: number[] = [];
  const selections: number[] = [];
  for (let at = 0; at < REPEATS; at++) {
    const box = await rows.nth(2 + (at % 8)).boundingBox();
    if (!box) continue;
    await page.mouse.move(box.x + 60, box.y + 12);
    await page.waitForTimeout(150);
    const select = async () => {
      await page.mouse.down();
      await page.mouse.up();
    };
    // Once as far as it shows, two frames on, and once to the end, when the address has followed.
    shown.push(
      sum(
        await tasksOf(
          page,
          session,
          async () => {
            await select();
            await twoFrames(page);
          },
          0,
        ),
      ),
    );
    await page.waitForTimeout(400);
    const next = await rows.nth(3 + (at % 8)).boundingBox();
    if (next) await page.mouse.move(next.x + 60, next.y + 12);
    await page.waitForTimeout(150);
    selections.push(sum(await tasksOf(page, session, select)));
    await page.waitForTimeout(300);
  }
  const list = await page.getByRole('listbox', { name: 'Bone tree' }).boundingBox();
  if (list) await page.mouse.move(list.x + 50, list.y + 200);
  const scroll = await tasksOf(page, session, async () => {
    for (let step = 0; step < 30; step++) {
      await page.mouse.wheel(0, 240);
      await page.waitForTimeout(30);
    }
  });
  const over = (part: (task: Task) => number) =>
    `${Math.max(...scroll.map(part)).toFixed(1)} | ${scroll.filter((task) => part(task) > FRAME_MS).length}`;
  process.stdout.write(
    `| ${bones} bones | ${median(shown).toFixed(1)} | ${median(selections).toFixed(1)} | ${Math.max(...selections).toFixed(1)} | ${over((task) => task.own)} | ${over((task) => task.whole)} of ${scroll.length} |\n`,
  );
}

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
process.stdout.write(
  '| rig | a selection until it shows, ms of main-thread work, median | to the end, median | most | ledger scroll: longest own script of a task, ms | over 16 ms | longest task with style, paint and garbage, ms | over 16 ms |\n|---|---|---|---|---|---|---|---|\n',
);
await measure(page, 'small', 86);
await measure(page, 'big', Number(values.bones));
await browser.close();
