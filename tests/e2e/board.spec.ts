import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { unzipSync } from 'fflate';
import { expectAccessible, isListening, openRoster } from './helpers';

test('motions are carried to many at once, cells fill in and open the Drill, and the zip holds what was asked for', async ({
  page,
}) => {
  await openRoster(page);
  await page.getByRole('link', { name: 'Board' }).click();
  await isListening(page, 'board');
  for (const name of ['Lamplighter', 'Eel seller', 'Crouch', 'Idle'])
    await page.getByRole('checkbox', { name: `Choose ${name}`, exact: true }).click();
  await expect(page.getByRole('link', { name: 'Lamplighter, Crouch: not yet' })).toBeVisible();
  await page.getByRole('button', { name: 'Carry over 2 × 2' }).click();
  await expect(page.getByText('done: 4 of 4')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('link', { name: /^Lamplighter, Crouch: carried, \d+ frames at 60/ })).toBeVisible();
  await expect(page.getByRole('link', { name: /^Eel seller, Idle: carried/ })).toBeVisible();
  await expectAccessible(page);

  await page.getByRole('button', { name: /^Write out/ }).click();
  const form = page.getByRole('form', { name: 'Write out' });
  await form.getByRole('checkbox', { name: 'BVH' }).click();
  await form.getByRole('textbox', { name: 'Names' }).fill('{character}');
  await form.getByRole('button', { name: 'Write 2 × 2' }).click();
  await expect(page.getByText(/the same name/)).toBeVisible();
  await form.getByRole('textbox', { name: 'Names' }).fill('{character}/TL_{motion}-v{version}');
  await form.getByRole('button', { name: 'Write 2 × 2' }).click();
  const link = page.getByRole('link', { name: /^motions-.*\.zip$/ });
  await expect(link).toBeVisible({ timeout: 60_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  const files = unzipSync(new Uint8Array(readFileSync(await download.path())));
  const names = Object.keys(files).filter((name) => !name.endsWith('.json'));
  expect(names).toHaveLength(8);
  expect(names.filter((name) => /^eel-seller\/TL_crouch-v\d{3}\.(glb|bvh)$/.test(name))).toHaveLength(2);

  await page.getByRole('link', { name: /^Lamplighter, Crouch: carried/ }).click();
  await isListening(page, 'drill');
  await expect(page).toHaveURL(/motion=house-crouch/);
  await expect(page.getByRole('region', { name: 'House motion' })).toContainText('Crouch');
});

test('a job on the board is cancelled, and what was done by then stays', async ({ page }) => {
  await page.goto('/board');
  await isListening(page, 'board');
  await page.getByRole('button', { name: /^Carry over/ }).click();
  const work = page.getByRole('list', { name: 'Work on the board' }).getByRole('listitem').first();
  await work.getByRole('button', { name: 'Cancel' }).click();
  await expect(work).toContainText('cancelled; what was done by then is kept', { timeout: 30_000 });
  await work.getByRole('button', { name: 'Close' }).click();
});
