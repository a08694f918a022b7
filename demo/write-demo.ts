import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { CAST } from './cast/cast';
import { truthOf, writeFigure } from './figure/write-figure';

/** Writes every character as GLB with its truth table into demo/files, or the folder given. */
const folder = path.resolve(process.argv[2] ?? 'demo/files');
await mkdir(folder, { recursive: true });
for (const [name, make] of Object.entries(CAST)) {
  const figure = make();
  await writeFile(path.join(folder, `${name}.glb`), await writeFigure(figure));
  await writeFile(path.join(folder, `${name}.truth.json`), `${JSON.stringify(truthOf(figure), null, 2)}\n`);
  process.stdout.write(`${name}: ${figure.joints.length} bones\n`);
}
