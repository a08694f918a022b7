import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { createNodeIO } from '@/formats/gltf/node-io';
import { DEFECTS } from '../helpers/plant-defects';
import { isListening, isSaved, openCharacter, openRoster, openStep, revisionOf, stop } from './helpers';

/** Ten that are planted together, in an order in which none undoes another. */
const PLANTED = [
  'a vertex without weight',
  'weights that are not normalised',
  'weight on the root',
  'weight on a bone of the other side',
  'a vertex that is no number',
  'an inverse bind matrix that cannot be inverted',
  'a clip that only holds the rest',
  'keys out of order',
  'a texture whose sides are no powers of two',
  'a morph target that moves nothing',
] as const;

/** The diver's hips lead her skeleton: there is no root to weight anything to. */
const kindsFor = (file: string) =>
  PLANTED.map((kind) =>
    file === 'harbour-diver' && kind === 'weight on the root' ? 'weights that the engine rounds away' : kind,
  );

async function planted(file: string): Promise<Buffer> {
  const document = await createNodeIO().readBinary(new Uint8Array(await readFile(`demo/files/${file}.glb`)));
  const truth = JSON.parse(await readFile(`demo/files/${file}.truth.json`, 'utf8')) as Record<string, string>;
  const nodes = document.getRoot().listNodes();
  const bone = (role: string) => {
    const node = nodes.find((each) => truth[each.getName()] === role);
    if (!node) throw new Error(`no bone for ${role}`);
    return node;
  };
  const skinned = nodes.filter((node) => node.getSkin());
  const hand = document.getRoot().listSkins()[0].listJoints().indexOf(bone('leftHand'));
  const found = skinned.flatMap((node) =>
    (node.getMesh()?.listPrimitives() ?? []).map((primitive) => ({ primitive, part: node.getName() })),
  );
  const body = found.find(({ primitive }) => primitive.getAttribute('JOINTS_0')?.getArray()?.includes(hand));
  if (!body) throw new Error('no body');
  for (const kind of kindsFor(file)) await DEFECTS[kind].plant({ document, bone, ...body });
  return Buffer.from(await createNodeIO().writeBinary(document));
}

