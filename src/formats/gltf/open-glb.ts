import type { Document } from '@gltf-transform/core';
import { YarvoError } from '@/core/errors/yarvo-error';
import { checkStructure } from './check-structure';
import { readGlbContainer } from './glb-container';
import { createNodeIO } from './node-io';

/**
 * Bytes of a canonical GLB -> document, file space.
 * @param place name of the file, used in errors.
 * @throws {YarvoError} for anything that is not a sound GLB.
 */
export async function openGlb(bytes: Uint8Array, place: string): Promise<Document> {
  const container = readGlbContainer(bytes, place);
  checkStructure(container.json, () => container.binary?.byteLength ?? 0, place);
  try {
    return await createNodeIO().readBinary(bytes);
  } catch (error) {
    throw new YarvoError({
      code: 'unreadable-data',
      message: `The file's data cannot be read: ${(error as Error).message}.`,
      place,
      remedy: 'Export the file again; if it returns, try another exporter.',
    });
  }
}
