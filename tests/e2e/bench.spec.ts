import { expect, test, type Page } from '@playwright/test';
import { QUAY } from '@/core/definition/quay';
import {
  assignedBones,
  CAST_NAMES,
  expectAccessible,
  isListening,
  isSaved,
  ledgerRow,
  openCharacter,
  openStageMenu,
  openStep,
  revisionOf,
  stop,
  truthOf,
} from './helpers';

const labels = new Map(QUAY.roles.map(({ id, label }) => [label, id]));
const run = (page: Page) => page.getByRole('region', { name: 'Review' });
const candidate = (page: Page) => run(page).getByRole('option', { selected: true });
const roleInRun = async (page: Page) => labels.get(await run(page).getByRole('heading').innerText()) as string;

/** Says on Intake how the names mark the sides; the block that shows it. */
async function setSideMarks(page: Page, left: string, right: string) {
  const block = page.getByRole('region', { name: 'Left and right' });
  await block.getByLabel('Mark for left').fill(left);
  await block.getByLabel('Mark for right').fill(right);
  await block.getByRole('button', { name: 'Use these marks' }).click();
  return block;
}

/** Goes through a run with the keyboard as a person who knows the figure would; counts the keys. */
async function walk(page: Page, truth: ReadonlyMap<string, string>): Promise<number> {
  let keys = 0;
  const press = async (key: string) => {
    keys++;
    await page.keyboard.press(key);
  };
  await press('Shift+R');
  while (await run(page).isVisible()) {
    const role = await roleInRun(page);
    const wanted = truth.get(role);
    const before = keys;
    const list = await run(page)
      .getByRole('option')
      .evaluateAll((options) => options.map((option) => option.querySelector('span')?.textContent ?? ''));
    const at = wanted === undefined ? -1 : list.indexOf(wanted);
    if (wanted === undefined) await press('v');
    else if (at >= 0) {
      for (let step = 0; step < at; step++) await press('ArrowDown');
      await press('Enter');
    } else {
      await press('/');
      await page.keyboard.type(wanted);
      keys += wanted.length;
      await press('Enter');
    }
    if (at === 0) expect(keys - before, role).toBe(1);
    await expect(async () =>
      expect(!(await run(page).isVisible()) || (await roleInRun(page)) !== role).toBe(true),
    ).toPass();
  }
  return keys;
}

/** Walked in every run; `YARVO_WALK_ALL=1` walks the whole cast. The net mender's names say nothing. */
const WALKED = [
  'net-mender',
  'ferry-pilot',
  ...(process.env.YARVO_WALK_ALL ? CAST_NAMES.filter((name) => name !== 'net-mender' && name !== 'ferry-pilot') : []),
];

for (const file of WALKED)
  test(`${file} is gone through by keyboard alone: under 80 keys, and as its truth table says`, async ({ page }) => {
    await openCharacter(page, (file[0].toUpperCase() + file.slice(1)).replace('-', ' '));
    const truth = truthOf(file);
    const base = await revisionOf(page);
    const keys = await walk(page, truth);
    expect(keys).toBeLessThan(80);
    process.stdout.write(`${file}: ${keys} keys\n`);
    await expect(page.getByRole('button', { name: /^Saved/ })).toBeVisible();
    const roles = QUAY.roles.map(({ id }) => id).filter((id) => truth.has(id));
    await expect(async () =>
      expect(await assignedBones(page)).toEqual(new Map(roles.map((role) => [role, truth.get(role) as string]))),
    ).toPass();
    const done = await revisionOf(page);
    expect(done - base).toBeLessThanOrEqual(roles.length + 2);
    for (const id of roles.slice(0, 6))
      await expect(stop(page, QUAY.roles.find((role) => role.id === id)?.label ?? '')).toHaveAccessibleName(/settled/);
    // Any point of the history can be brought back, and that again undone.
    await page.getByRole('button', { name: /^Saved/ }).click();
    await page.getByRole('button', { name: `Go back to revision ${base}`, exact: true }).click();
    await isSaved(page, done + 1);
    await expect(stop(page, 'Hips')).toHaveAccessibleName(/proposed/);
  });

