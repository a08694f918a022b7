import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { expectAccessible, isListening, openCharacter, openRoster } from './helpers';

const GLB = { mimeType: 'model/gltf-binary' };
const files = (page: import('@playwright/test').Page) => page.getByLabel('Files to add');

test('lists the cast with portrait, state, doubts and blockers', async ({ page }) => {
  await openRoster(page);
  for (const name of ['Lamplighter', 'Eel seller', 'Net mender']) {
    const row = page.getByRole('row', { name: new RegExp(name) });
    await expect(row).toBeVisible();
    const figure = row.locator('svg use');
    const drawing = await page.request.get(((await figure.getAttribute('href')) ?? '').split('#')[0]);
    expect((await drawing.text()).match(/<line/g)?.length).toBeGreaterThan(20);
    await expect.poll(() => figure.evaluate((use) => (use as SVGUseElement).getBBox().height)).toBeGreaterThan(20);
  }
});

test('a GLB dropped on the page is added and can be opened', async ({ page }) => {
  const bytes = await readFile('demo/files/lamplighter.glb');
  await openRoster(page);
  await files(page).setInputFiles([{ name: 'night-watch.glb', ...GLB, buffer: bytes }]);
  const list = page.getByRole('list', { name: 'Files on their way in' });
  await list.getByRole('link', { name: 'Open' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Night watch');
});

test('bad files are refused in words, one by one, and leave nothing behind', async ({ page }) => {
  const whole = await readFile('demo/files/lamplighter.glb');
  await openRoster(page);
  const before = await page.getByRole('row').count();
  await files(page).setInputFiles([
    { name: 'empty.glb', ...GLB, buffer: Buffer.alloc(0) },
    { name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('tide tables') },
    { name: 'cut.glb', ...GLB, buffer: whole.subarray(0, 5000) },
  ]);
  await expect(page.getByRole('alert').filter({ hasText: 'empty.glb' })).toContainText('The file is empty.');
  await expect(page.getByRole('alert').filter({ hasText: 'notes.txt' })).toContainText(
    'none of the formats that are read',
  );
  await expect(page.getByRole('alert').filter({ hasText: 'cut.glb' })).toContainText('cut off');
  await page.reload();
  await isListening(page, 'roster');
  await expect(page.getByRole('row')).toHaveCount(before);
});

test('an address that leads nowhere says so and leads back', async ({ page }) => {
  await page.goto('/characters/00000000-0000-4000-8000-000000000000/match');
  await expect(page.getByText('There is nothing at this address.')).toBeVisible();
  await page.getByRole('link', { name: 'Go to the roster' }).click();
  await expect(page.getByRole('heading', { name: /Roster/ })).toBeVisible();
});

// One test a screen: axe takes seconds a page, and a slow machine should not add six of them up against one limit.
for (const screen of ['Roster', 'Match', 'Intake', 'Posture', 'Findings', 'Handoff', 'Checks', 'Studio']) {
  test(`axe finds nothing serious on ${screen}, in chalk and in slate`, async ({ page }) => {
    if (screen === 'Roster') await openRoster(page);
    else if (screen === 'Checks' || screen === 'Studio') {
      await page.goto(`/${screen.toLowerCase()}`);
      await isListening(page, screen.toLowerCase());
    } else await openCharacter(page, 'Net mender', screen);
    if (screen === 'Match') await page.keyboard.press('n');
    if (screen === 'Checks') await expect(page.getByRole('status').first()).toContainText('checked;');
    await expectAccessible(page);
    // The other look differs in its colours alone.
    await page.evaluate(() => {
      document.documentElement.dataset.theme = 'slate';
      window.dispatchEvent(new Event('yarvo-theme'));
    });
    // Colours of buttons fade over; half-way they are nobody's.
    await page.waitForFunction(() => document.getAnimations().every(({ playState }) => playState === 'finished'));
    await expectAccessible(page, ['color-contrast']);
  });
}

test('the roster is searched as one types; the address keeps what was looked for', async ({ page }) => {
  await openRoster(page);
  await page.getByRole('searchbox', { name: 'Find a character' }).fill('EEL');
  await expect(page).toHaveURL(/text=EEL/);
  await expect(page.getByRole('row')).toHaveCount(2);
  await page.reload();
  await isListening(page, 'roster');
  await expect(page.getByRole('searchbox', { name: 'Find a character' })).toHaveValue('EEL');
  await expect(page.getByRole('link', { name: 'Eel seller', exact: true })).toBeVisible();
  await page.getByRole('searchbox', { name: 'Find a character' }).fill('nobody of that name');
  await expect(page.getByText('No character matches')).toBeVisible();
  await page.getByRole('searchbox', { name: 'Find a character' }).fill('');
  await expect(page.getByRole('link', { name: 'Lamplighter', exact: true })).toBeVisible();
});
