import path from 'node:path';
import { chromium, expect, type Page } from '@playwright/test';
import config from '../../playwright.config';
import { isSaved, ledgerRow, openCharacter, openRoster, openStep, revisionOf, stop } from '../e2e/helpers';

/**
 * Takes the pictures of `docs/screenshots` anew from a running Yarvo with fresh demo data:
 * `npx tsx tests/pictures/take.ts [http://127.0.0.1:4310] [NAME...]`. What a picture changes, it takes back.
 */
const [base = 'http://127.0.0.1:4310', ...wanted] = process.argv.slice(2);
const FOLDER = path.resolve(import.meta.dirname, '../../docs/screenshots');

const stageDrawn = async (page: Page) => {
  await expect(page.locator('[data-stage="ready"]')).toBeVisible({ timeout: 60_000 });
  await page.waitForTimeout(800);
};

const setTheme = (page: Page, theme: string) =>
  page.context().addCookies([{ name: 'yarvo-theme', value: theme, url: base }]);

/** Chooses a motion and goes to where the address wants it. */
async function showMotion(page: Page, name: string, last: number, query: string): Promise<void> {
  await page
    .getByRole('navigation', { name: 'Motions' })
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();
  await expect(page.getByRole('group', { name: 'Playback' })).toContainText(`/ ${last}`);
  await expect(page).toHaveURL(/motion=/);
  const address = new URL(page.url());
  address.search = `motion=${address.searchParams.get('motion')}&${query}`;
  await page.goto(address.toString());
  await expect(page.getByRole('group', { name: 'Playback' })).toContainText(`/ ${last}`);
  await stageDrawn(page);
}

