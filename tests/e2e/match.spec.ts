import { expect, test } from '@playwright/test';
import { isListening, isSaved, ledgerRow, openCharacter, revisionOf, stop } from './helpers';

test('a bone is put into a role by role then bone, undone, redone, and all of it survives a reload', async ({
  page,
}) => {
  await openCharacter(page, 'Eel seller');
  const before = await revisionOf(page);
  await stop(page, 'Left forearm').click();
  await expect(page.getByText('Or pick another bone')).toBeVisible();
  await page.getByRole('searchbox', { name: 'Find a bone' }).fill('bend.l');
  await ledgerRow(page, 'bf_bend.l').click();
  await isSaved(page, before + 1);
  await expect(stop(page, 'Left forearm')).toHaveAccessibleName(/bf_bend\.l, (settled|clash)/);

  await page.reload();
  await isListening(page, 'match');
  await expect(stop(page, 'Left forearm')).toHaveAccessibleName(/bf_bend\.l/);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(stop(page, 'Left forearm')).toHaveAccessibleName(/bf_fore\.l, proposed/);
  await page.reload();
  await isListening(page, 'match');
  await expect(stop(page, 'Left forearm')).toHaveAccessibleName(/bf_fore\.l, proposed/);
  await page.getByRole('button', { name: /^Redo/ }).click();
  await expect(stop(page, 'Left forearm')).toHaveAccessibleName(/bf_bend\.l/);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await isSaved(page, before + 4);
});

test('a click on the stage picks the joint under the pointer, in map, ledger and address alike', async ({ page }) => {
  await openCharacter(page, 'Lamplighter');
  await expect(page.locator('[data-stage="ready"]')).toBeVisible();
  await stop(page, 'Head').click();
  const stage = page.locator('[data-stage]');
  const box = await stage.boundingBox();
  if (!box) throw new Error('no stage');
  // The pointer walks down the middle of the figure until a joint answers.
  await page.keyboard.press('Escape');
  const pressed = page.locator('[data-role][aria-pressed="true"]');
  let found = '';
  for (let y = box.y + 20; y < box.y + box.height - 20 && !found; y += 3) {
    await page.mouse.click(box.x + box.width / 2, y);
    if ((await pressed.count()) > 0) found = (await pressed.first().getAttribute('data-role')) ?? '';
  }
  expect(['head', 'neck', 'upperChest', 'chest', 'spine', 'hips']).toContain(found);
  await expect(page.getByRole('listbox', { name: 'Bone tree' }).getByRole('option', { selected: true })).toBeVisible();
  await expect(page).toHaveURL(new RegExp(`role=${found}`));
});

test('arrow keys walk the ledger from the selected bone, say where they are, and Enter selects', async ({ page }) => {
  await openCharacter(page, 'Lamplighter');
  // A stop that is clicked would wait for its bone; a bone in the ledger is only selected.
  await ledgerRow(page, 'Head').click();
  await expect(page.locator('[data-role="head"]')).toHaveAttribute('aria-pressed', 'true');
  const ledger = page.getByRole('listbox', { name: 'Bone tree' });
  await page.mouse.move(640, 30);
  await ledger.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowUp');
  const named = page.locator(`#${await ledger.getAttribute('aria-activedescendant')}`);
  await expect(named).toContainText('LeftShoulder');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-role="leftShoulder"]')).toHaveAttribute('aria-pressed', 'true');
  await expect(page).toHaveURL(/role=leftShoulder/);
  await page.reload();
  await expect(page.locator('[data-role="leftShoulder"]')).toHaveAttribute('aria-pressed', 'true');
});

test('roles are gone through and settled with the keyboard alone', async ({ page }) => {
  await openCharacter(page, 'Net mender');
  const strip = page.getByRole('region', { name: 'Details' });
  const base = await revisionOf(page);
  await page.keyboard.press('n');
  await expect(strip.getByRole('button', { name: 'Accept' })).toBeVisible();
  const first = await strip.getByRole('heading').innerText();
  await page.keyboard.press('a');
  await expect(strip.getByText('settled')).toBeVisible();
  await isSaved(page, base + 1);
  await page.keyboard.press('n');
  await expect(strip.getByRole('heading')).not.toHaveText(first);
  await expect(stop(page, first)).toHaveAccessibleName(/settled/);
});

