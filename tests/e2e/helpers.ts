import { expect, type Page } from '@playwright/test';

/** The page answers keys and clicks; before that, what is seen came from the server and nobody listens yet. */
export const isListening = (page: Page, screen: string) => expect(page.locator(`body[data-listening="${screen}"]`)).toBeAttached();

export async function openRoster(page: Page): Promise<void> {
  await page.goto('/');
  await isListening(page, 'roster');
}

/** Goes to a step through the navigation and waits until it answers. */
export async function openStep(page: Page, step: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name: new RegExp(`^${step}`) }).click();
  await isListening(page, step.toLowerCase());
}

/** Opens a step of a character from the roster, as a person would. */
export async function openCharacter(page: Page, name: string, step = 'Match'): Promise<void> {
  await openRoster(page);
  await page.getByRole('link', { name, exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(name);
  await isListening(page, 'match');
  if (step !== 'Match') await openStep(page, step);
}

export const stop = (page: Page, label: string) => page.getByRole('group', { name: /Line map/ }).getByRole('button', { name: new RegExp(`^${label}:`) });
export const ledgerRow = (page: Page, bone: string) => page.getByRole('listbox', { name: 'Bone tree' }).getByRole('option', { name: new RegExp(`^${bone.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`) });
export const isSaved = (page: Page, revision: number) => expect(page.getByRole('button', { name: /^saved/ })).toContainText(`rev. ${revision}`);

/** The newest revision that the top bar shows. */
export async function revisionOf(page: Page): Promise<number> {
  const text = await page.getByRole('button', { name: /rev\./ }).innerText();
  return Number(/rev\. (\d+)/.exec(text)?.[1]);
}
