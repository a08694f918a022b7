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
/** Turns to one of the sheets about the motion. */
const sheet = (page: Page, name: string) => page.getByRole('tab', { name: new RegExp(`^${name}`) }).click();
/** Has the bone of a role in focus, as an address says it. */
async function focusOn(page: Page, role: string): Promise<void> {
  const address = new URL(page.url());
  const id = /characters\/([^/]+)/.exec(address.pathname)?.[1] ?? '';
  const answer = await page.request.get(`/api/characters/${id}`);
  const { fit } = (await answer.json()) as { fit: { state: { assignments: Record<string, { boneIndex: number }> } } };
  address.searchParams.set('bone', String(fit.state.assignments[role].boneIndex));
  await page.goto(address.toString());
  await isListening(page, 'drill');
  await expect(page.locator('[data-stage="ready"]')).toBeVisible();
}

/** Drags the knob of the handle along its arc. */
async function dragKnob(page: Page, pixels: number): Promise<void> {
  const overlay = page.locator('[data-stage] canvas').last();
  const knobOf = () =>
    overlay.evaluate(
      (canvas: HTMLCanvasElement) =>
        Object.values(JSON.parse(canvas.dataset.knobs ?? '{}') as Record<string, [number, number]>)[0] ?? null,
    );
  // The chart takes room from the stage when it comes, and the handle comes with what was carried last.
  await expect(page.getByRole('region', { name: 'Measures' })).toBeVisible({ timeout: 60_000 });
  const placeOf = async () => JSON.stringify([await knobOf(), await overlay.boundingBox()]);
  let before = '';
  await expect
    .poll(
      async () => {
        const [last, now] = [before, await placeOf()];
        before = now;
        return now === last && (await knobOf()) !== null;
      },
      { timeout: 20_000, intervals: [250] },
    )
    .toBe(true);
  const [knob, box] = [await knobOf(), await overlay.boundingBox()];
  if (!knob || !box) throw new Error('no handle on the stage');
  const [x, y] = [box.x + knob[0], box.y + knob[1]];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let step = 1; step <= 8; step++) await page.mouse.move(x + (pixels * step) / 8, y);
  await page.mouse.up();
}

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
  await expect.poll(() => joints(page)).not.toBe(first);
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
  await sheet(page, 'Carrying');
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

