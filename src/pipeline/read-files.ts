import type { Document } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import type { MotionTracks } from '@/core/clips/motion-tracks';
import type { Rig } from '@/core/rig/rig';
import { readMotionTracks } from '@/document/read-motion';
import { bindRigidPieces, findRigidPieces } from '@/document/bind-rigid-pieces';
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
  const { document } = opened;
  const pieces = findRigidPieces(document);
  if (!pieces || !(pieces.isMoved || isBodyOfPieces(document, main.path)))
    return { ...opened, rig: rigFromDocument(document, main.path) };
  bindRigidPieces(document, pieces);
  // The bytes as given no longer hold what the document does.
  return { document, original: null, rig: rigFromDocument(document, main.path) };
}

/** Pieces that nothing moves are a figure only where a body is recognised in them; else they are a thing of many parts. */
function isBodyOfPieces(document: Document, place: string): boolean {
  const tried = cloneDocument(document);
  const pieces = findRigidPieces(tried);
  if (!pieces) return false;
  bindRigidPieces(tried, pieces);
  return matchBones(rigFromDocument(tried, place), QUAY).creature.isHumanoid;
}

/** Document and rig of a canonical GLB. @throws {YarvoError} */
export async function readGlb(bytes: Uint8Array, place: string): Promise<CanonicalReading> {
  const document = await openGlb(bytes, place);
  return { document, rig: rigFromDocument(document, place) };
}

/** What a model's clips do; null where it has none. */
export const motionOf = ({ document, rig }: CanonicalReading): MotionTracks | null =>
  rig.clips.length > 0 ? readMotionTracks(document, rig) : null;
