import { expect, test, type Locator, type Page } from '@playwright/test';
import { QUAY } from '@/core/definition/quay';
import {
  CAST_NAMES,
  assignedBones,
  isSaved,
  ledgerRow,
  openCharacter,
  openStep,
  revisionOf,
  stop,
  truthOf,
} from './helpers';

test.use({ actionTimeout: 15_000 });

const ledgerOf = (page: Page) => page.getByRole('listbox', { name: 'Bone tree' });

/** Turns the wheel over the ledger until a bone's row is in full view; rows out of view are not in the page. */
async function wheelTo(page: Page, bone: string): Promise<Locator> {
  const row = ledgerOf(page)
    .getByRole('option')
    .filter({
      has: page.locator('span.font-mono', { hasText: new RegExp(`^${bone.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}$`) }),
    })
    .first();
  const ledger = await ledgerOf(page).boundingBox();
  if (!ledger) throw new Error('no ledger');
  await page.mouse.move(ledger.x + 40, ledger.y + ledger.height / 2);
  const placeInView = async () => {
    const box = (await row.count()) > 0 ? await row.boundingBox({ timeout: 1000 }).catch(() => null) : null;
    return box !== null && box.y >= ledger.y && box.y + box.height <= ledger.y + ledger.height ? box.y : null;
  };
  // In view and no longer moving: a turn of the wheel goes on for a moment after it was made.
  const isAtRest = async () => {
    const before = await placeInView();
    if (before === null) return false;
    await page.waitForTimeout(60);
    return (await placeInView()) === before;
  };
  for (let turn = 0; turn < 60 && !(await isAtRest()); turn++) {
    if ((await placeInView()) !== null) continue;
    // From the top again after every lap.
    await page.mouse.wheel(0, turn % 12 === 0 ? -100_000 : ledger.height * 0.7);
    await page.waitForTimeout(60);
  }
  if ((await placeInView()) === null)
    throw new Error(
      `${bone} did not come into view: the wheel shows ${(await ledgerOf(page).getByRole('option').allInnerTexts()).join(' | ')}`,
    );
  return row;
}

/** The three ways in which a mouse gives a role its bone, by turns. */
const WAYS = [
  async (page: Page, label: string, bone: string) => {
    await stop(page, label).click();
    await expect(page.getByRole('region', { name: 'Details' })).toContainText('Now pick its bone');
    await (await wheelTo(page, bone)).click();
  },
  async (page: Page, label: string, bone: string) => {
    await (await wheelTo(page, bone)).dragTo(stop(page, label));
  },
  async (page: Page, label: string, bone: string) => {
    await (await wheelTo(page, bone)).click();
    await page.getByLabel('Give it a role').selectOption(QUAY.roles.find((role) => role.label === label)?.id ?? '');
  },
];

/** Walked in every run; `YARVO_WALK_ALL=1` walks the whole cast. */
const WALKED = process.env.YARVO_WALK_ALL ? CAST_NAMES : ['clockwork-deckhand'];

for (const file of WALKED)
  test(`${file} is cleared and put together with the mouse alone, then taken to its handoff`, async ({ page }) => {
    test.setTimeout(300_000);
    await openCharacter(page, (file[0].toUpperCase() + file.slice(1)).replace('-', ' '));
    const truth = truthOf(file);
    const roles = QUAY.roles.filter(({ id }) => truth.has(id));
    const base = await revisionOf(page);
    await page.getByLabel('More actions').selectOption('all');
    await isSaved(page, base + 1);
    for (const [at, { id, label }] of roles.entries()) {
      await WAYS[at % WAYS.length](page, label, truth.get(id) as string);
      await expect(stop(page, label), label).toHaveAccessibleName(/, (settled|clash)/);
    }
    await isSaved(page, base + 1 + roles.length);
    expect(await assignedBones(page)).toEqual(new Map(roles.map(({ id }) => [id, truth.get(id) as string])));

    await openStep(page, 'Posture');
    await openStep(page, 'Findings');
    await openStep(page, 'Handoff');
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    // Back through the history, as it was before.
    await openStep(page, 'Match');
    await page.getByRole('button', { name: /^Saved/ }).click();
    await page.getByRole('button', { name: `Go back to revision ${base}`, exact: true }).click();
    await isSaved(page, base + roles.length + 2);
  });

