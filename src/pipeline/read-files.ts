import type { Document } from '@gltf-transform/core';
import type { MotionTracks } from '@/core/motion/motion-tracks';
import type { Rig } from '@/core/rig/rig';
import { readMotionTracks } from '@/document/read-motion';
import { rigFromDocument } from '@/document/read-rig';
import type { SourceFile } from '@/formats/files/companions';
import { openGlb } from '@/formats/gltf/open-glb';
import { openSource, type OpenedSource } from '@/formats/source/open-source';

export interface CanonicalReading {
  readonly rig: Rig;
  /** The canonical document, file space. */
  readonly document: Document;
}

export interface SourceReading extends OpenedSource, CanonicalReading {}

/** Document and rig of one model of a set of files, as found. @throws {YarvoError} */
export async function readSource(main: SourceFile, files: readonly SourceFile[]): Promise<SourceReading> {
  const opened = await openSource(main, files);
  return { ...opened, rig: rigFromDocument(opened.document, main.path) };
}

/** Document and rig of a canonical GLB. @throws {YarvoError} */
export async function readGlb(bytes: Uint8Array, place: string): Promise<CanonicalReading> {
  const document = await openGlb(bytes, place);
  return { document, rig: rigFromDocument(document, place) };
}

/** What a model's clips do; null where it has none. */
export const motionOf = ({ document, rig }: CanonicalReading): MotionTracks | null =>
  rig.clips.length > 0 ? readMotionTracks(document, rig) : null;
