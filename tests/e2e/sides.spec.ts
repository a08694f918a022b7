import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { createNodeIO } from '@/formats/gltf/node-io';
import { isListening, openRoster, stop } from './helpers';

/** The lamplighter whose bones are called left on its right side, and right on its left. */
async function exchanged(): Promise<Buffer> {
  const io = createNodeIO();
  const document = await io.readBinary(new Uint8Array(await readFile('demo/files/lamplighter.glb')));
  for (const node of document.getRoot().listNodes()) {
    const [side] = /^(Left|Right)/.exec(node.getName()) ?? [];
    if (side) node.setName(`${side === 'Left' ? 'Right' : 'Left'}${node.getName().slice(side.length)}`);
  }
  return Buffer.from(await io.writeBinary(document));
}

test('names against the body: both readings are offered, one key takes either, and undo takes it back', async ({
  page,
}) => {
  await openRoster(page);
  await page
    .getByLabel('Files to add')
    .setInputFiles([{ name: 'turned-watch.glb', mimeType: 'model/gltf-binary', buffer: await exchanged() }]);
  await page.getByRole('list', { name: 'Files on their way in' }).getByRole('link', { name: 'Open' }).click();
  await isListening(page, 'match');
  const choice = page.getByRole('group', { name: 'Left and right' });
  await expect(choice).toContainText('The names say left where the body shows right');
  await expect(choice.getByRole('button').first()).toContainText('left hand is RightHand');
  await expect(choice.getByRole('button').last()).toContainText('left hand is LeftHand');
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(/RightHand, doubtful/);

  await page.keyboard.press('2');
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(/LeftHand, proposed/);
  await expect(stop(page, 'Right foot')).toHaveAccessibleName(/RightFoot, proposed/);
  await expect(choice).toBeHidden();

  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(choice).toBeVisible();
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(/RightHand, doubtful/);

  await page.keyboard.press('1');
  await expect(stop(page, 'Left hand')).toHaveAccessibleName(/RightHand, proposed/);
  await expect(choice).toBeHidden();
});
