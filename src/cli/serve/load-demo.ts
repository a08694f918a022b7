import { existsSync } from 'node:fs';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { isModel } from '@/core/intake/file-names';
import { addFile } from '@/server/intake/add-files';
import { models } from '@/server/database/models';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import type { MotionChange } from '@/contract/motions';
import { changeMotion } from '@/server/motions/change-motion';
import { shelve } from '@/server/motions/shelve';

const AUTHOR = 'demo';
/** Stands in a data folder whose demo is whole: what was deleted since does not come back. */
const MARKER = 'demo-loaded';

/** Adds the demo cast, once; where an earlier start was ended in the middle of it, the rest. */
export async function loadDemo(root: string, data: string, say: (text: string) => void): Promise<void> {
  const marker = path.join(data, MARKER);
  if (existsSync(marker)) return;
  const rows = await models().Character.findAll({ where: { createdBy: AUTHOR }, attributes: ['fileName'] });
  const known = new Set(rows.map(({ fileName }) => fileName));
  const folder = path.join(root, 'demo/files');
  const files = (await readdir(folder)).filter(isModel).sort();
  for (const file of files.filter((name) => !known.has(name))) {
    const bytes = new Uint8Array(await readFile(path.join(folder, file)));
    const { name } = await addFile({ bytes, fileName: file, author: AUTHOR });
    say(`demo: ${name}`);
  }
  await shelveMotions();
  await writeFile(marker, '');
}

/** What a person would choose about some of the motions. */
const CHOICES: Readonly<Record<string, MotionChange>> = {
  'lantern-round.bvh': { reference: { kind: 'frame', frame: 0 } },
  'boat-leap.glb': { travel: { ...NO_ROOT_TRAVEL, components: ['horizontal', 'vertical'] } },
  'quay-walk.bvh': { travel: { ...NO_ROOT_TRAVEL, components: ['horizontal'] } },
};

/** What came as motion only goes on the shelf. */
async function shelveMotions(): Promise<void> {
  const motions = await models().Character.findAll({
    where: { createdBy: AUTHOR, kind: 'motion' },
    attributes: ['id', 'fileName'],
  });
  for (const { id, fileName } of motions) {
    const shelved = await shelve(id, undefined, { author: AUTHOR, callId: null });
    const choice = CHOICES[fileName];
    for (const motion of shelved ?? []) if (choice) await changeMotion(motion.id, motion.revision, choice, AUTHOR);
  }
}
