import { gzipSync } from 'node:zlib';
import { expect, test } from '@playwright/test';
import { openCharacter } from './helpers';

/** Packed script that a page may load. What is beyond it belongs into a worker, or behind the first click that needs it. */
const LIMIT_KILOBYTES = 455;

test('the heaviest screen stays under the limit of its script', async ({ page }) => {
  let bytes = 0;
  const bodies: Promise<void>[] = [];
  page.on('response', (response) => {
    if (!/\.js(\?|$)/.test(response.url())) return;
    bodies.push(
      response.body().then(
        (body) => {
          bytes += gzipSync(body).length;
        },
        () => undefined,
      ),
    );
  });
  await openCharacter(page, 'Lamplighter');
  await expect(page.locator('[data-stage="ready"]')).toBeVisible();
  await Promise.all(bodies);
  expect(bytes).toBeGreaterThan(50_000);
  expect(bytes / 1024).toBeLessThan(LIMIT_KILOBYTES);
});