test('a wrong pick in a run is gone back to, a child is stepped into, a role left vacant on purpose stays so', async ({
  page,
}) => {
  await openCharacter(page, 'Clockwork deckhand');
  const base = await revisionOf(page);
  await page.keyboard.press('Shift+R');
  const first = await roleInRun(page);
  const bone = await candidate(page).locator('span').first().innerText();
  await page.keyboard.press('s');
  await expect(run(page).getByRole('heading')).not.toHaveText(QUAY.roles.find(({ id }) => id === first)?.label ?? '');
  await page.keyboard.press('Backspace');
  await expect(candidate(page)).toContainText(bone);
  await page.keyboard.press('ArrowRight');
  await expect(run(page).getByText('below')).toContainText(bone);
  await page.keyboard.press('ArrowLeft');
  await expect(candidate(page)).toContainText(bone);
  await page.keyboard.press('v');
  await isSaved(page, base + 1);
  await page.keyboard.press('Escape');
  await expect(run(page)).toBeHidden();
  await expect(stop(page, QUAY.roles.find(({ id }) => id === first)?.label ?? '')).toHaveAccessibleName(/vacant/);
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 2);
});

test('why this bone: each kind of evidence by itself, worked out beside the page', async ({ page }) => {
  await openCharacter(page, 'Net mender');
  await stop(page, 'Left forearm').click();
  await page.keyboard.press('e');
  const strip = page.getByRole('region', { name: 'Explanation' });
  await expect(strip).toContainText(
    'The tree and the place lead here by themselves; the name alone is sure of nothing.',
  );
  await expect(strip.getByRole('columnheader', { name: 'tree alone' })).toBeVisible();
  await strip.getByRole('button', { name: 'Close' }).click();
  await expect(strip).toBeHidden();
});

test('marked bones get a kind together, fill a line by their ends, and are merged into the tree; all of it can be undone', async ({
  page,
}) => {
  await openCharacter(page, 'Eel seller');
  const base = await revisionOf(page);
  const twists = page.getByRole('listbox', { name: 'Bone tree' }).getByRole('option');
  await page.getByRole('button', { name: /^Spare/ }).click();
  await twists.nth(0).click({ modifiers: ['Control'] });
  await twists.nth(2).click({ modifiers: ['Shift'] });
  await expect(page.getByRole('heading', { name: '3 bones marked' })).toBeVisible();
  await page.getByLabel('Kind of these spares').selectOption('prop');
  await isSaved(page, base + 1);
  for (const at of [0, 1, 2]) await expect(twists.nth(at)).toContainText('Prop');

  await page.getByRole('button', { name: 'All', exact: true }).click();
  await stop(page, 'Left forearm').click();
  await page.getByLabel('More actions').selectOption('line');
  await isSaved(page, base + 2);
  await page.getByRole('searchbox', { name: 'Find a bone' }).fill('.l');
  await ledgerRow(page, 'bf_collar.l').click({ modifiers: ['Control'] });
  await ledgerRow(page, 'bf_hand.l').click({ modifiers: ['Control'] });
  await page.getByLabel('Fill a line with these bones').selectOption('leftArm');
  await isSaved(page, base + 3);
  for (const [label, bone] of [
    ['Left collar', 'bf_collar.l'],
    ['Left upper arm', 'bf_arm.l'],
    ['Left forearm', 'bf_fore.l'],
    ['Left hand', 'bf_hand.l'],
  ])
    await expect(stop(page, label)).toHaveAccessibleName(new RegExp(`${bone.replace('.', '\\.')}, settled`));

  await page.getByRole('searchbox', { name: 'Find a bone' }).fill('');
  const count = async () =>
    Number((await page.getByRole('heading', { name: /^Bones \d+/ }).innerText()).replace(/\D/g, ''));
  const bones = await count();
  await page.getByRole('searchbox', { name: 'Find a bone' }).fill('thumb3.l');
  await ledgerRow(page, 'bf_thumb3.l').click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Merge into parents' }).click();
  await isSaved(page, base + 4);
  await expect(async () => expect(await count()).toBe(bones - 1)).toPass();
  await openStep(page, 'Intake');
  await expect(page.getByRole('region', { name: 'Tree' })).toContainText('bf_thumb3.l merged into its parent');
  await page.getByRole('region', { name: 'Tree' }).getByRole('button', { name: 'take back' }).click();
  await isSaved(page, base + 5);
  await openStep(page, 'Match');
  await expect(async () => expect(await count()).toBe(bones)).toPass();
  await page.getByRole('button', { name: /^Saved/ }).click();
  await page.getByRole('button', { name: `Go back to revision ${base}`, exact: true }).click();
  await isSaved(page, base + 6);
});

