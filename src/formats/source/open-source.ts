import type { Document } from '@gltf-transform/core';
import { unpartition } from '@gltf-transform/functions';
import { YarvoError } from '@/core/errors/yarvo-error';
import { readBvh } from '../bvh/read-bvh';
import { readCollada } from '../collada/read-collada';
import { readFbx } from '../fbx/read-fbx';
import { createNodeIO } from '../gltf/node-io';
import { readGltf } from '../gltf/read-gltf';
import { buildDocument } from '../scene/build-document';
import { Companions, type SourceFile } from '../files/companions';
import { isModel } from '@/core/intake/file-names';
import { formatOf, isZip } from './source-format';
import { unzip } from './unzip';

export interface OpenedSource {
  readonly document: Document;
  /** The file's own bytes where they can serve as the canonical document. */
  readonly original: Uint8Array | null;
}

/** Files as they were dropped, with every zip replaced by what it holds. @throws {YarvoError} */
export function unpackAll(files: readonly SourceFile[]): SourceFile[] {
  return files.flatMap((file) =>
    isZip(file.bytes)
      ? unzip(file.bytes, file.path).map((inner) => ({ ...inner, isSupplied: file.isSupplied }))
      : [file],
  );
}

/** Files of a set that hold a character or a motion of their own. */
export const modelsOf = (files: readonly SourceFile[]): SourceFile[] => files.filter((file) => isModel(file.path));

/**
 * Opens one model of a set of files; the others are where its references lead.
 * @throws {YarvoError}
 */
export async function openSource(main: SourceFile, files: readonly SourceFile[]): Promise<OpenedSource> {
  const companions = new Companions(files.filter((file) => file !== main));
  const { bytes, path } = main;
  const format = formatOf(bytes, path);
  switch (format) {
    case 'glb':
    case 'gltf': {
      const { document, isCanonical } = await readGltf(bytes, path, companions);
      return { document, original: isCanonical ? bytes : null };
    }
    case 'fbx':
      return { document: buildDocument(readFbx(bytes, path, companions), path), original: null };
    case 'collada':
      return { document: buildDocument(readCollada(bytes, path, companions), path), original: null };
    case 'bvh':
      return { document: buildDocument(readBvh(new TextDecoder('utf-8').decode(bytes), path), path), original: null };
    default:
      return format satisfies never;
  }
}

/** The canonical GLB of a document. */
export async function writeCanonical(document: Document): Promise<Uint8Array> {
  if (document.getRoot().listBuffers().length > 1) await document.transform(unpartition());
  return createNodeIO().writeBinary(document);
}

/** The one model of a set. @throws {YarvoError} where there is none, or more than one. */
export function onlyModel(files: readonly SourceFile[], place: string): SourceFile {
  const models = modelsOf(files);
  if (models.length === 1) return models[0];
  if (models.length === 0 && files.length === 1) return files[0];
  throw new YarvoError({
    code: models.length === 0 ? 'no-model' : 'several-models',
    message:
      models.length === 0
        ? 'None of the files holds a model.'
        : `There are ${models.length} models: ${models
            .slice(0, 4)
            .map((file) => file.path)
            .join(', ')}.`,
    place,
    remedy:
      models.length === 0
        ? 'Drop a glTF, GLB, VRM, FBX, COLLADA or BVH file, or a zip with one.'
        : 'Drop one character at a time, or join the files as parts of one character.',
  });
}