test('a joint is put above a hand with the mouse, hung upon, and taken back with what hangs on it', async ({
  page,
}) => {
  await openCharacter(page, 'Clockwork deckhand');
  const base = await revisionOf(page);
  const hand = truthOf('clockwork-deckhand').get('leftHand') as string;
  await ledgerRow(page, hand).click({ modifiers: ['Control'] });
  // Where the joint will come shows on the stage as long as the pointer rests on the button.
  await expect(page.locator('[data-stage="ready"]')).toBeVisible();
  const drawn = page.locator('[data-stage] canvas').last();
  const button = page.getByRole('button', { name: 'Insert a joint above' });
  await page.mouse.move(640, 20);
  await expect(drawn).toHaveAttribute('data-drawn', 'as it is');
  await button.hover();
  await expect(drawn).toHaveAttribute('data-drawn', /^planned: 1 joints/);
  await page.mouse.move(640, 20);
  await expect(drawn).toHaveAttribute('data-drawn', 'as it is');
  await button.click();
  await isSaved(page, base + 1);
  const joint = `${hand}_above`;
  await expect(ledgerRow(page, joint)).toBeVisible();
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(new RegExp(`${hand}, `));

  await ledgerRow(page, 'wind_up_handle').click({ modifiers: ['Control'] });
  await ledgerRow(page, joint).click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Parent to last marked' }).click();
  await isSaved(page, base + 2);
  await openStep(page, 'Intake');
  const tree = page.getByRole('region', { name: 'Tree' });
  await expect(tree).toContainText(`wind_up_handle parented to ${joint}`);
  await tree
    .getByRole('listitem')
    .filter({ hasText: `${joint} inserted` })
    .getByRole('button', { name: 'take back' })
    .click();
  await isSaved(page, base + 3);
  await expect(tree).toBeHidden();
  await openStep(page, 'Match');
  await expect(ledgerRow(page, 'wind_up_handle')).toBeVisible();
  await expect(ledgerRow(page, joint)).toHaveCount(0);
});

test('the confidence from which proposals are settled together is chosen, remembered and kept to', async ({ page }) => {
  await openCharacter(page, 'Clockwork deckhand');
  const base = await revisionOf(page);
  const view = await (await page.request.get(`/api/characters/${/characters\/([^/]+)/.exec(page.url())?.[1]}`)).json();
  const proposals = Object.values(
    view.match.assignments as Record<string, { confidence: number; state: string }>,
  ).filter(({ state }) => state === 'proposed');
  const from = (percent: number) => proposals.filter(({ confidence }) => confidence >= percent / 100).length;
  for (const percent of [75, 99]) {
    await page.getByLabel('Confidence from which proposals are settled').selectOption(String(percent));
    await expect(page.getByRole('button', { name: /^Settle \d+ at$/ })).toHaveText(`Settle ${from(percent)} at`);
  }
  await page.getByLabel('Confidence from which proposals are settled').selectOption('75');
  await page.reload();
  await expect(page.getByLabel('Confidence from which proposals are settled')).toHaveValue('75');
  await page.getByRole('button', { name: /^Settle \d+ at$/ }).click();
  await isSaved(page, base + 1);
  await expect(page.getByRole('button', { name: /^Settle \d+ at$/ })).toBeHidden();
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 2);
});

test('the ledger stays where it was turned to when the server answers a change', async ({ page }) => {
  await openCharacter(page, 'Lamplighter');
  const base = await revisionOf(page);
  let answer = () => {};
  const held = new Promise<void>((resolve) => {
    answer = resolve;
  });
  await page.route('**/fit/changes', async (route) => {
    await held;
    await route.continue();
  });
  await ledgerRow(page, 'Head').click();
  await page.getByRole('region', { name: 'Details' }).getByRole('button', { name: 'Accept' }).click();
  const place = () => ledgerOf(page).evaluate((element) => element.scrollTop);
  await ledgerOf(page).hover();
  await page.mouse.wheel(0, 900);
  await expect.poll(place).toBeGreaterThan(600);
  // A turn of the wheel goes on for a moment after it was made; how long depends on the machine.
  let turnedTo = -1;
  await expect(async () => {
    const before = turnedTo;
    turnedTo = await place();
    expect(turnedTo).toBe(before);
  }).toPass({ intervals: [200] });
  answer();
  await isSaved(page, base + 1);
  await page.waitForTimeout(300);
  expect(await place()).toBe(turnedTo);
  await page.keyboard.press('Control+z');
  await isSaved(page, base + 2);
});
