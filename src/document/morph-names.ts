import type { Document, Mesh, Primitive } from '@gltf-transform/core';

/** Names of a mesh's morph targets as files keep them, in the extras of the mesh; none where it has none. */
export function morphTargetNames(mesh: Mesh | null): string[] {
  const { targetNames } = (mesh?.getExtras() ?? {}) as { targetNames?: unknown };
  return Array.isArray(targetNames) ? targetNames.map(String) : [];
}

/** Names of a primitive's targets: as a target says, else the mesh, else by its place. */
export function targetNamesOf(mesh: Mesh | null, primitive: Primitive): string[] {
  const known = morphTargetNames(mesh);
  return primitive.listTargets().map((target, at) => target.getName() || (known[at] ?? `morph ${at}`));
}

/** What meshes list, by index of the node that shows the mesh. */
export function morphNamesOf(document: Document): Map<number, string[]> {
  const named = document
    .getRoot()
    .listNodes()
    .map((node, index) => [index, morphTargetNames(node.getMesh())] as const);
  return new Map(named.filter(([, names]) => names.length > 0));
}
