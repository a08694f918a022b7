import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { expectAccessible, isListening, isSaved, openCharacter, openStep, revisionOf } from './helpers';

const DEMO = path.resolve(import.meta.dirname, '../../demo/files');
const choose = (page: Page, name: string) =>
  page
    .getByRole('navigation', { name: 'Motions' })
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .first()
    .click();
const frame = (page: Page) => page.locator('[data-frame]');
const isCarried = (page: Page, last: number) =>
  expect(page.getByRole('group', { name: 'Playback' })).toContainText(`/ ${last}`);
/** One number for where the joints on the stage are. */
const joints = (page: Page) => page.locator('canvas').last().getAttribute('data-joints');

test('a motion of the shelf plays on a character: frame by frame, by keys, and it comes back where it was', async ({
  page,
}) => {
  await openCharacter(page, 'Lamplighter', 'Drill');
  await choose(page, 'Boat leap');
  await isCarried(page, 78);
  await expect(frame(page)).toHaveText('0');
  const first = await joints(page);
  for (let step = 0; step < 3; step++) await page.keyboard.press('ArrowRight');
  await expect(frame(page)).toHaveText('3');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(frame(page)).toHaveText('13');
  expect(await joints(page)).not.toBe(first);
  await page.keyboard.press('End');
  await expect(frame(page)).toHaveText('78');
  await page.keyboard.press('ArrowRight');
  await expect(frame(page)).toHaveText('0');
  await page.getByRole('slider', { name: 'Frame' }).fill('40');
  await expect(frame(page)).toHaveText('40');
  await page.keyboard.press('ArrowLeft');
  await expect(page).toHaveURL(/frame=39/);
  await page.getByRole('button', { name: 'Side', exact: true }).click();
  await openStep(page, 'Match');
  await openStep(page, 'Drill');
  await isCarried(page, 78);
  await expect(frame(page)).toHaveText('39');
  await expect(page.getByRole('button', { name: 'Side', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.reload();
  await isListening(page, 'drill');
  await isCarried(page, 78);
  await expect(frame(page)).toHaveText('39');
});

test('it plays, loops over a part, and stops where it is told to', async ({ page }) => {
  await openCharacter(page, 'Customs clerk', 'Drill');
  await choose(page, 'Stall keeper: weigh');
  await isCarried(page, 72);
  await page.getByRole('slider', { name: 'Frame' }).fill('20');
  await page.keyboard.press('[');
  await page.getByRole('slider', { name: 'Frame' }).fill('26');
  await page.keyboard.press(']');
  await expect(page.getByRole('button', { name: 'From 20' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'to 26' })).toBeVisible();
  const seen = new Set<number>();
  await page.getByRole('button', { name: 'Play (Space)' }).click();
  await expect
    .poll(async () => {
      seen.add(Number(await frame(page).textContent()));
      return seen.size;
    })
    .toBeGreaterThan(2);
  await page.getByRole('button', { name: 'Pause (Space)' }).click();
  for (const each of seen) expect(each >= 20 && each <= 26, String(each)).toBe(true);
  await page.getByRole('button', { name: 'Loop (L)' }).click();
  await page.getByRole('button', { name: 'Play (Space)' }).click();
  await expect(frame(page)).toHaveText('26');
  await expect(page.getByRole('button', { name: 'Play (Space)' })).toBeVisible();
});

test('a change of the fit makes the motion again, on the same frame, and is undone like any other', async ({
  page,
}) => {
  await openCharacter(page, 'Bell ringer', 'Drill');
  await choose(page, 'Tide bell');
  await isCarried(page, 120);
  await page.getByRole('slider', { name: 'Frame' }).fill('30');
  await expect(frame(page)).toHaveText('30');
  const revision = await revisionOf(page);
  const before = await joints(page);
  await page.getByRole('combobox', { name: 'Adjust a role' }).selectOption({ label: 'Left upper arm' });
  await isSaved(page, revision + 1);
  await page.getByRole('spinbutton', { name: 'Left upper arm, degrees' }).fill('60');
  await page.keyboard.press('Enter');
  await isSaved(page, revision + 2);
  await expect.poll(() => joints(page)).not.toBe(before);
  await expect(frame(page)).toHaveText('30');
  await page.getByRole('checkbox', { name: 'Left upper arm on' }).click();
  await isSaved(page, revision + 3);
  await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
  await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
  await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
  await expect(page.getByRole('checkbox', { name: 'Left upper arm on' })).toHaveCount(0);
});

test('travel goes to the root by component, contacts are set by hand and found again', async ({ page }) => {
  await openCharacter(page, 'Eel seller', 'Drill');
  await choose(page, 'Lantern round');
  await isCarried(page, 156);
  const travel = page.getByRole('group', { name: /Travel of the hips/ });
  await travel.getByRole('button', { name: 'Turn' }).click();
  await expect(travel.getByRole('button', { name: 'Turn' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('checkbox', { name: 'smooth' })).toBeVisible();
  const lane = page.getByRole('img', { name: /^Left foot:/ });
  const found = await lane.getAttribute('aria-label');
  const box = await lane.boundingBox();
  if (!box) throw new Error('no lane');
  // The last span ends well before the motion does: its end is dragged on.
  const ends = [...(found ?? '').matchAll(/(\d+) to (\d+)/g)].map(([, , to]) => Number(to));
  const x = box.x + (ends[0] / 156) * box.width;
  await page.mouse.move(x, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(x + 12, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('region', { name: 'Contacts' })).toContainText('set by hand');
  await expect(lane).not.toHaveAttribute('aria-label', found ?? '');
  await page.getByRole('button', { name: 'Find them again' }).click();
  await expect(lane).toHaveAttribute('aria-label', found ?? '');
  await travel.getByRole('button', { name: 'Turn' }).click();
  await expect(travel.getByRole('button', { name: 'Turn' })).toHaveAttribute('aria-pressed', 'false');
});

test('files come onto the shelf by themselves; what moves no figure says why', async ({ page }) => {
  await page.goto('/motions');
  await isListening(page, 'motions');
  const bytes = readFileSync(path.join(DEMO, 'tide-bell.bvh'));
  const input = page.getByLabel('Motion files to add');
  await input.setInputFiles({ name: 'bell-at-night.bvh', mimeType: 'text/plain', buffer: bytes });
  const row = page.getByRole('row', { name: /bell-at-night/ });
  await expect(row).toContainText('the same skeleton');
  await expect(row.getByRole('link', { name: 'Tide bell' })).toBeVisible();
  await row.getByRole('button', { name: /Take .* off/ }).click();
  await expect(row).toHaveCount(0);
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(row).toBeVisible();
  await row.getByRole('button', { name: /Take .* off/ }).click();
  await input.setInputFiles({
    name: 'mule-at-night.glb',
    mimeType: 'model/gltf-binary',
    buffer: readFileSync(path.join(DEMO, 'market-mule.glb')),
  });
  await expect(page.getByRole('alert').filter({ hasText: 'moves no humanoid' })).toBeVisible();
  await expectAccessible(page);
});

test('the source stands beside, over or off, others join in, and the screen is accessible', async ({ page }) => {
  await openCharacter(page, 'Ferry pilot', 'Drill');
  await choose(page, 'Quay walk');
  await isCarried(page, 72);
  for (const place of ['Over', 'Off', 'Beside']) {
    await page.getByRole('button', { name: place, exact: true }).click();
    await expect(page.getByRole('button', { name: place, exact: true })).toHaveAttribute('aria-pressed', 'true');
  }
  await page.getByText('Others', { exact: true }).click();
  await page.getByRole('checkbox', { name: 'Stilt walker' }).check();
  await expect(page).toHaveURL(/others=/);
  await isCarried(page, 72);
  await page.getByText('Others 1', { exact: true }).click();
  await expectAccessible(page);
});

test('a character without hips says what is missing instead of playing', async ({ page }) => {
  await openCharacter(page, 'Tide golem', 'Drill');
  await expect(page.getByText('No hips are assigned')).toBeVisible();
});

test('a walk of the house set: its settings move the character, what cannot be is said, and it comes onto the shelf', async ({
  page,
}) => {
  await openCharacter(page, 'Stilt walker', 'Drill');
  await choose(page, 'Walk settings');
  await isCarried(page, 128);
  const settings = page.getByRole('region', { name: 'Settings' });
  await page.getByRole('slider', { name: 'Frame' }).fill('40');
  await expect(frame(page)).toHaveText('40');
  const before = await joints(page);
  await settings.getByRole('slider', { name: 'Lean' }).fill('20');
  await expect.poll(() => joints(page)).not.toBe(before);
  await settings.getByRole('slider', { name: 'Stride, two steps' }).fill('5');
  await expect(settings.getByRole('status')).toContainText(/held to 1\.\d\d m instead of 5\.00 m/);
  await expect(page).toHaveURL(/set=.*lean%3A20/);
  await page.reload();
  await isListening(page, 'drill');
  await expect(settings.getByRole('slider', { name: 'Lean' })).toHaveValue('20');
  await settings.getByRole('button', { name: 'Put back' }).click();
  await isCarried(page, 128);
  await settings.getByRole('textbox', { name: 'Limp, right leg, number' }).fill('0.6');
  await page.keyboard.press('Enter');
  await settings.getByRole('button', { name: /^Save on the shelf/ }).click();
  await settings.getByRole('textbox', { name: 'Name on the shelf' }).fill('Sore foot');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Motion', exact: true })).toContainText('of the house set: Walk');
  await openCharacter(page, 'Otter stevedore', 'Drill');
  await choose(page, 'Sore foot');
  await expect(settings.getByRole('textbox', { name: 'Limp, right leg, number' })).toHaveValue('0.60');
  await expectAccessible(page);
});

test('a motion is edited in steps that can be taken out; what cannot be joined is said', async ({ page }) => {
  await openCharacter(page, 'Net mender', 'Drill');
  await choose(page, 'Quay walk');
  const playback = page.getByRole('group', { name: 'Playback' });
  await expect(playback).toContainText(/\/ \d+/);
  const editing = page.getByRole('region', { name: 'Editing' });
  await editing.getByRole('button', { name: 'More' }).click();
  await editing.getByRole('button', { name: 'Make a copy' }).click();
  await expect(page.getByRole('heading', { name: 'Quay walk, copy' })).toBeVisible();
  const lastOf = async () => Number(/\/ (\d+)/.exec(await playback.innerText())?.[1]);
  const whole = await lastOf();
  if (await editing.getByRole('button', { name: 'More' }).isVisible())
    await editing.getByRole('button', { name: 'More' }).click();
  await editing.getByRole('button', { name: 'Find a loop' }).click();
  await expect(editing.getByRole('status')).toContainText(/Frames \d+ to \d+ are marked/);
  await editing.getByRole('form', { name: 'Step' }).getByRole('button', { name: 'Add' }).click();
  await expect(editing.getByRole('listitem')).toHaveText([/Loop of frames \d+ to \d+/]);
  await expect.poll(lastOf).toBeLessThan(whole);
  const looped = await lastOf();
  await editing.getByRole('button', { name: 'Mirror' }).click();
  await editing.getByRole('button', { name: 'Speed …' }).click();
  await editing.getByRole('spinbutton', { name: /^Play/ }).fill('2');
  await editing.getByRole('button', { name: 'Add' }).click();
  await expect(editing.getByRole('listitem')).toHaveCount(3);
  await expect.poll(lastOf).toBe(Math.floor(looped / 2));
  // Its rate is another one than the net haul's.
  await editing.getByRole('button', { name: 'Rate …' }).click();
  await editing.getByRole('spinbutton', { name: /^Sample at/ }).fill('24');
  await editing.getByRole('button', { name: 'Add' }).click();
  await editing.getByRole('button', { name: 'Append …' }).click();
  await editing.getByRole('combobox', { name: 'Motion to append' }).selectOption({ label: 'Net haul' });
  await editing.getByRole('button', { name: 'Add' }).click();
  await expect(page.getByText(/24 frames a second, ".*" \d+/)).toBeVisible();
  await expect(editing.getByRole('listitem')).toHaveCount(4);
  await editing.getByRole('button', { name: 'Take out step 4' }).click();
  await editing.getByRole('button', { name: 'Take out step 3' }).click();
  await expect.poll(lastOf).toBe(looped);
  await page.reload();
  await isListening(page, 'drill');
  await expect(editing.getByRole('listitem')).toHaveText([/Loop of frames/, /Mirrored/]);
  await choose(page, 'Quay walk');
  await expect.poll(lastOf).toBe(whole);
});

test('what a character does with a motion is kept as a motion of its own', async ({ page }) => {
  await openCharacter(page, 'Clockwork deckhand', 'Drill');
  await choose(page, 'Tide bell');
  await isCarried(page, 120);
  const editing = page.getByRole('region', { name: 'Editing' });
  await editing.getByRole('button', { name: 'More' }).click();
  await editing.getByRole('button', { name: 'Keep the result as a motion' }).click();
  await expect(page.getByRole('heading', { name: 'Tide bell, kept' })).toBeVisible();
  await isCarried(page, 120);
  await openCharacter(page, 'Customs clerk', 'Drill');
  await choose(page, 'Tide bell, kept');
  await isCarried(page, 120);
});

test('troubles of a motion are named with their frame, and lead to it', async ({ page }) => {
  const troubles = page.getByRole('region', { name: 'Troubles' });
  await openCharacter(page, 'Stilt walker', 'Drill');
  await choose(page, 'Walk settings');
  await expect(troubles.getByRole('status')).toContainText(/\d+, worst first/, { timeout: 60_000 });
  const first = troubles.getByRole('listitem').first();
  await expect(first).toContainText(/Frame \d+: .*% of the leg \(-?\d+\.\d cm\), allowed/);
  const worst = /Frame (\d+):/.exec(await first.innerText())?.[1] ?? '';
  await first.getByRole('button').click();
  await expect(frame(page)).toHaveText(worst);
  await expect(page).toHaveURL(new RegExp(`frame=${worst}`));
});
