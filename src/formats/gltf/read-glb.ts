import { Logger, NodeIO, type Document } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { Rig } from '@/core/rig/rig';
import { checkStructure } from './check-structure';
import { readGlbContainer } from './glb-container';
import { rigFromDocument } from './rig-from-document';

export interface GlbReading {
  readonly rig: Rig;
  /** The canonical document, file space, for handoff. */
  readonly document: Document;
}

/** A reader for documents whose structure has already been checked. */
export const createNodeIO = (): NodeIO =>
  new NodeIO().setLogger(new Logger(Logger.Verbosity.SILENT)).registerExtensions(ALL_EXTENSIONS);

/**
 * Bytes of a canonical GLB -> document and rig.
 * @param place name of the file, used in errors.
 * @throws {YarvoError} for anything that is not a sound GLB.
 */
export async function readGlb(bytes: Uint8Array, place: string): Promise<GlbReading> {
  const container = readGlbContainer(bytes, place);
  checkStructure(container.json, () => container.binary?.byteLength ?? 0, place);
  let document: Document;
  try {
    document = await createNodeIO().readBinary(bytes);
  } catch (error) {
    throw new YarvoError({
      code: 'unreadable-data',
      message: `The file's data cannot be read: ${(error as Error).message}.`,
      place,
      remedy: 'Export the file again; if it returns, try another exporter.',
    });
  }
  return { document, rig: rigFromDocument(document, place) };
}
