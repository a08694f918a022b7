import type { Document, Node } from '@gltf-transform/core';
import type { Mending } from '@/core/intake/mending';
import { addEnds } from './add-ends';
import { hangParts } from './hang-parts';
import { resampleClips, sortKeys } from './mend-clips';
import { dropEmptyMorphs } from './mend-morphs';
import { mendBinds, mergeSkins } from './mend-skins';
import { dropBrokenVertices } from './mend-vertices';
import { mendWeights } from './mend-weights';
import { splitParts } from './split-parts';

/** Mends meshes, skins, clips and materials of a document, in this order. @param nodes as the mending names them. */
export function mendDocument(document: Document, nodes: readonly Node[], mending: Mending, place: string): void {
  if (mending.dropsVertices) dropBrokenVertices(document);
  if (mending.hangsParts) hangParts(document);
  if (mending.mendsBinds) mendBinds(document);
  mendWeights(document, nodes, mending, place);
  addEnds(
    document,
    mending.ends.flatMap((at) => nodes[at] ?? []),
    place,
  );
  if (mending.mergesSkins) mergeSkins(document);
  if (mending.split) splitParts(document, mending.split);
  if (mending.leastMorph !== null) dropEmptyMorphs(document, mending.leastMorph);
  if (mending.sortsKeys) sortKeys(document);
  if (mending.clipRate !== null) resampleClips(document, mending.clipRate);
  if (mending.singleSided) for (const material of document.getRoot().listMaterials()) material.setDoubleSided(false);
}
