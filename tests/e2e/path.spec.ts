import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { unzipSync } from 'fflate';
import { openCharacter, openFromRoster } from './helpers';

/** The whole path on each character, through the interface alone. */
for (const { name, sentence } of [
  { name: 'Lamplighter', sentence: /^T-pose/ },
  { name: 'Eel seller', sentence: /^A-pose, arms 4\d\.\d degrees down/ },
  { name: 'Net mender', sentence: /^A-pose, arms 2\d\.\d degrees down/ },
]) {
  test(`${name}: intake, match, posture, findings, handoff`, async ({ page }) => {
    await openFromRoster(page, name, 'Intake');
    await expect(page.getByText(/^Skinned character, GLB/)).toBeVisible();
    await expect(page.getByText('1 unit = 1 m')).toBeVisible();

    await page.getByRole('link', { name: /^Match/ }).click();
    await expect(page.getByRole('group', { name: /Line map of Quay/ })).toBeVisible();
    await expect(page.locator('[data-stage="ready"]')).toBeVisible();

    await page.getByRole('link', { name: /^Posture/ }).click();
    await expect(page.getByTestId('posture-sentence')).toHaveText(sentence);
    await page.getByRole('button', { name: 'Align all' }).click();
    await expect(page.getByTestId('posture-sentence')).toHaveText(/^T-pose/);

    await page.getByRole('link', { name: /^Findings/ }).click();
    await expect(page.getByText('blocker', { exact: true })).toHaveCount(0);

    await page.getByRole('link', { name: /^Handoff/ }).click();
    // Nobody has said who they are yet, and a pack names who answers for it.
    await expect(page.getByRole('button', { name: /Sign off and make version 1/ })).toBeDisabled();
    await page.getByLabel('Signed off by').fill('Maren Tide');
    await page.getByRole('button', { name: /Sign off and make version 1/ }).click();
    await expect(page.getByText('Version 1', { exact: true })).toBeVisible({ timeout: 60_000 });
    await expect(page.getByText(/^0 format errors/)).toBeVisible();

    const waiting = page.waitForEvent('download');
    await page.getByRole('link', { name: /-v001\.zip/ }).click();
    const download = await waiting;
    const files = unzipSync(new Uint8Array(await readFile(await download.path())));
    const folder = download.suggestedFilename().replace('-v001.zip', '');
    const manifest = JSON.parse(new TextDecoder().decode(files[`${folder}/manifest.json`])) as {
      files: { path: string; sha256: string }[];
    };
    expect(manifest.files.map((file) => file.path)).toEqual([
      `${folder}/${folder}.glb`,
      `${folder}/${folder}.crosswalk.json`,
      `${folder}/${folder}.posture.json`,
    ]);
    for (const file of manifest.files)
      expect(createHash('sha256').update(files[file.path]).digest('hex')).toBe(file.sha256);
  });
}

test('handoff of a character with a missing required role waits and says for what', async ({ page }) => {
  await openCharacter(page, 'Lamplighter');
  await page.getByRole('button', { name: /^Left hand: LeftHand/ }).click();
  await page.getByRole('button', { name: 'Clear', exact: true }).click();
  await page.getByRole('link', { name: /^Handoff/ }).click();
  await expect(page.getByText('Blocked by a blocker')).toBeVisible();
  await expect(page.getByText('Left hand has no bone.')).toBeVisible();
  await expect(page.getByRole('button', { name: /Sign off/ })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /Sign off/ })).toBeVisible();
});
