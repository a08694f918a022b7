import type { Document, Node, Skin } from '@gltf-transform/core';
import { invertAffine, IDENTITY } from '@/core/math/mat4';
import { accessorFloats } from '../accessor-floats';
import { bindMatrices, bufferOf } from '../document-parts';
import { parentFirst, worldMatrices } from '../node-worlds';
import { influenceSets } from '../skin-influences';

/** Gives joints whose matrix cannot be inverted that of their place at rest, and drops matrices of no joint. */
export function mendBinds(document: Document): void {
  const worlds = worldMatrices(parentFirst(document.getRoot().listNodes()));
  for (const skin of document.getRoot().listSkins()) {
    const inverse = skin.getInverseBindMatrices();
    if (!inverse) continue;
    const joints = skin.listJoints();
    const values = new Float32Array(joints.length * 16);
    let hasChanged = inverse.getCount() !== joints.length;
    joints.forEach((joint, at) => {
      const own = at < inverse.getCount() ? inverse.getElement(at, []) : [];
      const isSound = own.length === 16 && own.every(Number.isFinite) && invertAffine(own) !== null;
      if (!isSound) hasChanged = true;
      values.set(isSound ? own : (invertAffine(worlds.get(joint) ?? IDENTITY) ?? IDENTITY), at * 16);
    });
    if (hasChanged) skin.setInverseBindMatrices(bindMatrices(document, values));
  }
}

/** Matrices of one joint that differ by less are one. */
const SAME = 1e-4;

/** Makes one skin of those that agree where they bind the same joint. */
export function mergeSkins(document: Document): void {
  const [first, ...others] = document.getRoot().listSkins();
  if (!first) return;
  for (const skin of others) {
    if (!bindAlike(first, skin)) continue;
    const fresh = skin.listJoints().filter((joint) => !first.listJoints().includes(joint));
    append(document, first, skin, fresh);
    const joints = first.listJoints();
    for (const node of document.getRoot().listNodes()) {
      if (node.getSkin() !== skin) continue;
      const mesh = node.getMesh();
      for (const primitive of mesh?.listPrimitives() ?? [])
        for (const { joint } of influenceSets(primitive)) {
          const own = joint.getArray();
          if (!own) continue;
          const moved = Uint16Array.from(own, (at) => Math.max(0, joints.indexOf(skin.listJoints()[Number(at)])));
          joint.setArray(moved);
        }
      node.setSkin(first);
    }
    skin.dispose();
  }
}

/** Whether both bind the joints that they share alike. */
function bindAlike(first: Skin, other: Skin): boolean {
  const [a, b] = [matricesOf(first), matricesOf(other)];
  const joints = first.listJoints();
  for (const [at, joint] of other.listJoints().entries()) {
    const same = joints.indexOf(joint);
    if (same < 0) continue;
    for (let k = 0; k < 16; k++) if (Math.abs(a[same * 16 + k] - b[at * 16 + k]) > SAME) return false;
  }
  return true;
}

function matricesOf(skin: Skin): Float32Array {
  const inverse = skin.getInverseBindMatrices();
  if (inverse) return accessorFloats(inverse, 16);
  const values = new Float32Array(skin.listJoints().length * 16);
  skin.listJoints().forEach((_, at) => values.set(IDENTITY, at * 16));
  return values;
}

function append(document: Document, skin: Skin, from: Skin, joints: readonly Node[]): void {
  const [own, theirs] = [matricesOf(skin), matricesOf(from)];
  const values = new Float32Array(own.length + joints.length * 16);
  values.set(own);
  joints.forEach((joint, at) => {
    const place = from.listJoints().indexOf(joint);
    values.set(theirs.subarray(place * 16, place * 16 + 16), own.length + at * 16);
    skin.addJoint(joint);
  });
  const matrices = document.createAccessor().setType('MAT4').setArray(values).setBuffer(bufferOf(document));
  skin.setInverseBindMatrices(matrices);
}
