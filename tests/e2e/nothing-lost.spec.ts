import { execFileSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { Document, NodeIO } from '@gltf-transform/core';
import { expect, test, type Page } from '@playwright/test';
import {
  expectAccessible,
  isListening,
  isSaved,
  openCharacter,
  openRoster,
  openStep,
  revisionOf,
  stop,
} from './helpers';

const GLB = { mimeType: 'model/gltf-binary' };
const files = (page: Page) => page.getByLabel('Files to add');
const archive = (page: Page) => page.getByRole('list', { name: 'Archive' });

/** Gives the roster a character of its own to do away with. */
async function addCharacter(page: Page, fileName: string): Promise<void> {
  await openRoster(page);
  await files(page).setInputFiles([{ name: fileName, ...GLB, buffer: await readFile('demo/files/lamplighter.glb') }]);
  await expect(
    page.getByRole('list', { name: 'Files on their way in' }).getByRole('link', { name: 'Open' }),
  ).toBeVisible();
  // Its row has come, so nothing moves under the next click.
  await expect(page.getByRole('row').filter({ hasText: fileName })).toBeVisible();
}

test('characters are archived together, looked at, restored, and deleted with what stands behind them', async ({
  page,
}) => {
  await addCharacter(page, 'old-watch.glb');
  await addCharacter(page, 'older-watch.glb');
  for (const name of ['Old watch', 'Older watch'])
    await page.getByRole('checkbox', { name: `Choose ${name}`, exact: true }).check();
  await page.getByRole('button', { name: 'Archive', exact: true }).click();
  await expect(page.getByRole('link', { name: 'Old watch', exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Archive (2)' }).click();
  await expect(archive(page).getByRole('listitem')).toHaveCount(2);
  await expectAccessible(page);
  await archive(page)
    .getByRole('listitem')
    .filter({ hasText: 'older-watch.glb' })
    .getByRole('button', { name: 'Restore' })
    .click();
  await expect(archive(page).getByRole('listitem')).toHaveCount(1);
  const item = archive(page).getByRole('listitem').filter({ hasText: 'old-watch.glb' });
  await item.getByRole('button', { name: 'Delete', exact: true }).click();
  const strip = page.getByRole('group', { name: 'Delete Old watch' });
  await expect(strip).toContainText(/Removes 1 file \(\d+ KB\), 1 reading and 1 fit with 1 step\./);
  await strip.getByRole('button', { name: 'Keep it' }).click();
  await item.getByRole('button', { name: 'Delete', exact: true }).click();
  await strip.getByRole('button', { name: 'Delete for good' }).click();
  await expect(archive(page)).toHaveCount(0);
  await page.getByRole('button', { name: 'Back to the roster' }).click();
  await expect(page.getByRole('link', { name: 'Older watch', exact: true })).toBeVisible();
  await page.reload();
  await isListening(page, 'roster');
  await expect(page.getByRole('link', { name: 'Old watch', exact: true })).toHaveCount(0);
});

test('an upload that is cancelled while it is read is not kept, and the roster says the same', async ({ page }) => {
  await openRoster(page);
  // The request is held back, so that there is time to cancel on any machine.
  let letGo = () => {};
  const held = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route('**/api/characters?upload=*', async (route) => {
    await held;
    await route.continue().catch(() => undefined);
  });
  await files(page).setInputFiles([
    { name: 'second-thought.glb', ...GLB, buffer: await readFile('demo/files/lamplighter.glb') },
  ]);
  const list = page.getByRole('list', { name: 'Files on their way in' });
  await list.getByRole('button', { name: 'Cancel' }).click();
  await expect(
    page.getByRole('alert').filter({ hasText: 'second-thought.glb: Cancelled; nothing was kept.' }),
  ).toBeVisible();
  letGo();
  await page.reload();
  await isListening(page, 'roster');
  await expect(page.getByRole('link', { name: 'Second thought', exact: true })).toHaveCount(0);
});

test("undo leaves another person's step alone until it is asked for by name", async ({ page, context, baseURL }) => {
  await openCharacter(page, 'Lamplighter');
  const base = await revisionOf(page);
  const id = /characters\/([^/]+)/.exec(page.url())?.[1];
  await context.addCookies([{ name: 'yarvo-who', value: 'Odo', url: baseURL ?? '' }]);
  await page.request.post(`/api/characters/${id}/fit/changes`, {
    data: { baseRevision: base, action: { kind: 'clear', role: 'head' } },
  });
  await context.addCookies([{ name: 'yarvo-who', value: 'Maren', url: baseURL ?? '' }]);
  await page.reload();
  await isListening(page, 'match');
  await expect(stop(page, 'Head')).toHaveAccessibleName(/vacant/);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('alert').filter({ hasText: 'The last step is Odo\'s: "Head cleared".' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo it all the same' }).click();
  await isSaved(page, base + 2);
  await expect(stop(page, 'Head')).not.toHaveAccessibleName(/vacant/);
});

test('a change made while the database is away waits, says so, and is kept when it is back', async ({ page }) => {
  await openCharacter(page, 'Lamplighter');
  const base = await revisionOf(page);
  let isAway = true;
  await page.route('**/fit/changes', async (route) => {
    if (!isAway) return route.continue();
    await route.fulfill({
      status: 503,
      json: {
        error: {
          code: 'database-away',
          message: 'The database does not answer at the moment.',
          place: 'database',
          remedy: 'Wait.',
        },
      },
    });
  });
  await stop(page, 'Head').click();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('button', { name: /rev\./ })).toContainText('Not saved yet, waiting for the database');
  isAway = false;
  await isSaved(page, base + 1);
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 2);
});

test('the database is killed under an open page, which says so and comes back by itself with everything', async ({
  page,
}) => {
  await openRoster(page);
  const before = await page.getByRole('row').count();
  // The real server of this run, found by its data folder.
  const [pid] = execFileSync('pgrep', ['-f', 'mariadbd.*yarvo-e2e'], { encoding: 'utf8' }).trim().split('\n');
  process.kill(Number(pid), 'SIGSTOP');
  process.kill(Number(pid), 'SIGKILL');
  await page.reload();
  await isListening(page, 'roster');
  await expect(page.getByRole('row')).toHaveCount(before);
});

test('names that are long or strange are shown without an error on any screen @drawn', async ({ page }) => {
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error') errors.push(message.text());
  });
  const odd = [
    `long_${'x'.repeat(70_000)}`,
    'cr\r\nlf\rname',
    'nul\0name',
    'lone\ud800name',
    '\u202egnitirw',
    '<script>window.ran = true</script>',
    '\ufeffmark',
    'l\u2028s',
    '&amp;&lt;',
    ' ',
  ];
  const io = new NodeIO();
  const document: Document = await io.readBinary(new Uint8Array(await readFile('demo/files/lamplighter.glb')));
  document
    .getRoot()
    .listNodes()
    .forEach((node, index) => {
      if (index % 3 === 1) node.setName(odd[index % odd.length] + (index > 30 ? index : ''));
    });
  await openRoster(page);
  await files(page).setInputFiles([
    { name: 'stra\u202enge\tna<b>me.glb', ...GLB, buffer: Buffer.from(await io.writeBinary(document)) },
  ]);
  await page.getByRole('list', { name: 'Files on their way in' }).getByRole('link', { name: 'Open' }).click();
  await isListening(page, 'match');
  for (const step of ['Intake', 'Posture', 'Findings', 'Handoff', 'Match']) {
    await openStep(page, step);
    await page.reload();
    await isListening(page, step.toLowerCase());
  }
  expect(errors).toEqual([]);
  expect(await page.evaluate(() => 'ran' in window)).toBe(false);
});

test('pages run under a policy that names their own scripts, and answers carry the id of their request', async ({
  page,
}) => {
  const answer = await page.goto('/');
  const policy = answer?.headers()['content-security-policy'] ?? '';
  const nonce = /'nonce-([^']+)'/.exec(policy)?.[1];
  expect(policy).toContain("default-src 'none'");
  expect(
    await page
      .locator('script')
      .evaluateAll((scripts, wanted) => scripts.every((script) => script.nonce === wanted), nonce),
  ).toBe(true);
  const missing = await page.request.get('/api/characters/nonsense');
  expect(missing.status()).toBe(404);
  expect(((await missing.json()) as { error: { requestId: string } }).error.requestId).toBe(
    missing.headers()['x-request-id'],
  );
  const foreign = [
    ['origin', 'http://evil.example'],
    ['sec-fetch-site', 'cross-site'],
    ['host', 'evil.example'],
  ];
  for (const [name, value] of foreign) {
    expect(
      (
        await page.request.post('/api/archive', {
          headers: { [name]: value },
          data: { characterIds: [], isArchived: true },
        })
      ).status(),
    ).toBe(403);
  }
  expect(
    (await page.request.post('/api/archive', { headers: { 'content-type': 'text/plain' }, data: '{}' })).status(),
  ).toBe(415);
});
