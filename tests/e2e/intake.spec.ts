import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { isSaved, openCharacter, openRoster, revisionOf } from './helpers';

const block = (page: import('@playwright/test').Page, name: string) => page.getByRole('region', { name, exact: true });

test("a coat's copied skeleton is folded, undone and folded again; the stage follows", async ({ page }) => {
  await openCharacter(page, 'Ferry pilot', 'Intake');
  const base = await revisionOf(page);
  await expect(page.getByText("13 bones are copies of the figure's, as clothing brings them.")).toBeVisible();
  await expect(block(page, 'File').getByText('66, 62 of them move vertices')).toBeVisible();
  await page.getByRole('button', { name: 'Fold 13 bones' }).click();
  await isSaved(page, base + 1);
  await expect(block(page, 'File').getByText(/^53, /)).toBeVisible();
  await expect(page.locator('[data-stage="ready"]')).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(block(page, 'File').getByText(/^66, /)).toBeVisible();
  await page.getByRole('button', { name: /^Redo/ }).click();
  await expect(block(page, 'File').getByText(/^53, /)).toBeVisible();
  await page.reload();
  await expect(block(page, 'Copied skeleton').getByText('13 bones folded', { exact: true })).toBeVisible();
});

test('unit and axes stand beside what was measured, and are set by hand with live effect', async ({ page }) => {
  await openCharacter(page, 'Harbour diver', 'Intake');
  const base = await revisionOf(page);
  await expect(page.getByText('The header says +Y is up, the body shows +Z.')).toBeVisible();
  await expect(page.getByText(/^1\.90 m tall, floor/)).toBeVisible();
  await page.getByLabel('Unit', { exact: true }).selectOption('0.0254');
  await isSaved(page, base + 1);
  await expect(page.getByText(/^4\.82 m tall, floor/)).toBeVisible();
  await page.getByLabel('Unit', { exact: true }).selectOption('');
  await expect(page.getByText(/^1\.90 m tall, floor/)).toBeVisible();
});

test('a prop is left out, the rest pose taken from a frame, a clip left out, each kept', async ({ page }) => {
  await openCharacter(page, 'Bell ringer', 'Intake');
  const base = await revisionOf(page);
  await page.getByLabel('Keep Laterne').click();
  await isSaved(page, base + 1);
  await expect(block(page, 'Extras').getByText(/left out: 480 vertices/)).toBeVisible();
  await page.getByLabel('Rest is the frame 0 of Raise the lantern').click();
  await isSaved(page, base + 2);
  await page.getByLabel(/^frame of/).fill('13');
  await page.getByLabel(/^frame of/).press('Enter');
  await isSaved(page, base + 3);
  await page.getByLabel('Keep the clip Raise the lantern').click();
  await isSaved(page, base + 4);
  await page.reload();
  await expect(page.getByLabel(/^frame of/)).toHaveValue('13');
  await expect(page.getByLabel('Keep Laterne')).not.toBeChecked();
  for (let step = 0; step < 4; step++) await page.getByRole('button', { name: /^Undo/ }).click();
  await isSaved(page, base + 8);
});

test('a missing texture is supplied by dropping it, and licences are set in bulk', async ({ page }) => {
  await openRoster(page);
  await page.getByLabel('Files to add').setInputFiles([
    {
      name: 'coat-only.fbx',
      mimeType: 'application/octet-stream',
      buffer: await readFile('demo/files/ferry-pilot.fbx'),
    },
  ]);
  await page.getByRole('list', { name: 'Files on their way in' }).getByRole('link', { name: 'Open' }).click();
  await page
    .getByRole('navigation', { name: 'Steps' })
    .getByRole('link', { name: /^Intake/ })
    .click();
  await expect(block(page, 'Textures').getByText('Missing', { exact: true })).toBeVisible();
  const base = await revisionOf(page);
  const png = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  );
  await page
    .getByLabel('Textures to supply')
    .setInputFiles([{ name: 'oilcloth.png', mimeType: 'image/png', buffer: png }]);
  await isSaved(page, base + 1);
  await expect(block(page, 'Textures').getByText('Supplied', { exact: true })).toBeVisible();

  await openRoster(page);
  await page.getByLabel('Choose Coat only', { exact: true }).check();
  await page.getByLabel('Choose Lantern', { exact: true }).check();
  await page.getByRole('form').getByRole('textbox', { name: 'Licence' }).fill('studio licence 12');
  await page.getByRole('button', { name: 'Set for all' }).click();
  await expect(page.getByRole('form')).toHaveCount(0);
  await page.getByRole('link', { name: 'Coat only', exact: true }).click();
  await page
    .getByRole('navigation', { name: 'Steps' })
    .getByRole('link', { name: /^Intake/ })
    .click();
  await expect(page.getByRole('textbox', { name: 'Licence' })).toHaveValue('studio licence 12');
});

test('files of one drop that share a skeleton are proposed as one character', async ({ page }) => {
  const bytes = await readFile('demo/files/net-mender.glb');
  await openRoster(page);
  const upload = (name: string) => ({ name, mimeType: 'model/gltf-binary', buffer: bytes });
  await page.getByLabel('Files to add').setInputFiles([upload('mender-near.glb'), upload('mender-far.glb')]);
  const proposal = page.getByRole('list', { name: 'Files that look like one character' });
  await expect(proposal).toContainText('stands on the bones of');
  await proposal.getByRole('button', { name: 'Join as one character' }).click();
  await expect(proposal).toHaveCount(0);
  await expect(page.getByRole('row', { name: /Mender (near|far)/ })).toHaveCount(1);
});
