import type { Document, Mesh } from '@gltf-transform/core';
import { accessorFloats } from '../accessor-floats';
import { bufferOf } from '../document-parts';
import { reachOf } from '../read-meshes';

/** Drops morph targets that move no vertex of their mesh further than `least`, file units; weights and keys with them. */
export function dropEmptyMorphs(document: Document, least: number): void {
  for (const mesh of document.getRoot().listMeshes()) {
    const count = Math.max(0, ...mesh.listPrimitives().map((primitive) => primitive.listTargets().length));
    const kept = Array.from({ length: count }, (_, at) => at).filter((at) =>
      mesh.listPrimitives().some((primitive) => {
        const target = primitive.listTargets()[at];
        return target && reachOf(target.getAttribute('POSITION')) > least;
      }),
    );
    if (kept.length === count) continue;
    for (const primitive of mesh.listPrimitives())
      primitive.listTargets().forEach((target, at) => {
        if (!kept.includes(at)) primitive.removeTarget(target);
      });
    const weights = mesh.getWeights();
    if (weights.length > 0) mesh.setWeights(kept.map((at) => weights[at] ?? 0));
    const extras = mesh.getExtras() as { targetNames?: unknown };
    const { targetNames } = extras;
    if (Array.isArray(targetNames))
      mesh.setExtras({ ...extras, targetNames: kept.map((at) => String(targetNames[at] ?? '')) });
    dropKeys(document, mesh, kept, count);
  }
}

function dropKeys(document: Document, mesh: Mesh, kept: readonly number[], count: number): void {
  for (const animation of document.getRoot().listAnimations()) {
    for (const channel of animation.listChannels()) {
      if (channel.getTargetPath() !== 'weights' || channel.getTargetNode()?.getMesh() !== mesh) continue;
      const output = channel.getSampler()?.getOutput();
      if (kept.length === 0) channel.dispose();
      else if (output) {
        const values = accessorFloats(output, 1);
        const keys = values.length / count;
        const out = new Float32Array(keys * kept.length);
        for (let key = 0; key < keys; key++)
          kept.forEach((at, place) => (out[key * kept.length + place] = values[key * count + at]));
        channel
          .getSampler()
          ?.setOutput(document.createAccessor().setType('SCALAR').setArray(out).setBuffer(bufferOf(document)));
      }
    }
  }
}
