import type { Document } from '@gltf-transform/core';

/** Takes meshes, materials and textures out; nodes and skin stay, since they are the skeleton. */
export function dropMeshes(document: Document): void {
  const root = document.getRoot();
  for (const mesh of root.listMeshes()) {
    for (const primitive of mesh.listPrimitives()) {
      const parts = [primitive, ...primitive.listTargets()].flatMap((part) => part.listAttributes());
      for (const accessor of [...parts, primitive.getIndices()]) accessor?.dispose();
    }
    mesh.dispose();
  }
  for (const part of [...root.listMaterials(), ...root.listTextures()]) part.dispose();
}