test('two people: the later change is answered with a conflict and the newer fit, nothing is overwritten', async ({
  browser,
}) => {
  const [maren, odo] = await Promise.all([browser.newContext(), browser.newContext()]);
  const [first, second] = await Promise.all([maren.newPage(), odo.newPage()]);
  await openCharacter(first, 'Eel seller');
  await openCharacter(second, 'Eel seller');
  const base = await revisionOf(first);
  await stop(first, 'Jaw').click();
  await first.getByRole('button', { name: 'Clear', exact: true }).click();
  await isSaved(first, base + 1);
  await stop(second, 'Neck').click();
  await second.getByRole('button', { name: 'Clear', exact: true }).click();
  await expect(second.getByRole('alert').filter({ hasText: 'revision' })).toContainText(
    `at revision ${base + 1} by now`,
  );
  await expect(second.getByText(/^Meanwhile: Jaw cleared \(you\)/)).toBeVisible();
  await expect(stop(second, 'Jaw')).toHaveAccessibleName(/vacant/);
  await expect(stop(second, 'Neck')).toHaveAccessibleName(/bf_neck/);
  // The refused change was kept: one press makes it on the newer fit, and neither change is lost.
  await second.getByRole('button', { name: 'Reapply my change' }).click();
  await isSaved(second, base + 2);
  await expect(stop(second, 'Neck')).toHaveAccessibleName(/vacant/);
  await expect(stop(second, 'Jaw')).toHaveAccessibleName(/vacant/);
  await second.getByRole('button', { name: /^Undo/ }).click();
  await isSaved(second, base + 3);
  await first.reload();
  await isListening(first, 'match');
  await first.getByRole('button', { name: /^Undo/ }).click();
  await isSaved(first, base + 4);
  await Promise.all([maren.close(), odo.close()]);
});

test('a change made while the server is away waits, is said, and arrives', async ({ page }) => {
  await openCharacter(page, 'Eel seller');
  const base = await revisionOf(page);
  await page.route('**/fit/**', (route) => route.abort());
  await stop(page, 'Jaw').click();
  await page.getByRole('button', { name: 'Clear', exact: true }).click();
  await expect(page.getByText('not saved yet, retrying')).toBeVisible();
  await page.unroute('**/fit/**');
  await isSaved(page, base + 1);
  await expect(stop(page, 'Jaw')).toHaveAccessibleName(/vacant/);
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 2);
});

test('a bone is dragged onto a stop, a stop onto another one, a spare gets its role, a line is cleared, a side mirrored', async ({
  page,
}) => {
  await openCharacter(page, 'Clockwork deckhand');
  const base = await revisionOf(page);
  await ledgerRow(page, 'wind_up_handle').dragTo(stop(page, 'Jaw'));
  await isSaved(page, base + 1);
  await expect(stop(page, 'Jaw')).toHaveAccessibleName(/wind_up_handle, (settled|clash)/);

  const from = await stop(page, 'Left hand').boundingBox();
  const to = await stop(page, 'Left foot').boundingBox();
  if (!from || !to) throw new Error('no stops');
  // The bars stand in the lower half of their stops' boxes on the left arm, above which the captions are.
  await page.mouse.move(from.x + from.width / 2, from.y + from.height - 8);
  await page.mouse.down();
  await page.mouse.move(to.x + to.width / 2, to.y + to.height - 8, { steps: 8 });
  await page.mouse.up();
  await isSaved(page, base + 2);
  await expect(stop(page, 'Left foot')).toHaveAccessibleName(/port_arm_3/);
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(/port_leg_3/);
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 3);
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 4);

  await ledgerRow(page, 'wind_up_handle').click();
  await page.getByLabel('Give it a role').selectOption('jaw');
  await isSaved(page, base + 5);
  await stop(page, 'Left forearm').click();
  await expect(page.getByRole('region', { name: 'Details' }).getByRole('heading')).toHaveText('Left forearm');
  await page.getByLabel('More actions').selectOption('line');
  await isSaved(page, base + 6);
  await expect(stop(page, 'Left forearm')).toHaveAccessibleName(/vacant/);
  await page.getByLabel('More actions').selectOption('right');
  await isSaved(page, base + 7);
  await expect(stop(page, 'Left forearm')).toHaveAccessibleName(/port_arm_2, settled/);
  for (let step = 0; step < 3; step++) await page.keyboard.press('Control+z');
  await isSaved(page, base + 10);
});
