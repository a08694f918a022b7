import { expect, test } from '@playwright/test';
import { isSaved, openCharacter, revisionOf } from './helpers';

test('segments are turned by hand: a held key is one change, what is shown is saved, undo takes it back', async ({
  page,
}) => {
  await openCharacter(page, 'Stilt walker', 'Posture');
  const base = await revisionOf(page);
  const sentence = page.getByTestId('posture-sentence');
  await page.getByRole('button', { name: 'Align all' }).click();
  await isSaved(page, base + 1);
  await expect(sentence).toContainText('T-pose');
  await expect(page.getByText('Pick a role or a bone to turn it by hand.')).toBeVisible();
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Turn by hand' });
  await panel.getByRole('button', { name: 'Raise' }).click();
  await panel.getByLabel('both sides').check();
  await expect(panel).toContainText('2 bones');

  // Three steps of 5 degrees while the key is down, and nothing is saved until it is let go.
  for (let step = 0; step < 3; step++) await page.keyboard.down('ArrowLeft');
  await expect(panel).toContainText('−15°');
  expect(await revisionOf(page)).toBe(base + 1);
  await page.keyboard.up('ArrowLeft');
  await isSaved(page, base + 2);
  await expect(sentence).toContainText('arms 15.0 degrees down');
  await page.reload();
  await expect(sentence).toContainText('arms 15.0 degrees down');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(sentence).toContainText('T-pose');

  // A value of one's own on one side, then mirrored by a key.
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
  await panel.getByRole('button', { name: 'Raise' }).click();
  await panel.getByLabel("Degrees of one's own").fill('-32.5');
  await panel.getByRole('button', { name: 'Turn', exact: true }).click();
  await expect(sentence).toContainText('the arms differ');
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).focus();
  await page.keyboard.press('m');
  await expect(sentence).toContainText('arms 32.5 degrees down');
  await page.getByRole('button', { name: 'Reset' }).click();
});

test('all fingers of a hand curl at once', async ({ page }) => {
  await openCharacter(page, 'Stilt walker', 'Posture');
  await page.getByRole('button', { name: 'Align all' }).click();
  await page.getByRole('button', { name: 'Left index 1', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Turn by hand' });
  await panel.getByLabel('What goes along').selectOption('all fingers of the hand');
  await panel.getByLabel('Degrees of a step').selectOption('10°');
  await panel.getByRole('button', { name: 'Turn by 10 degrees' }).click();
  // Each segment bends by the step, so the last of three stands off by three steps.
  const row = (role: string) =>
    page.getByRole('row').filter({ has: page.getByRole('button', { name: role, exact: true }) });
  await expect(row('Left ring 1')).toContainText('10.0°');
  await expect(row('Left ring 3')).toContainText('30.0°');
  await expect(row('Right ring 3')).toContainText('0.0°');
  await page.getByRole('button', { name: 'Reset' }).click();
});
