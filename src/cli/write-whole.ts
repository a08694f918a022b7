import { rename, writeFile } from 'node:fs/promises';

/** Written beside and then renamed, so that nothing half written is ever found under the name. */
export async function writeWhole(file: string, content: Uint8Array | string): Promise<void> {
  const beside = `${file}.part`;
  await writeFile(beside, content);
  await rename(beside, file);
}
