import { Document, NodeIO } from '@gltf-transform/core';
import { rigOfSize } from '../match/growth';

/** A biped in a costume of that many bones, with one triangle bound to each, as a GLB. */
export async function bigGlb(bones: number): Promise<Uint8Array> {
  const rig = rigOfSize(bones);
  const document = new Document();
  const buffer = document.createBuffer();
  const nodes = rig.bones.map((bone) => document.createNode(bone.name));
  const place = (index: number) => rig.bones[index].restWorld.slice(12, 15);
  const positions: number[] = [];
  const joints: number[] = [];
  rig.bones.forEach(({ index, parent }) => {
    const own = place(index);
    const above = parent >= 0 ? place(parent) : [0, 0, 0];
    nodes[index].setTranslation([own[0] - above[0], own[1] - above[1], own[2] - above[2]]);
    if (parent >= 0) nodes[parent].addChild(nodes[index]);
    for (const [x, y] of [
      [0, 0],
      [0.01, 0],
      [0, 0.01],
    ]) {
      positions.push(own[0] + x, own[1] + y, own[2]);
      joints.push(index, 0, 0, 0);
    }
  });
  const accessor = (type: 'VEC3' | 'VEC4' | 'MAT4', array: Float32Array | Uint16Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const inverse = new Float32Array(
    rig.bones.flatMap(({ index }) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...place(index).map((value) => -value), 1]),
  );
  const skin = document.createSkin().setInverseBindMatrices(accessor('MAT4', inverse));
  nodes.forEach((node) => skin.addJoint(node));
  const weights = new Float32Array(joints.length);
  for (let at = 0; at < weights.length; at += 4) weights[at] = 1;
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', new Float32Array(positions)))
    .setAttribute('JOINTS_0', accessor('VEC4', new Uint16Array(joints)))
    .setAttribute('WEIGHTS_0', accessor('VEC4', weights));
  const body = document.createNode('body').setMesh(document.createMesh('body').addPrimitive(primitive)).setSkin(skin);
  const scene = document.createScene().addChild(body);
  rig.bones.forEach(({ index, parent }) => {
    if (parent < 0) scene.addChild(nodes[index]);
  });
  return new NodeIO().writeBinary(document);
}