test('the floor under one contact is set in its lane, and is part of the motion from then on', async ({ page }) => {
  await openCharacter(page, 'Lamplighter', 'Drill');
  await choose(page, 'Boat leap');
  await expect(page.getByRole('group', { name: 'Playback' })).toBeVisible();
  const contacts = page.getByRole('region', { name: 'Contacts' });
  const lane = contacts.getByRole('img', { name: /^Left foot/ });
  const [from, to] =
    /(\d+) to (\d+)/
      .exec((await lane.getAttribute('aria-label')) ?? '')
      ?.slice(1)
      .map(Number) ?? [];
  const last = Number(/\/ (\d+)/.exec((await page.getByRole('group', { name: 'Playback' }).textContent()) ?? '')?.[1]);
  const box = await lane.boundingBox();
  if (!box) throw new Error('no lane');
  await lane.click({ position: { x: ((from + to) / 2 / last) * box.width, y: box.height / 2 } });
  const field = contacts.getByRole('spinbutton', { name: /^Left foot from \d+, floor/ });
  await expect(field).toHaveValue('0');
  await field.fill('20');
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('20');
  await page.reload();
  await expect(contacts).toContainText('set by hand');
  await contacts.getByRole('button', { name: 'Find them again' }).click();
  await expect(contacts).toContainText('found on the source');
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

test('a mesh without a skeleton says what it is on every step, and offers nothing that cannot be done', async ({
  page,
}) => {
  await openCharacter(page, 'Tide golem', 'Intake');
  for (const step of ['Match', 'Posture', 'Drill', 'Findings', 'Handoff']) {
    await page.getByRole('link', { name: new RegExp(`^${step}`) }).click();
    await expect(page).toHaveURL(new RegExp(`/${step.toLowerCase()}`));
    await expect(page.getByText('Tide golem is a mesh without a skeleton.')).toBeVisible();
    for (const action of ['Review doubts', 'Align all', 'Choose all safe ones', /^Sign off/])
      await expect(page.getByRole('button', { name: action })).toHaveCount(0);
  }
  await page.getByRole('link', { name: 'What the file holds' }).click();
  await expect(page.getByText('Mesh without a skeleton')).toBeVisible();
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

test('a flag is named with its frame and leads to it, and planting the feet mends it', async ({ page }) => {
  const troubles = page.getByRole('region', { name: 'Troubles' });
  const feet = page.getByRole('group', { name: 'Feet' });
  await openCharacter(page, 'Stilt walker', 'Drill');
  await choose(page, 'Walk settings');
  const revision = await revisionOf(page);
  await page.getByRole('button', { name: 'Align all' }).click();
  await isSaved(page, revision + 1);
  await feet.getByRole('button', { name: 'Leave' }).click();
  await isSaved(page, revision + 2);
  await sheet(page, 'Troubles');
  await expect(troubles.getByRole('status')).toContainText(/\d+ flags, worst first/, { timeout: 60_000 });
  const lanes = page.getByRole('region', { name: 'Measures' });
  await expect(lanes.getByRole('button', { name: /sole.*frame \d+/ }).first()).toBeVisible();
  await troubles.getByRole('listitem').first().getByRole('button').click();
  const focus = page.getByRole('region', { name: 'Flag in focus' });
  await expect(focus).toContainText(/Frame \d+: .*% of the leg \(-?\d+\.\d cm\), allowed/);
  const worst = /Frame (\d+):/.exec(await focus.innerText())?.[1] ?? '';
  await expect(frame(page)).toHaveText(worst);
  await expect(page).toHaveURL(new RegExp(`frame=${worst}`));
  await page.keyboard.press('f');
  await expect(focus).not.toContainText(`Frame ${worst}:`);
  await focus.getByRole('button', { name: 'Plant the feet' }).click();
  await isSaved(page, revision + 3);
  await expect(feet.getByRole('button', { name: 'Plant' })).toHaveAttribute('aria-pressed', 'true');
  await expect(troubles.getByRole('status')).toContainText(/none/, { timeout: 60_000 });
  // Other tests find it as it was.
  for (let step = 1; step <= 3; step++) {
    await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
    await isSaved(page, revision + 3 + step);
  }
});

test('a bone turned at a frame becomes a layer, or goes into the posture, or is dropped without a trace', async ({
  page,
}) => {
  await openCharacter(page, 'Customs clerk', 'Drill');
  await choose(page, 'Walk settings');
  await isCarried(page, 128);
  await page.getByRole('slider', { name: 'Frame' }).fill('40');
  await expect(frame(page)).toHaveText('40');
  await page.getByRole('button', { name: 'Side', exact: true }).click();
  // The address, which is gone to next, has the frame a moment later.
  await expect(page).toHaveURL(/frame=40/);
  const before = await joints(page);
  const revision = await revisionOf(page);
  await focusOn(page, 'leftUpperArm');
  await isCarried(page, 128);
  await expect.poll(() => joints(page)).toBe(before);
  await dragKnob(page, 60);
  const offer = page.getByRole('region', { name: 'Turn at this frame' });
  await expect(offer).toContainText(/Left upper arm turned by/);
  await expect.poll(() => joints(page)).not.toBe(before);
  await offer.getByRole('button', { name: 'Nothing' }).click();
  await expect.poll(() => joints(page)).toBe(before);

  await dragKnob(page, 60);
  await offer.getByRole('button', { name: 'Layer, keyed here' }).click();
  await isSaved(page, revision + 1);
  await sheet(page, 'Layers');
  const layers = page.getByRole('region', { name: 'Layers' });
  await expect(layers.getByRole('checkbox', { name: 'Left upper arm turned on' })).toBeChecked();
  await expect.poll(() => joints(page)).not.toBe(before);
  await layers.getByRole('button', { name: 'Remove Left upper arm turned' }).click();
  await isSaved(page, revision + 2);
  await expect.poll(() => joints(page)).toBe(before);

  await dragKnob(page, 60);
  await offer.getByRole('button', { name: 'Into the posture' }).click();
  await isSaved(page, revision + 3);
  await expect.poll(() => joints(page)).not.toBe(before);
  await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
  await expect.poll(() => joints(page)).toBe(before);
});

test('a hand is kept at a place, the figure lifted, and a pose held: each a layer', async ({ page }) => {
  await openCharacter(page, 'Bell ringer', 'Drill');
  await choose(page, 'Walk settings');
  await isCarried(page, 128);
  await page.getByRole('slider', { name: 'Frame' }).fill('30');
  await expect(frame(page)).toHaveText('30');
  await sheet(page, 'Layers');
  const add = page.getByRole('combobox', { name: 'Add a layer' });
  let revision = await revisionOf(page);
  for (const option of ['world leftHand', 'held rightArm', 'figure']) {
    await add.selectOption(option);
    await isSaved(page, ++revision);
  }
  const layers = page.getByRole('region', { name: 'Layers' });
  await expect(layers).toContainText('3 of 3 on here');
  const before = await joints(page);
  await layers.getByRole('button', { name: 'Height and heading', exact: true }).click();
  await layers.getByRole('spinbutton', { name: 'Height and heading, height, cm' }).fill('25');
  await page.keyboard.press('Enter');
  await isSaved(page, ++revision);
  await expect.poll(() => joints(page)).not.toBe(before);
  await layers.getByRole('checkbox', { name: 'Height and heading on' }).click();
  await isSaved(page, ++revision);
  await expect.poll(() => joints(page)).toBe(before);
  await layers.getByRole('button', { name: 'Copy to …' }).click();
  await layers.getByRole('checkbox', { name: 'Net mender' }).check();
  await layers.getByRole('button', { name: 'Copy 3 to 1' }).click();
  await expect(layers.getByRole('button', { name: 'Copy 3 to 1' })).toHaveCount(0);
  await openCharacter(page, 'Net mender', 'Drill');
  await sheet(page, 'Layers');
  await expect(page.getByRole('region', { name: 'Layers' })).toContainText('Keep the left hand here');
  // Other tests find it as it was.
  await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
  await expect(page.getByRole('region', { name: 'Layers' })).not.toContainText('Keep the left hand here');
});

test('the capsule follows what is switched on of the travel, in the size that it is given', async ({ page }) => {
  await openCharacter(page, 'Customs clerk', 'Drill');
  await choose(page, 'Jump ahead');
  await page.getByRole('button', { name: 'Capsule', exact: true }).click();
  await expect(page).toHaveURL(/capsule=/);
  const said = page.getByText(/\d\.\d\d m · turn -?\d+° · rise \d+ cm/);
  await expect(said).not.toContainText('rise 0 cm');
  await page.getByText('horizontal, vertical, turn').click();
  await page.getByRole('button', { name: 'Vertical', exact: true }).click();
  await expect(said).toContainText('rise 0 cm');
  const revision = await revisionOf(page);
  await page.getByRole('spinbutton', { name: 'Radius of the capsule, metres' }).fill('0.5');
  await page.keyboard.press('Enter');
  await isSaved(page, revision + 1);
  await page.getByRole('button', { name: 'As large as the body' }).click();
  await isSaved(page, revision + 2);
});

test('a character is steered by keys: what is played shows on the map, and the last seconds are measured', async ({
  page,
}) => {
  await openCharacter(page, 'Customs clerk', 'Drill');
  await choose(page, 'Walk settings');
  await page.getByRole('button', { name: 'Steer', exact: true }).click();
  const live = page.getByRole('region', { name: 'Live' });
  const map = live.getByRole('img', { name: /^Map: .*Walk at 1\.3 ahead/ });
  await expect(map).toBeVisible({ timeout: 60_000 });
  const stands = await joints(page);
  await page.keyboard.down('ArrowUp');
  await expect.poll(() => joints(page)).not.toBe(stands);
  const measure = live.getByRole('button', { name: 'Measure the last 10 s' });
  // There must be a second of it first.
  await expect
    .poll(async () => {
      await measure.click();
      return live.getByRole('region', { name: 'Measures' }).count();
    })
    .toBe(1);
  await page.keyboard.up('ArrowUp');
  await live.getByRole('combobox', { name: 'Put a motion on the map' }).selectOption({ label: 'Crouch' });
  await expect(live.getByRole('img', { name: /Crouch at/ })).toBeVisible({ timeout: 60_000 });
  await live.getByRole('button', { name: 'As it was' }).click();
  await expect(live.getByRole('img', { name: /Crouch at/ })).toHaveCount(0);
  await live.getByRole('button', { name: 'Stop steering' }).click();
  await isCarried(page, 128);
});

test('points that bear are moved by number and on the stage, and found again', async ({ page }) => {
  await openCharacter(page, 'Customs clerk', 'Drill');
  await choose(page, 'Walk settings');
  await isCarried(page, 128);
  await sheet(page, 'Carrying');
  await page.getByText('Points that bear').click();
  const revision = await revisionOf(page);
  const field = page.getByRole('spinbutton', { name: 'left heel, up, cm' });
  const found = await field.inputValue();
  await field.fill('-20');
  await page.keyboard.press('Enter');
  await isSaved(page, revision + 1);
  await expect(field).toHaveValue('-20');
  await page.getByRole('button', { name: 'As they were found' }).click();
  await isSaved(page, revision + 2);
  await expect(field).toHaveValue(found);

  // The chart takes room from the stage when it comes.
  await expect(page.getByRole('region', { name: 'Measures' })).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Side', exact: true }).click();
  const overlay = page.locator('[data-stage] canvas').last();
  const placeOf = () =>
    overlay.evaluate((canvas: HTMLCanvasElement) => {
      const { side } = JSON.parse(canvas.dataset.bearing ?? '{}') as { side?: number[] };
      return side?.slice(0, 2) ?? null;
    });
  await expect.poll(placeOf).not.toBeNull();
  const [place, box] = [await placeOf(), await overlay.boundingBox()];
  if (!place || !box) throw new Error('no points on the stage');
  await page.mouse.move(box.x + place[0], box.y + place[1]);
  await page.mouse.down();
  await page.mouse.move(box.x + place[0], box.y + place[1] + 12, { steps: 4 });
  await page.mouse.up();
  await isSaved(page, revision + 3);
  await expect(page.getByText('some moved by hand')).toBeVisible();
  await page.getByRole('button', { name: 'As they were found' }).click();
  await isSaved(page, revision + 4);
});
