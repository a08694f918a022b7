import type { Document } from '@gltf-transform/core';
import { gltfFacts, SourceFactsSchema, type SourceFacts } from '@/core/rig/source-facts';

/** Where a canonical document keeps what its source file said; removed again at handoff. */
const KEY = 'yarvoSource';

export function writeFacts(document: Document, facts: SourceFacts): void {
  document.getRoot().setExtras({ ...document.getRoot().getExtras(), [KEY]: facts });
}

/** The facts of a canonical document; those of a plain GLB where it keeps none. */
export function factsOf(document: Document): SourceFacts {
  const kept = SourceFactsSchema.safeParse(document.getRoot().getExtras()[KEY]);
  return kept.success ? kept.data : gltfFacts({ generator: document.getRoot().getAsset().generator ?? '' });
}

export function removeFacts(document: Document): void {
  const { [KEY]: _removed, ...rest } = document.getRoot().getExtras();
  document.getRoot().setExtras(rest);
}
