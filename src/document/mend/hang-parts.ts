import type { Document, Node } from '@gltf-transform/core';
import { transformPoint, translationOf } from '@/core/math/mat4';
import { distanceToSegment, mean, type Vec3 } from '@/core/math/vec3';
import { accessorFloats } from '../accessor-floats';
import { ancestorsOf } from '../document-parts';
import { reparent, worldOf } from '../fold-bones';

/** Hangs every part that no bone moves on the bone that it is nearest to, by its middle; it stays where it is. */
export function hangParts(document: Document): void {
  const root = document.getRoot();
  const joints = [...new Set(root.listSkins().flatMap((skin) => skin.listJoints()))];
  if (joints.length === 0) return;
  const isJoint = new Set(joints);
  const bones = joints.map((joint) => {
    const place = translationOf(worldOf(joint));
    const parent = joint.getParentNode();
    return { joint, place, from: parent && isJoint.has(parent) ? translationOf(worldOf(parent)) : place, parent };
  });
  for (const node of root.listNodes()) {
    if (!node.getMesh() || node.getSkin() || [node, ...ancestorsOf(node)].some((each) => isJoint.has(each))) continue;
    // What holds the skeleton itself cannot hang on it.
    if (joints.some((joint) => ancestorsOf(joint).includes(node))) continue;
    const middle = middleOf(node);
    if (!middle) continue;
    const away = ({ place, from }: (typeof bones)[number]): number => distanceToSegment(middle, from, place);
    const nearest = bones.reduce((best, bone) => (away(bone) < away(best) ? bone : best));
    // The way to a joint belongs to the bone that it starts from.
    const owner = nearest.parent && isJoint.has(nearest.parent) ? nearest.parent : nearest.joint;
    reparent(node, owner);
  }
}

function middleOf(node: Node): Vec3 | null {
  const places: Vec3[] = [];
  for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
    const positions = primitive.getAttribute('POSITION');
    const values = positions ? accessorFloats(positions, 3) : [];
    for (let at = 0; at < values.length; at += 3) places.push([values[at], values[at + 1], values[at + 2]]);
  }
  return places.length > 0 ? transformPoint(worldOf(node), mean(places)) : null;
}
