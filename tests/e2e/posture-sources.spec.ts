import { readFile } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import { isSaved, openCharacter, revisionOf } from './helpers';

const sentence = (page: Page) => page.getByTestId('posture-sentence');
const openPanel = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();

test('a pose is taken from a frame of a clip after what it changes is shown, and undone', async ({ page }) => {
  await openCharacter(page, 'Lamplighter', 'Posture');
  const base = await revisionOf(page);
  await openPanel(page, 'Take a pose');
  const panel = page.getByRole('region', { name: 'Take a pose' });
  await panel.getByRole('button', { name: 'Clip', exact: true }).click();
  await panel.getByRole('slider', { name: /^Frame of/ }).fill('12');
  const changes = panel.getByRole('table', { name: 'What changes' });
  await expect(changes.getByRole('row').first()).toContainText('Left upper arm');
  await expect(changes.getByRole('row').first()).toContainText(/3\d\.\d°/);
  // The stage and its sentence show it, the fit does not have it yet.
  await expect(sentence(page)).toContainText('the arms differ');
  expect(await revisionOf(page)).toBe(base);
  await panel.getByRole('button', { name: 'Take this pose' }).click();
  await isSaved(page, base + 1);
  await page.reload();
  await expect(sentence(page)).toContainText('the arms differ');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(sentence(page)).toHaveText(/^T-pose/);
});

test('a posture is saved as a file, taken again, and refused on another tree by the names that are missing', async ({
  page,
}, info) => {
  await openCharacter(page, 'Stilt walker', 'Posture');
  const base = await revisionOf(page);
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
  const turn = page.getByRole('region', { name: 'Turn by hand' });
  await turn.getByRole('button', { name: 'Raise' }).click();
  await turn.getByLabel('Angle', { exact: true }).fill('-20');
  await turn.getByRole('button', { name: 'Set' }).click();
  await isSaved(page, base + 1);
  await expect(turn.getByLabel('Angle', { exact: true })).toHaveAttribute('placeholder', '-20.0');

  await openPanel(page, 'Take a pose');
  const panel = page.getByRole('region', { name: 'Take a pose' });
  const waiting = page.waitForEvent('download');
  await panel.getByRole('button', { name: 'Save …' }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe('stilt-walker.posture.json');
  const saved = info.outputPath('stilt-walker.posture.json');
  await download.saveAs(saved);
  expect(JSON.parse(await readFile(saved, 'utf8'))).toMatchObject({
    schema: 'yarvo-posture-1',
    character: 'Stilt walker',
  });

  await page.getByRole('button', { name: 'Reset' }).click();
  await isSaved(page, base + 2);
  await panel.getByRole('button', { name: 'Posture file' }).click();
  await panel.getByLabel('Posture file', { exact: true }).last().setInputFiles(saved);
  await expect(panel.getByRole('table', { name: 'What changes' }).getByRole('row')).toHaveCount(1);
  await panel.getByRole('button', { name: 'Take this pose' }).click();
  await isSaved(page, base + 3);
  await openPanel(page, 'Turn');
  await expect(turn.getByLabel('Angle', { exact: true })).toHaveAttribute('placeholder', '-20.0');

  await openCharacter(page, 'Net mender', 'Posture');
  const other = await revisionOf(page);
  await openPanel(page, 'Take a pose');
  await panel.getByRole('button', { name: 'Posture file' }).click();
  await panel.getByLabel('Posture file', { exact: true }).last().setInputFiles(saved);
  await expect(panel.getByRole('alert')).toContainText('Stilt walker has another tree');
  await expect(panel.getByRole('alert')).toContainText('Nothing was changed');
  await expect(panel.getByRole('button', { name: 'Take this pose' })).toHaveCount(0);
  await panel
    .getByLabel('Posture file', { exact: true })
    .last()
    .setInputFiles({ name: 'list.json', mimeType: 'application/json', buffer: Buffer.from('{"schema": 3}') });
  await expect(panel.getByRole('alert')).toContainText('list.json is no posture file');
  expect(await revisionOf(page)).toBe(other);
});

test('the arms of a heavy body are measured, an offset is kept apart from the pose, shown and undone', async ({
  page,
}) => {
  await openCharacter(page, 'Harbour diver', 'Posture');
  const base = await revisionOf(page);
  await openPanel(page, 'Soles and limbs');
  const panel = page.getByRole('region', { name: 'Soles and limbs' });
  await expect(panel).toContainText(
    /Hanging, the left forearm and hand go \d+\.\d cm into the body; held \d+ degrees away/,
  );
  const before = await sentence(page).textContent();
  await panel.getByRole('button', { name: 'Keep' }).click();
  await isSaved(page, base + 1);
  await expect(panel.getByRole('button', { name: 'Remove' })).toBeVisible();
  expect(await sentence(page).textContent()).toBe(before);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(panel.getByRole('button', { name: 'Keep' })).toBeVisible();
});

test('soles are put flat on the floor, and straight limbs get a small bend at handoff only', async ({ page }) => {
  await openCharacter(page, 'Otter stevedore', 'Posture');
  const base = await revisionOf(page);
  await page.getByRole('button', { name: 'Align all' }).click();
  await isSaved(page, base + 1);
  await openPanel(page, 'Soles and limbs');
  const panel = page.getByRole('region', { name: 'Soles and limbs' });
  await expect(panel).toContainText('measured on the mesh');
  await panel.getByRole('button', { name: 'Put both soles flat on the floor' }).click();
  await isSaved(page, base + 2);
  await expect(panel).toContainText(/Left -?0\.0 cm, right -?0\.0 cm above the floor/);
  await panel.getByRole('checkbox', { name: /small bend/ }).click();
  await isSaved(page, base + 3);
  // The pose on the screen stays straight: the bend belongs to what is written.
  await expect(sentence(page)).toHaveText(/^T-pose/);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(panel.getByRole('checkbox', { name: /small bend/ })).not.toBeChecked();
});

test('a character is fitted to a second definition, which has a reference of its own', async ({ page }) => {
  await openCharacter(page, 'Bell ringer', 'Posture');
  await expect(page.getByLabel('Fitted to')).toHaveValue('quay');
  await page.getByLabel('Fitted to').selectOption({ label: 'Quay A45 (start a fit)' });
  await expect(page).toHaveURL(/definition=quay-a45/);
  await page.getByRole('button', { name: 'Align all' }).click();
  await expect(sentence(page)).toHaveText(/^A-pose, arms 45\.0 degrees down/);
  await page.reload();
  await expect(sentence(page)).toHaveText(/^A-pose, arms 45\.0 degrees down/);
  await page.getByRole('link', { name: /^Match/ }).click();
  await expect(page.getByRole('group', { name: /Line map of Quay A45/ })).toBeVisible();
  await page.getByLabel('Fitted to').selectOption({ label: 'Quay' });
  await expect(page.getByRole('group', { name: /Line map of Quay(?! A45)/ })).toBeVisible();
  await page.getByRole('link', { name: /^Posture/ }).click();
  await expect(sentence(page)).not.toContainText('45.0 degrees');
});
