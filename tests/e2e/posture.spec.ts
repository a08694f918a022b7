import { expect, test } from '@playwright/test';
import { isSaved, openCharacter, openStep, revisionOf } from './helpers';

test('segments are turned by hand: a held key is one change, what is shown is saved, undo takes it back', async ({
  page,
}) => {
  await openCharacter(page, 'Stilt walker', 'Posture');
  const base = await revisionOf(page);
  const sentence = page.getByTestId('posture-sentence');
  await page.getByRole('button', { name: 'Align all' }).click();
  await isSaved(page, base + 1);
  await expect(sentence).toContainText('T-pose');
  await expect(page.getByText('Pick a role or a bone to turn it by hand.')).toBeVisible();
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Turn by hand' });
  await panel.getByRole('button', { name: 'Raise' }).click();
  await panel.getByLabel('both sides').check();
  await expect(panel).toContainText('2 bones');

  // Three steps of 5 degrees while the key is down, and nothing is saved until it is let go.
  for (let step = 0; step < 3; step++) await page.keyboard.down('ArrowLeft');
  await expect(panel).toContainText('−15°');
  expect(await revisionOf(page)).toBe(base + 1);
  await page.keyboard.up('ArrowLeft');
  await isSaved(page, base + 2);
  await expect(sentence).toContainText('arms 15.0 degrees down');
  await page.reload();
  await expect(sentence).toContainText('arms 15.0 degrees down');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(sentence).toContainText('T-pose');

  // A value of one's own on one side, then mirrored by a key.
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
  await panel.getByRole('button', { name: 'Raise' }).click();
  await panel.getByLabel("Degrees of one's own").fill('-32.5');
  await panel.getByRole('button', { name: 'Turn', exact: true }).click();
  await expect(sentence).toContainText('the arms differ');
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).focus();
  await page.keyboard.press('m');
  await expect(sentence).toContainText('arms 32.5 degrees down');
  await page.getByRole('button', { name: 'Reset' }).click();
});