const BECOME_READY = [
  ['eel-seller', 'fish-stall', 'Fish stall'],
  ['harbour-diver', 'pump-hand', 'Pump hand'],
] as const;
for (const [file, upload, heading] of BECOME_READY)
  test(`${file} with ten planted faults becomes ready by repairs and one waiver`, async ({ page }) => {
    await openRoster(page);
    await page
      .locator('input[type="file"]')
      .first()
      .setInputFiles([{ name: `${upload}.glb`, mimeType: 'model/gltf-binary', buffer: await planted(file) }]);
    await page.getByRole('list', { name: 'Files on their way in' }).getByRole('link', { name: 'Open' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText(heading);
    await page.getByRole('link', { name: /^Findings/ }).click();
    await isListening(page, 'findings');
    const repairs = page.getByRole('region', { name: 'Repairs' });
    await repairs.getByRole('button', { name: 'Choose all safe ones' }).click();
    const change = repairs.getByRole('table', { name: 'What would change' });
    await expect(change).toContainText(/Blockers\d+→0/, { timeout: 60_000 });
    await expect(page.getByText('has no weight', { exact: false }).first()).toBeVisible();
    await repairs.getByRole('button', { name: 'Repair', exact: true }).click();
    await isSaved(page, 1);
    await expect(page.getByText(/^Blocker/)).toHaveCount(0);
    for (const gone of ['no weight', 'add up to something else', 'weighted to the root', 'on the other side'])
      await expect(page.getByText(gone)).toHaveCount(0);

    // One by hand: a role loses its bone, and somebody answers for it.
    await page.getByRole('link', { name: /^Match/ }).click();
    await stop(page, 'Head').click();
    await page.getByRole('button', { name: 'Clear', exact: true }).click();
    await isSaved(page, 2);
    await page.getByRole('link', { name: /^Findings/ }).click();
    await page.getByRole('button', { name: 'Waive' }).first().click();
    const form = page.getByRole('form', { name: 'Waive this finding' });
    await form.getByRole('textbox', { name: 'Why it is accepted' }).fill('her head is a lantern');
    await form.getByRole('button', { name: 'Waive' }).click();
    await isSaved(page, 3);
    await expect(page.getByRole('region', { name: 'Waived' })).toContainText('her head is a lantern');
    await expect(page.getByText(/^Blocker/)).toHaveCount(0);
    await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
    await expect(page.getByText(/^Blocker/)).toHaveCount(1);
  });

test('the board of checks tries a repair on all that have a finding, and leads to each', async ({ page }) => {
  await page.goto('/checks');
  await isListening(page, 'checks');
  await expect(page.getByRole('status').first()).toContainText(/checked;/, { timeout: 60_000 });
  await expect(page.getByRole('img', { name: /^Commonest findings: / })).toBeVisible();
  await page.getByRole('button', { name: /^reference-pose/ }).click();
  const repair = page.getByRole('region', { name: 'Repair of reference-pose' });
  await repair.getByRole('button', { name: 'Try' }).click();
  await expect(repair.getByRole('list')).toContainText(/Stilt walker: \d blockers? → 0/, { timeout: 60_000 });
  await page.getByRole('button', { name: 'All safe repairs …' }).click();
  const safe = page.getByRole('region', { name: 'All safe repairs' });
  await expect(repair).toHaveCount(0);
  await safe.getByRole('button', { name: 'Try' }).click();
  await expect(safe.getByRole('list')).toContainText(/Ferry pilot: 1 blocker → 0, 5 cautions → 1/, { timeout: 60_000 });
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV' }).click();
  expect((await readFile(await (await saving).path())).toString()).toMatch(/^"character","profile","check"/);
  await page.getByRole('link', { name: 'Stilt walker' }).click();
  await isListening(page, 'findings');
});

test('a check is waived for all characters that are shown, listed in the Studio, and taken back there', async ({
  page,
}) => {
  await page.goto('/checks');
  await isListening(page, 'checks');
  await expect(page.getByRole('status').first()).toContainText(/checked;/, { timeout: 60_000 });
  await page.getByRole('button', { name: /^unit-and-axes \d/ }).click();
  const region = page.getByRole('region', { name: 'Repair of unit-and-axes' });
  await region.getByRole('button', { name: /^Waive unit-and-axes on \d+ characters? …$/ }).click();
  const form = page.getByRole('form', { name: 'Waive unit-and-axes' });
  await form.getByRole('textbox', { name: 'Why it is accepted' }).fill('its own pipeline sets the unit');
  await form.getByLabel('Until').fill('2999-12-31');
  await form.getByRole('button', { name: /^Waive on/ }).click();
  await expect(page.getByText(/\d waived/).first()).toBeVisible({ timeout: 60_000 });
  await page.goto('/studio?show=waivers');
  await isListening(page, 'studio');
  const list = page.getByRole('region', { name: 'Waivers' });
  const row = list.getByRole('row').filter({ hasText: 'its own pipeline sets the unit' });
  await expect(row.first()).toContainText('2999-12-31');
  for (let left = await row.count(); left > 0; left--) {
    await row.first().getByRole('button', { name: 'Take back' }).click();
    await expect(row).toHaveCount(left - 1);
  }
});

test('a profile is edited into a new version, compared, and a faulty one is refused by all its faults', async ({
  page,
}) => {
  await page.goto('/studio?profile=ebb');
  await isListening(page, 'studio');
  const form = page.getByRole('form', { name: 'Engine profile' });
  await form.getByLabel('Bones for a vertex').fill('0');
  await form.getByRole('combobox', { name: 'Facing' }).selectOption('+Z');
  await form.getByRole('button', { name: 'Save as version 2' }).click();
  await expect(form.getByRole('alert').filter({ hasText: 'cannot be +Z where +Z is up' })).toBeVisible();
  await form.getByRole('combobox', { name: 'Facing' }).selectOption('-Y');
  await form.getByLabel('Bones for a vertex').fill('6');
  await form.getByRole('button', { name: 'Save as version 2' }).click();
  await expect(form.getByRole('button', { name: 'Save as version 3' })).toBeVisible();
  await page.getByRole('button', { name: 'Compare' }).click();
  await expect(page.getByRole('region', { name: 'Compared versions' })).toContainText('limits.influences');
  await openCharacter(page, 'Customs clerk', 'Findings');
  await page.getByRole('combobox', { name: 'Engine profile' }).selectOption('ebb');
  await expect(page.getByText('version 2', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
  await expect(page.getByRole('combobox', { name: 'Engine profile' })).toHaveValue('tidewater');
});

test('a skeleton is taken from a file into a profile, and a character is written onto it', async ({ page }) => {
  await page.goto('/studio?profile=tidewater');
  await isListening(page, 'studio');
  const form = page.getByRole('form', { name: 'Engine profile' });
  await form.getByLabel('Name', { exact: true }).fill('Lamp Street');
  await form.getByRole('textbox', { name: 'Id', exact: true }).fill('lamp-street');
  await form.locator('input[type="file"]').setInputFiles('demo/files/lamplighter.glb');
  await expect(form.getByText(/^lamplighter: 53 bones, 52 of them with a role$/)).toBeVisible({ timeout: 60_000 });
  await form.getByRole('button', { name: 'Save as a new profile' }).click();
  await expect(page.getByRole('link', { name: /^Lamp Street/ })).toBeVisible();

  await openCharacter(page, 'Net mender', 'Findings');
  const base = await revisionOf(page);
  await page.getByRole('combobox', { name: 'Engine profile' }).selectOption('lamp-street');
  await isSaved(page, base + 1);
  await expect(page.getByText(/bones have other names than in lamplighter/)).toBeVisible();
  const repairs = page.getByRole('region', { name: 'Repairs' });
  await repairs.getByRole('button', { name: 'Write onto the shipped skeleton' }).click();
  await expect(repairs.getByText(/bones get other names: .* becomes /)).toBeVisible({ timeout: 60_000 });
  await expect(repairs.getByRole('row', { name: /^Furthest vertex, at rest/ })).toContainText(/mm|stays/);
  await repairs.getByRole('button', { name: 'Repair', exact: true }).click();
  await isSaved(page, base + 2);
  await expect(page.getByText(/bones have other names than in lamplighter/)).toHaveCount(0);
  await openStep(page, 'Handoff');
  await expect(page.getByRole('combobox', { name: 'Skeleton that is written' })).toHaveValue('own');
  const names = page.getByRole('region', { name: 'Names before and after' });
  await expect(names.getByRole('row', { name: /^Added → UpperChest$/ })).toBeVisible();
  await openStep(page, 'Findings');
  for (const back of [base + 3, base + 4]) {
    await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
    await isSaved(page, back);
  }
  await expect(page.getByRole('combobox', { name: 'Engine profile' })).toHaveValue('tidewater');
});

test('morph targets are tried on the stage, and mapped by hand onto those that the engine drives @drawn', async ({
  page,
}) => {
  const { profile } = (await (await page.request.get('/api/profiles/tidewater')).json()) as { profile: object };
  const morphs = ['mouthOpen', 'smile', 'cheekPuff'];
  const kept = await page.request.post('/api/profiles', {
    data: { ...profile, id: 'tide-faces', label: 'Tide faces', version: 1, morphs },
  });
  expect(kept.status()).toBe(201);
  await openCharacter(page, 'Customs clerk', 'Findings');
  const base = await revisionOf(page);
  await page.getByRole('combobox', { name: 'Engine profile' }).selectOption('tide-faces');
  await isSaved(page, base + 1);
  const panel = page.getByRole('region', { name: 'Morph targets' });
  await expect(panel.getByRole('row', { name: /^mouthOpen/ })).toContainText('both say');
  await expect(panel.getByRole('combobox', { name: 'Stands for mouthOpen' })).toHaveValue('Mund_auf');
  await expect(page.getByText(/1 of 3 morph targets that Tide faces drives are missing: cheekPuff/)).toBeVisible();
  await panel.getByRole('combobox', { name: 'Stands for cheekPuff' }).selectOption('Braue_hoch');
  await isSaved(page, base + 2);
  await expect(page.getByText(/morph targets that Tide faces drives are missing/)).toHaveCount(0);
  await expect(panel.getByRole('row', { name: /^cheekPuff/ })).toContainText('set by hand');

  const stage = page.locator('[data-stage]').first();
  const before = await stage.screenshot();
  await panel.getByRole('slider', { name: 'Weight of Mund_auf' }).fill('1');
  await expect.poll(async () => (await stage.screenshot()).equals(before)).toBe(false);
  await panel.getByRole('button', { name: 'Rest' }).click();
  await expect.poll(async () => (await stage.screenshot()).equals(before)).toBe(true);
  for (const back of [base + 3, base + 4]) {
    await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
    await isSaved(page, back);
  }
});

test('characters that are checked for an engine are set to it together', async ({ page }) => {
  const { characters } = (await (await page.request.get('/api/characters?size=100')).json()) as {
    characters: { id: string; name: string }[];
  };
  const names = ['Stilt walker', 'Otter stevedore'];
  const ids = names.map((name) => characters.find((each) => each.name === name)?.id);
  await page.goto(`/checks?characters=${ids.join(',')}&profile=ebb`);
  await isListening(page, 'checks');
  await page.getByRole('button', { name: 'Set it for 2 characters' }).click({ timeout: 60_000 });
  await expect(page).not.toHaveURL(/profile=/, { timeout: 60_000 });
  for (const name of names) {
    await openCharacter(page, name, 'Findings');
    await expect(page.getByRole('combobox', { name: 'Engine profile' })).toHaveValue('ebb');
    await page.getByRole('button', { name: 'Undo (Ctrl+Z)' }).click();
    await expect(page.getByRole('combobox', { name: 'Engine profile' })).toHaveValue('tidewater');
  }
});