/** Each picture: what a person does to come to see it; answers how many changes of the fit that made, if any. */
const PICTURES: Readonly<Record<string, (page: Page) => Promise<number | void>>> = {
  roster: async (page) => {
    await openRoster(page);
  },
  intake: async (page) => {
    await openCharacter(page, 'Eel seller', 'Intake');
  },
  'intake-slate': async (page) => {
    await setTheme(page, 'slate');
    await openCharacter(page, 'Harbour diver', 'Intake');
  },
  match: async (page) => {
    await openCharacter(page, 'Lamplighter');
    await stop(page, 'Left forearm').click();
    await stageDrawn(page);
  },
  'match-run': async (page) => {
    await openCharacter(page, 'Net mender');
    await stageDrawn(page);
    await page.keyboard.press('Shift+R');
    await page.waitForTimeout(1200);
  },
  'match-explain': async (page) => {
    await openCharacter(page, 'Eel seller');
    await stop(page, 'Left forearm').click();
    await stageDrawn(page);
    await page.keyboard.press('e');
    await page.waitForTimeout(4000);
  },
  posture: async (page) => {
    await openCharacter(page, 'Eel seller', 'Posture');
    await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
    await page.getByRole('button', { name: 'Raise' }).click();
    await page.waitForTimeout(2500);
  },
  'posture-ghost': async (page) => {
    await openCharacter(page, 'Eel seller', 'Posture');
    const from = await revisionOf(page);
    await page.getByRole('button', { name: 'Align all' }).click();
    await isSaved(page, from + 1);
    await page.getByRole('button', { name: 'Ghost', exact: true }).click();
    await page.getByRole('tab', { name: 'Before, after' }).click();
    await page.waitForTimeout(3000);
    return 1;
  },
  'posture-soles': async (page) => {
    await openCharacter(page, 'Harbour diver', 'Posture');
    await page.getByRole('tab', { name: 'Soles and limbs' }).click();
    await page.waitForTimeout(5000);
  },
  drill: async (page) => {
    await openCharacter(page, 'Lamplighter', 'Drill');
    await showMotion(page, 'Lantern round', 156, 'view=free&mesh=solid&frame=46&sheet=troubles');
    await page.getByRole('region', { name: 'Troubles' }).getByRole('listitem').first().getByRole('button').click();
    await expect(page.getByRole('region', { name: 'Flag in focus' })).toBeVisible();
    await stageDrawn(page);
  },
  'drill-root': async (page) => {
    await openCharacter(page, 'Customs clerk', 'Drill');
    await showMotion(page, 'Jump ahead', 169, 'view=side&mesh=see-through&frame=75&source=off&capsule=horizontal');
    await expect(page.getByRole('region', { name: 'Measures' })).toBeVisible({ timeout: 60_000 });
  },
  'drill-steer': async (page) => {
    await openCharacter(page, 'Lamplighter', 'Drill');
    const { pathname } = new URL(page.url());
    await page.goto(`${base}${pathname}?motion=house-walk&view=free&mesh=solid&live=yes`);
    const live = page.getByRole('region', { name: 'Live' });
    await expect(live.getByRole('img', { name: /^Map/ })).toBeVisible({ timeout: 60_000 });
    await page.keyboard.down('ArrowUp');
    await page.waitForTimeout(4000);
    await live.getByRole('button', { name: 'Measure the last 10 s' }).click();
    await expect(live.getByRole('region', { name: 'Measures' })).toBeVisible({ timeout: 60_000 });
    await page.waitForTimeout(500);
  },
  board: async (page) => {
    await page.goto(`${base}/board`);
    await expect(page.locator('body[data-listening="board"]')).toBeAttached();
    await page.getByRole('button', { name: /^Carry over/ }).click();
    // Every cell is judged as well.
    await expect(page.getByText(/^done: /)).toBeVisible({ timeout: 900_000 });
    await page.waitForTimeout(1200);
  },
  motions: async (page) => {
    await page.goto(`${base}/motions`);
    await expect(page.locator('body[data-listening="motions"]')).toBeAttached();
  },
  findings: async (page) => {
    await openCharacter(page, 'Ferry pilot', 'Findings');
    await page.getByRole('button', { name: 'Choose all safe ones' }).click();
    await expect(page.getByRole('table', { name: 'What would change' })).toBeVisible({ timeout: 60_000 });
    await stageDrawn(page);
  },
  checks: async (page) => {
    await page.goto('/checks');
    await expect(page.getByRole('status').first()).toContainText(/checked;/, { timeout: 60_000 });
    await page.getByRole('button', { name: /^reference-pose/ }).click();
    const repair = page.getByRole('region', { name: 'Repair of reference-pose' });
    await repair.getByRole('button', { name: 'Try' }).click();
    await expect(repair.getByText('working …')).toHaveCount(0, { timeout: 60_000 });
  },
  studio: async (page) => {
    await page.goto('/studio?profile=ebb');
    await page.waitForTimeout(800);
  },
  'match-clash': async (page) => {
    await openCharacter(page, 'Eel seller');
    const from = await revisionOf(page);
    await stop(page, 'Left upper arm').click();
    await ledgerRow(page, 'bf_fore.l').click();
    await isSaved(page, from + 1);
    await stop(page, 'Left forearm').click();
    await ledgerRow(page, 'bf_arm.l').click();
    await isSaved(page, from + 2);
    await stop(page, 'Right foot').click();
    await page.getByRole('button', { name: 'Clear', exact: true }).click();
    await isSaved(page, from + 3);
    await stop(page, 'Left forearm').click();
    await page.getByRole('button', { name: 'Free', exact: true }).click();
    await stageDrawn(page);
    return 3;
  },
  handoff: async (page) => {
    await openCharacter(page, 'Lamplighter', 'Handoff');
  },
};

/** Takes back, one by one, what a picture did to its character. */
async function takeBack(page: Page, steps: number): Promise<void> {
  await openStep(page, 'Match');
  for (let step = 0; step < steps; step++) {
    const revision = await revisionOf(page);
    await page.getByRole('button', { name: /^undo/i }).click();
    await isSaved(page, revision + 1);
  }
}

const drawn = config.projects?.find(({ name }) => name === 'drawn');
const browser = await chromium.launch(drawn?.use?.launchOptions);
for (const [name, arrive] of Object.entries(PICTURES)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  const context = await browser.newContext({
    baseURL: base,
    viewport: { width: 1280, height: 800 },
    reducedMotion: 'reduce',
  });
  const page = await context.newPage();
  // The first visit's note is not what the pictures are about.
  await page.addInitScript(() => localStorage.setItem('yarvo-seen-line-map', 'yes'));
  const changes = await arrive(page);
  await page.mouse.move(2, 2);
  await page.waitForTimeout(400);
  await page.screenshot({ path: path.join(FOLDER, `${name}.png`) });
  if (changes) await takeBack(page, changes);
  process.stdout.write(`${name}\n`);
  await context.close();
}
await browser.close();
