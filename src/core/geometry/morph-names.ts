import type { Geometry } from './geometry';

/** Names of morph targets by index of the node that shows them, in the order of the file. */
export function morphNamesByNode({ parts }: Pick<Geometry, 'parts'>): Map<number, string[]> {
  const names = new Map<number, string[]>();
  for (const { nodeIndex, morphs } of parts)
    if (morphs.length > 0 && !names.has(nodeIndex))
      names.set(
        nodeIndex,
        morphs.map(({ name }) => name),
      );
  return names;
}
