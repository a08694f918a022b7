import type { Document, Node, Primitive, Skin } from '@gltf-transform/core';
import { accessorFloats } from './accessor-floats';
import { bindMatrices, bufferOf } from './document-parts';
import { influenceSets } from './skin-influences';

/** Takes joints off a skin that are meant and move no vertex of it; the others keep what they move. */
export function unlistJoints(document: Document, skin: Skin, isMeant: (joint: Node) => boolean): void {
  const joints = skin.listJoints();
  if (!joints.some(isMeant)) return;
  const primitives = [
    ...new Set(
      document
        .getRoot()
        .listNodes()
        .filter((node) => node.getSkin() === skin)
        .flatMap((node) => node.getMesh()?.listPrimitives() ?? []),
    ),
  ];
  const used = new Set(primitives.flatMap((primitive) => [...usedJoints(primitive)]));
  const kept = joints.flatMap((joint, at) => (isMeant(joint) && !used.has(at) ? [] : [at]));
  if (kept.length === joints.length || kept.length === 0) return;
  const inverse = skin.getInverseBindMatrices();
  const values = inverse && accessorFloats(inverse, 16);
  const place = new Map(kept.map((at, next) => [at, next]));
  joints.forEach((joint, at) => {
    if (!place.has(at)) skin.removeJoint(joint);
  });
  if (values) {
    const out = new Float32Array(kept.length * 16);
    kept.forEach((at, next) => out.set(values.subarray(at * 16, at * 16 + 16), next * 16));
    skin.setInverseBindMatrices(bindMatrices(document, out));
  }
  const buffer = bufferOf(document);
  for (const primitive of primitives)
    influenceSets(primitive).forEach(({ joint }, set) => {
      const own = joint.getArray();
      if (!own) return;
      const moved = Uint16Array.from({ length: own.length }, (_, at) => place.get(own[at]) ?? 0);
      primitive.setAttribute(
        `JOINTS_${set}`,
        document.createAccessor().setType('VEC4').setArray(moved).setBuffer(buffer),
      );
    });
}

function usedJoints(primitive: Primitive): Set<number> {
  const used = new Set<number>();
  const [four, shares] = [
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ];
  for (const { joint, weight } of influenceSets(primitive))
    for (let vertex = 0; vertex < joint.getCount(); vertex++) {
      joint.getElement(vertex, four);
      weight.getElement(vertex, shares);
      four.forEach((each, slot) => shares[slot] > 0 && used.add(each));
    }
  return used;
}
