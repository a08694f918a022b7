import { readdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { YarvoError } from '@/core/errors/yarvo-error';
import { isCompanion } from '@/core/intake/file-names';
import type { SourceFile } from '@/formats/files/companions';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { modelsOf, onlyModel, unpackAll } from '@/formats/source/open-source';
import { isZip } from '@/formats/source/source-format';
import { readSource, type SourceReading } from '@/pipeline/read-files';

/** A model that a file holds, read when it is asked for. */
export interface Model {
  /** The file, or "pack.zip/model.fbx". */
  readonly label: string;
  /** @throws {YarvoError} where it cannot be opened or read. */
  readonly read: () => Promise<SourceReading>;
  /** The files that it is read from and which of them it is; null where nothing could be opened. */
  readonly source: { readonly main: SourceFile; readonly files: readonly SourceFile[] } | null;
}

/** One model, or for a zip all that it holds. What cannot be opened says so when it is read. */
export async function* modelsIn(file: string): AsyncGenerator<Model> {
  let models: { main: SourceFile; set: readonly SourceFile[] }[];
  try {
    const given: SourceFile = { path: file, bytes: await load(file) };
    if (isZip(given.bytes)) {
      const set = unpackAll([given]);
      const found = modelsOf(set);
      models = (found.length > 0 ? found : [onlyModel(set, file)]).map((main) => ({ main, set }));
    } else models = [{ main: given, set: [given, ...(await filesBeside(file))] }];
  } catch (error) {
    yield { label: file, read: () => Promise.reject(error as Error), source: null };
    return;
  }
  for (const { main, set } of models)
    yield {
      label: main.path === file ? file : `${file}/${main.path}`,
      read: () => readSource(main, set),
      source: { main, files: set },
    };
}

/** Most that is read from beside a file, bytes. */
const BESIDE_LIMIT = 256 * 1024 * 1024;

/** Buffers and textures in the file's folder and the folders in it; what a dropped folder would bring along. */
async function filesBeside(file: string): Promise<SourceFile[]> {
  if (!/\.(gltf|fbx|dae)$/i.test(file)) return [];
  const folder = path.dirname(file);
  const found: SourceFile[] = [];
  let total = 0;
  for (const place of [
    '.',
    ...(await readdir(folder, { withFileTypes: true }))
      .filter((entry) => entry.isDirectory())
      .map((entry) => entry.name),
  ]) {
    for (const entry of await readdir(path.join(folder, place), { withFileTypes: true }).catch(() => [])) {
      if (!entry.isFile() || !isCompanion(entry.name)) continue;
      const at = path.join(folder, place, entry.name);
      total += (await stat(at)).size;
      if (total > BESIDE_LIMIT) return found;
      found.push({ path: at, bytes: new Uint8Array(await readFile(at)) });
    }
  }
  return found;
}

async function load(file: string): Promise<Uint8Array> {
  try {
    const { size } = await stat(file);
    if (size > MAX_FILE_BYTES) {
      throw new YarvoError({
        code: 'too-large',
        message: `The file has ${size} bytes; ${MAX_FILE_BYTES} is the limit.`,
        place: file,
        remedy: 'Reduce its textures or split it.',
      });
    }
    return new Uint8Array(await readFile(file));
  } catch (error) {
    if (error instanceof YarvoError) throw error;
    throw new YarvoError({
      code: 'cannot-open',
      message: `The file cannot be opened: ${(error as Error).message}.`,
      place: file,
      remedy: 'Check the path and the permissions.',
    });
  }
}