test('side marks set by hand are read at once, and the finished fit is closed and opened again with its reason', async ({
  page,
}) => {
  await openCharacter(page, 'Lamplighter', 'Intake');
  const base = await revisionOf(page);
  const block = await setSideMarks(page, 'l', 'r');
  await isSaved(page, base + 1);
  await expect(block).toContainText('Marks set by hand');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await isSaved(page, base + 2);
  await openStep(page, 'Match');
  await page.getByRole('button', { name: /^Saved/ }).click();
  await page.getByRole('button', { name: 'close the fit' }).click();
  await isSaved(page, base + 3);
  await expect(page.getByText('This fit is closed')).toBeVisible();
  await stop(page, 'Neck').click();
  await expect(page).toHaveURL(/role=neck/);
  await expect(page.getByRole('region', { name: 'Details' }).getByRole('heading')).toHaveText('Neck');
  await page.keyboard.press('Delete');
  await expect(page.getByRole('alert').filter({ hasText: 'The fit is closed' })).toBeVisible();
  await expect(stop(page, 'Neck')).not.toHaveAccessibleName(/vacant/);
  await page.getByLabel('Reason for reopening').fill('the collar was weighted anew');
  await page.getByRole('button', { name: 'Reopen' }).click();
  await isSaved(page, base + 4);
  await expect(page.getByText('This fit is closed')).toBeHidden();
});