test('all fingers of a hand curl at once', async ({ page }) => {
  await openCharacter(page, 'Stilt walker', 'Posture');
  await page.getByRole('button', { name: 'Align all' }).click();
  await page.getByRole('button', { name: 'Left index 1', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Turn by hand' });
  await panel.getByLabel('What goes along').selectOption('all fingers of the hand');
  await panel.getByLabel('Degrees of a step').selectOption('10°');
  await panel.getByRole('button', { name: 'Turn by 10 degrees' }).click();
  // Each segment bends by the step, so the last of three stands off by three steps.
  const row = (role: string) =>
    page.getByRole('row').filter({ has: page.getByRole('button', { name: role, exact: true }) });
  await expect(row('Left ring 1')).toContainText('10.0°');
  await expect(row('Left ring 3')).toContainText('30.0°');
  await expect(row('Right ring 3')).toContainText('0.0°');
  await page.getByRole('button', { name: 'Reset' }).click();
});

test('a handle is dragged in a flat view: the number follows, and one change is kept when it is let go', async ({
  page,
}) => {
  await openCharacter(page, 'Net mender', 'Posture');
  const base = await revisionOf(page);
  await page.getByRole('button', { name: 'Align all' }).click();
  await isSaved(page, base + 1);
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
  await expect(page.locator('[data-stage="ready"]')).toBeVisible();
  const panel = page.getByRole('region', { name: 'Turn by hand' });
  await panel.getByRole('button', { name: 'Raise' }).click();
  const overlay = page.locator('[data-stage] canvas').last();
  const knob = await overlay.evaluate(async (canvas: HTMLCanvasElement) => {
    // Let the frame come in which the handle is drawn.
    await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
    return JSON.parse(canvas.dataset.knobs ?? '{}') as Record<string, [number, number]>;
  });
  const box = await overlay.boundingBox();
  if (!box || !knob.front) throw new Error('no handle in the front view');
  const [x, y] = [box.x + knob.front[0], box.y + knob.front[1]];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let step = 1; step <= 12; step++) await page.mouse.move(x - step, y + 4 * step);
  await expect(panel).toContainText(/−\d+°/);
  expect(await revisionOf(page)).toBe(base + 1);
  const shown = Number((/−(\d+)°/.exec((await panel.textContent()) ?? '') ?? [])[1]);
  expect(shown % 5).toBe(0);
  await page.mouse.up();
  await isSaved(page, base + 2);
  await expect(panel.getByLabel('Angle', { exact: true })).toHaveAttribute('placeholder', `-${shown}.0`);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(panel.getByLabel('Angle', { exact: true })).toHaveAttribute('placeholder', /^-?0\.0$/);
  await page.getByRole('button', { name: 'Reset' }).click();
});

test('several roles picked one after another turn together', async ({ page }) => {
  await openCharacter(page, 'Stilt walker', 'Posture');
  const base = await revisionOf(page);
  await page.getByRole('button', { name: 'Left thigh', exact: true }).click();
  await page.getByRole('button', { name: 'Right forearm', exact: true }).click({ modifiers: ['Control'] });
  const panel = page.getByRole('region', { name: 'Turn by hand' });
  await expect(panel).toContainText('Left thigh and 1 more');
  await expect(panel).toContainText('2 bones');
  await panel.getByRole('button', { name: 'Raise' }).click();
  await panel.getByRole('button', { name: 'Turn by 5 degrees' }).click();
  await isSaved(page, base + 1);
  await expect(page.getByRole('button', { name: 'Align these 2' })).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
});

test('the stage comes back when the graphics card loses what it held @drawn', async ({ page }) => {
  await openCharacter(page, 'Lamplighter', 'Posture');
  const stage = page.locator('[data-stage="ready"]');
  await expect(stage).toBeVisible();
  const overlay = page.locator('[data-stage] canvas').last();
  await expect(overlay).toHaveAttribute('data-held', /^[1-9]\d* meshes/);
  const before = await page.locator('[data-stage] canvas').first().screenshot();
  await page
    .locator('[data-stage] canvas')
    .first()
    .evaluate(async (canvas: HTMLCanvasElement) => {
      const lose = canvas.getContext('webgl2')?.getExtension('WEBGL_lose_context');
      if (!lose) throw new Error('no way to lose the context');
      const lost = new Promise((done) => canvas.addEventListener('webglcontextlost', done, { once: true }));
      lose.loseContext();
      await lost;
      // The browser takes it back only once everybody has heard of the loss.
      await new Promise((done) => setTimeout(done, 50));
      const back = new Promise((done) => canvas.addEventListener('webglcontextrestored', done, { once: true }));
      lose.restoreContext();
      await back;
      await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
    });
  await expect
    .poll(async () => (await page.locator('[data-stage] canvas').first().screenshot()).equals(before))
    .toBe(true);
});

test('going from step to step leaves nothing behind on the graphics card @drawn', async ({ page }) => {
  await openCharacter(page, 'Lamplighter');
  const overlay = page.locator('[data-stage="ready"] canvas[data-held]');
  /** Once the frame is drawn that has the model in it, and none is to come. */
  const settled = async (): Promise<string | null> => {
    await expect(overlay).toBeVisible();
    let before: string | null = null;
    await expect
      .poll(
        async () => {
          const last = before;
          before = await overlay.getAttribute('data-held');
          return before === last;
        },
        { intervals: [1500] },
      )
      .toBe(true);
    return before;
  };
  const first = await settled();
  expect(first).toMatch(/^[1-9]\d* meshes/);
  for (const step of ['Posture', 'Intake', 'Posture', 'Match']) {
    await openStep(page, step);
    await settled();
  }
  expect(await settled()).toBe(first);
});

test('a motion plays on the pose under hand, and its measures follow each step', async ({ page }) => {
  await openCharacter(page, 'Net mender', 'Posture');
  const base = await revisionOf(page);
  await page.getByRole('button', { name: 'Align all' }).click();
  await isSaved(page, base + 1);
  await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
  await page.getByRole('button', { name: 'In motion', exact: true }).click();
  const beside = page.getByRole('region', { name: 'In motion' });
  await expect(beside.getByRole('status')).toContainText(/within its limits|out of limits/, { timeout: 60_000 });
  const row = beside.getByRole('row', { name: /^Hand to thigh/ });
  const before = await row.textContent();
  const panel = page.getByRole('region', { name: 'Turn by hand' });
  for (let step = 0; step < 4; step++) await panel.getByRole('button', { name: 'Turn by 5 degrees' }).click();
  await expect(row).not.toHaveText(before ?? '', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Reset' }).click();
});
