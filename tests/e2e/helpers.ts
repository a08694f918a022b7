import { readFileSync } from 'node:fs';
import path from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Locator, type Page } from '@playwright/test';

/** The page answers keys and clicks; before that, what is seen came from the server and nobody listens yet. */
export const isListening = (page: Page, screen: string) =>
  expect(page.locator(`body[data-listening="${screen}"]`)).toBeAttached();

export async function openRoster(page: Page): Promise<void> {
  await page.goto('/');
  await isListening(page, 'roster');
}

/** Goes to a step through the navigation and waits until it answers. */
export async function openStep(page: Page, step: string): Promise<void> {
  await page
    .getByRole('navigation', { name: 'Steps' })
    .getByRole('link', { name: new RegExp(`^${step}`) })
    .click();
  await isListening(page, step.toLowerCase());
}

/** Opens a step of a character by its address; `openFromRoster` goes the way a person goes. */
export async function openCharacter(page: Page, name: string, step = 'Match'): Promise<void> {
  const { characters } = (await (await page.request.get('/api/characters?size=500')).json()) as {
    characters: { id: string; name: string }[];
  };
  const found = characters.find((row) => row.name === name);
  if (!found) throw new Error(`no character ${name}`);
  await page.goto(`/characters/${found.id}/${step.toLowerCase()}`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(name);
  await isListening(page, step.toLowerCase());
}

/** Opens a step of a character from the roster, as a person would. */
export async function openFromRoster(page: Page, name: string, step = 'Match'): Promise<void> {
  await openRoster(page);
  await page.getByRole('link', { name, exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(name);
  await isListening(page, 'match');
  if (step !== 'Match') await openStep(page, step);
}

/** Brings out the switches of the stage where it is too narrow to show them in a row. */
export async function openStageMenu(page: Page): Promise<void> {
  const menu = page.locator('[data-stage] details:not([open]) > summary');
  if (await menu.isVisible()) await menu.click();
}

export const stop = (page: Page, label: string) =>
  page.getByRole('group', { name: /Line map/ }).getByRole('button', { name: new RegExp(`^${label}:`) });
export const ledgerRow = (page: Page, bone: string) =>
  page
    .getByRole('listbox', { name: 'Bone tree' })
    .getByRole('option', { name: new RegExp(`^${bone.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`) });
export const isSaved = (page: Page, revision: number) =>
  expect(page.getByRole('button', { name: /^Saved/ })).toContainText(`rev. ${revision}`);

/** The newest revision that the top bar shows. */
export async function revisionOf(page: Page): Promise<number> {
  const text = await page.getByRole('button', { name: /rev\./ }).innerText();
  return Number(/rev\. (\d+)/.exec(text)?.[1]);
}

/**
 * Axe finds nothing serious or critical on the page as it stands.
 * @param rules the only ones to ask; all where none are named.
 * @param within the part of the page that is new, where the rest of it was looked at already; all of it by default.
 */
export async function expectAccessible(
  page: Page,
  rules: readonly string[] = [],
  within: Locator | null = null,
): Promise<void> {
  let axe = new AxeBuilder({ page });
  if (within) {
    await within.first().evaluate((element) => {
      for (const marked of document.querySelectorAll('[data-axe]')) marked.removeAttribute('data-axe');
      element.setAttribute('data-axe', '');
    });
    axe = axe.include('[data-axe]');
  }
  const { violations } = await (rules.length > 0 ? axe.withRules([...rules]) : axe).analyze();
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160)}`)).toEqual([]);
}

/** Demo characters that have a figure to map, by their files. */
export const CAST_NAMES = [
  'net-mender',
  'ferry-pilot',
  'lamplighter',
  'eel-seller',
  'harbour-diver',
  'bell-ringer',
  'customs-clerk',
  'otter-stevedore',
  'clockwork-deckhand',
  'stilt-walker',
  'quay-walk',
];

/** Role -> bone of a demo character, as its truth table says. */
export const truthOf = (file: string): Map<string, string> => {
  const table = JSON.parse(
    readFileSync(path.resolve(import.meta.dirname, `../../demo/files/${file}.truth.json`), 'utf8'),
  ) as Record<string, string>;
  return new Map(Object.entries(table).map(([bone, role]) => [role, bone]));
};

/** Role -> bone as the server holds them. */
export async function assignedBones(page: Page): Promise<Map<string, string>> {
  const id = /characters\/([^/]+)/.exec(page.url())?.[1];
  const view = await (await page.request.get(`/api/characters/${id}`)).json();
  return new Map(
    Object.entries(view.fit.state.assignments as Record<string, { boneIndex: number; state: string }>).map(
      ([role, { boneIndex }]) => [role, view.rig.bones[boneIndex].name as string],
    ),
  );
}