test("axe finds nothing serious on the bench's own panels", async ({ page }) => {
  test.slow();
  await openCharacter(page, 'Bell ringer');
  await expect(page.getByRole('complementary', { name: 'What the line map is' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Understood' }).click();
  await page.keyboard.press('Shift+R');
  await expect(run(page)).toBeVisible();
  await expectAccessible(page, [], run(page));
  await page.keyboard.press('Escape');
  await stop(page, 'Left hand').click();
  await page.keyboard.press('e');
  await expect(page.getByRole('region', { name: 'Explanation' })).toContainText('by themselves');
  await expectAccessible(page, [], page.getByRole('region', { name: 'Explanation' }));
  await page.keyboard.press('?');
  await expectAccessible(page, [], page.getByRole('complementary', { name: 'Keys of this screen' }));
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await expectAccessible(page, [], page.getByRole('dialog', { name: 'Find' }));
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Saved/ }).click();
  await expectAccessible(page, [], page.getByRole('region', { name: 'History' }));
  await page.goto(page.url().replace(/\?.*/, '?compare=choose'));
  await isListening(page, 'match');
  await page.getByLabel('Compare with').selectOption({ label: 'Otter stevedore' });
  await expect(page.getByRole('region', { name: 'Roles compared' }).getByRole('row').nth(1)).toBeVisible();
  await expectAccessible(page, [], page.getByRole('region', { name: 'Roles compared' }));
});

test('anything is found by Ctrl+K, the keys are listed at ?, two fits stand side by side', async ({ page }) => {
  await openCharacter(page, 'Lamplighter');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: /^Find a role/ }).fill('left hand');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/role=leftHand/);
  await page.keyboard.press('?');
  await page.getByRole('searchbox', { name: 'Find a key' }).fill('vacant');
  await expect(page.getByRole('complementary', { name: 'Keys of this screen' }).getByRole('listitem')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await page.getByLabel('More actions').selectOption('compare');
  await page.getByLabel('Compare with').selectOption({ label: 'Otter stevedore' });
  const compared = page.getByRole('region', { name: 'Roles compared' });
  await expect(compared.getByRole('row').nth(1)).toContainText('vacant');
  await expect(stop(page, 'Left little 1')).toHaveAccessibleName(/differs from the other character/);
  // The address follows a moment later.
  await expect(page).toHaveURL(/compare=[0-9a-f-]{36}/);
  await page.reload();
  await isListening(page, 'match');
  await expect(compared.getByRole('row').nth(1)).toContainText('vacant');
  await page.getByRole('button', { name: 'back to the bones' }).click();
  await expect(page.getByRole('listbox', { name: 'Bone tree' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: /^Find a role/ }).fill('eel seller');
  await expect(page.getByRole('option', { name: /^Character\s*Eel seller/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Eel seller');
});

test('joints that lie on one another are told apart by a list; names, size and a single line are kept in the address', async ({
  page,
}) => {
  await openCharacter(page, 'Eel seller');
  await expect(page.locator('[data-stage="ready"]')).toBeVisible();
  const box = await page.locator('[data-stage]').boundingBox();
  if (!box) throw new Error('no stage');
  const list = page.getByRole('list', { name: 'Joints under the pointer' });
  // The left elbow, where a helper lies on the forearm's joint, is right of the middle and above it.
  search: for (let y = box.y + box.height * 0.3; y < box.y + box.height * 0.65; y += 8) {
    for (let x = box.x + box.width * 0.51; x < box.x + box.width * 0.6; x += 8) {
      await page.mouse.click(x, y);
      if (await list.filter({ hasText: 'bf_fore.l' }).isVisible()) break search;
    }
  }
  await expect(list).toContainText('bf_bend.l');
  await list.getByRole('button', { name: /^bf_bend\.l/ }).click();
  await expect(list).toBeHidden();
  await expect(page.getByRole('region', { name: 'Details' }).getByRole('heading')).toHaveText('bf_bend.l');
  await openStageMenu(page);
  await page.getByRole('button', { name: 'Names', exact: true }).click();
  await page.getByRole('button', { name: 'only this line' }).click();
  await page.getByRole('slider', { name: 'Size of the joints' }).fill('150');
  await expect(page).toHaveURL(/labels=true.*only=true.*joints=150/);
  await page.reload();
  await isListening(page, 'match');
  await openStageMenu(page);
  await expect(page.getByRole('button', { name: 'only this line' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('slider', { name: 'Size of the joints' })).toHaveValue('150');
});

test('names of sides that contradict the body are said, and the other reading is one press away', async ({ page }) => {
  await openCharacter(page, 'Lamplighter', 'Intake');
  const base = await revisionOf(page);
  const block = await setSideMarks(page, 'Right', 'Left');
  await isSaved(page, base + 1);
  await expect(block).toContainText('The names say the opposite of what the body shows.');
  await openStep(page, 'Match');
  const choice = page.getByRole('group', { name: 'Left and right' });
  await expect(choice).toContainText('names say left where the body shows right');
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(/LeftHand/);
  await choice.getByRole('button').last().click();
  await isSaved(page, base + 2);
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(/RightHand/);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 4);
});

test('the map prints on one sheet, light whatever the screen is, with what it is of', async ({
  page,
  context,
  baseURL,
}) => {
  await context.addCookies([{ name: 'yarvo-theme', value: 'slate', url: baseURL ?? '' }]);
  await openCharacter(page, 'Otter stevedore');
  const theme = () => page.evaluate(() => document.documentElement.dataset.theme);
  expect(await theme()).toBe('slate');
  await expect(page.getByRole('heading', { level: 2, name: 'Otter stevedore' })).toBeHidden();
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('heading', { level: 2, name: 'Otter stevedore' })).toBeVisible();
  await expect(page.getByText(/otter-stevedore\.glb · .* revision/)).toBeVisible();
  await expect.poll(theme).toBe('chalk');
  await page.emulateMedia({ media: 'screen' });
  await expect.poll(theme).toBe('slate');
  const pages = (await page.pdf({ preferCSSPageSize: true })).toString('latin1').match(/\/Type \/Page\b/g);
  expect(pages).toHaveLength(1);
  expect(await theme()).toBe('slate');
});

test('the switches of the stage do not cover one another, in one view or in four', async ({ page }) => {
  await openCharacter(page, 'Clockwork deckhand');
  for (const step of ['Match', 'Intake', 'Posture']) {
    if (step !== 'Match') await openStep(page, step);
    await expect(page.locator('[data-stage="ready"]')).toBeVisible();
    await openStageMenu(page);
    const boxes = await Promise.all(
      [
        page.getByRole('group', { name: 'Mesh' }),
        page.getByRole('group', { name: 'Joints' }),
        page.getByRole('button', { name: 'Fit to view' }),
      ].map((part) => part.boundingBox()),
    );
    for (const a of boxes) {
      for (const b of boxes) {
        if (!a || !b) throw new Error(`${step}: a switch is missing`);
        if (a !== b)
          expect(
            a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y,
            step,
          ).toBe(true);
      }
    }
  }
});
