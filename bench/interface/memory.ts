import { parseArgs } from 'node:util';
import { chromium } from '@playwright/test';
import config from '../../playwright.config';

/**
 * `npx tsx bench/interface/memory.ts [--url http://127.0.0.1:4310] [--openings 100]`: opens one character after another
 * on the stage without reloading the page, and prints what the page and the graphics card hold after every tenth. Needs a
 * running Yarvo with the demo data.
 */
const { values } = parseArgs({
  options: { url: { type: 'string', default: 'http://127.0.0.1:4310' }, openings: { type: 'string', default: '100' } },
});

const browser = await chromium.launch(config.use?.launchOptions);
const page = await browser.newPage({ baseURL: values.url, viewport: { width: 1280, height: 800 } });
const session = await page.context().newCDPSession(page);
await session.send('Performance.enable');
const heapMegabytes = async (): Promise<string> => {
  await session.send('HeapProfiler.collectGarbage');
  const { metrics } = await session.send('Performance.getMetrics');
  const used = metrics.find(({ name }) => name === 'JSHeapUsedSize')?.value ?? 0;
  return (used / 1024 / 1024).toFixed(1);
};

await page.goto('/');
const links = page.locator('main a[href*="/match"], table a[href*="/match"]');
await links.first().waitFor();
const count = await links.count();
process.stdout.write('| openings | heap, MB | on the graphics card |\n|---|---|---|\n');
for (let opening = 1; opening <= Number(values.openings); opening++) {
  await links.nth((opening - 1) % count).click();
  await page.locator('[data-stage="ready"] canvas[data-held]').waitFor();
  if (opening % 10 === 0) {
    const held = await page.locator('[data-stage] canvas[data-held]').getAttribute('data-held');
    process.stdout.write(`| ${opening} | ${await heapMegabytes()} | ${held} |\n`);
  }
  await page.getByRole('link', { name: 'yarvo' }).click();
  await links.first().waitFor();
}
await browser.close();
