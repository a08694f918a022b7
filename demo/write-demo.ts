import { execFileSync } from 'node:child_process';
import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { CAST, SAME_FIGURE, YARDSTICK } from './cast/cast';

/** Writes every file of the demo with its truth table into demo/files, or the folder given. */
const [given] = process.argv.slice(2).filter((argument) => !argument.startsWith('--'));
const folder = path.resolve(given ?? 'demo/files');
const same = path.join(folder, 'same-figure');
const yardstick = path.join(folder, 'yardstick');
for (const part of [same, yardstick]) await mkdir(part, { recursive: true });
for (const [into, files] of [
  [folder, CAST],
  [yardstick, YARDSTICK],
] as const) {
  for (const [name, { make, truth, creature }] of Object.entries(files)) {
    await writeFile(path.join(into, name), await make());
    const table = truth ?? (creature ? { creature } : null);
    if (table)
      await writeFile(path.join(into, `${path.parse(name).name}.truth.json`), `${JSON.stringify(table, null, 2)}\n`);
    process.stdout.write(`${name}: ${truth ? Object.keys(truth).length : 0} bones\n`);
  }
}
for (const [name, make] of Object.entries(SAME_FIGURE)) await writeFile(path.join(same, name), make());
if (process.argv.includes('--convert')) {
  // A converter by other hands (Debian's assimp-utils), so that not all of these come from our own writers.
  execFileSync(
    'assimp',
    ['export', path.join(folder, 'lamplighter.glb'), path.join(same, 'lamplighter-binary.fbx'), '-ffbx'],
    { stdio: 'inherit' },
  );
}
