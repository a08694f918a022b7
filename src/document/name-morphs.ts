import type { Document } from '@gltf-transform/core';
import { targetNamesOf } from './morph-names';

/** Gives morph targets other names, in the extras of their meshes, where readers look for them. */
export function nameMorphs(document: Document, names: ReadonlyMap<string, string>): void {
  if ([...names].every(([own, written]) => own === written)) return;
  for (const mesh of document.getRoot().listMeshes()) {
    const [first] = mesh.listPrimitives();
    if (!first || first.listTargets().length === 0) continue;
    const targetNames = targetNamesOf(mesh, first).map((name) => names.get(name) ?? name);
    mesh.setExtras({ ...mesh.getExtras(), targetNames });
    // Each primitive lists the mesh's targets in one order.
    for (const primitive of mesh.listPrimitives())
      primitive.listTargets().forEach((target, at) => target.setName(targetNames[at] ?? ''));
  }
}
