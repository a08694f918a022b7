import { gltfFacts } from '@/core/rig/source-facts';
import { Document } from '@gltf-transform/core';
import { fromAxisAngle, type Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import type { Bone, Rig } from '@/core/rig/rig';
import { compose, invertAffine, multiply as multiplyMat, decompose } from '@/core/math/mat4';
import { createNodeIO } from '@/formats/gltf/node-io';

export interface PlainBone {
  readonly name: string;
  readonly parent: string | null;
  readonly position: Vec3;
}

/** A rig of plain joints at the given world places, without mesh. Parents come first. */
export function makeRig(bones: readonly PlainBone[], withSkin = false): Rig {
  const index = new Map(bones.map((bone, at) => [bone.name, at]));
  const made = bones
    .map((bone, at): Bone => {
      const parent = bone.parent === null ? -1 : index.get(bone.parent);
      if (parent === undefined)
        throw new RangeError(`makeRig: ${bone.name} hangs on ${bone.parent}, which is not there`);
      const world = compose(bone.position, [0, 0, 0, 1], [1, 1, 1]);
      const parentWorld = parent >= 0 ? compose(bones[parent].position, [0, 0, 0, 1], [1, 1, 1]) : null;
      const local = parentWorld ? multiplyMat(invertAffine(parentWorld) as number[], world) : world;
      return {
        index: at,
        name: bone.name,
        isNamed: true,
        nodeIndex: at,
        parent,
        rest: {
          ...decompose(local),
          scale: [1, 1, 1],
          translation: decompose(local).translation,
          rotation: [0, 0, 0, 1],
        },
        restWorld: world,
        bindWorld: null,
        isJoint: withSkin,
        skinWeight: withSkin ? 10 : 0,
        skinVertexCount: withSkin ? 10 : 0,
        skinCentre: null,
      };
    })
    .map(({ rest, ...bone }) => ({
      ...bone,
      rest: { translation: rest.translation, rotation: rest.rotation, scale: rest.scale },
    }));
  return {
    source: gltfFacts(),
    kind: 'skeleton',
    bones: made,
    extras: [],
    clips: [],
    poses: [],
    statedRoles: {},
    skinCount: 0,
    remarks: [],
    mesh: {
      primitiveCount: 0,
      vertexCount: 0,
      triangleCount: 0,
      materialCount: 0,
      textureCount: 0,
      morphTargetCount: 0,
      maxInfluences: 0,
      bounds: null,
    },
  };
}

/** Moves a whole GLB in its file: turned, scaled and laid down by a node above everything, or in the joints themselves. */
export async function wrapGlb(bytes: Uint8Array, transform: { rotation?: Quat; scale?: number }): Promise<Uint8Array> {
  const document = await createNodeIO().readBinary(bytes);
  const scene = document.getRoot().listScenes()[0];
  const k = transform.scale ?? 1;
  const holder = document
    .createNode('holder')
    .setRotation([...(transform.rotation ?? [0, 0, 0, 1])] as [number, number, number, number])
    .setScale([k, k, k]);
  for (const child of scene.listChildren()) {
    scene.removeChild(child);
    holder.addChild(child);
  }
  scene.addChild(holder);
  return createNodeIO().writeBinary(document);
}

export const turnY = (degrees: number): Quat => fromAxisAngle([0, 1, 0], (degrees * Math.PI) / 180);
export const layDown: Quat = fromAxisAngle([1, 0, 0], -Math.PI / 2);

/** Four legs, trunk level, neck and head ahead, a tail. */
export function muleBones(): PlainBone[] {
  const bones: PlainBone[] = [
    { name: 'a0', parent: null, position: [0, 1.3, -0.6] },
    { name: 'a1', parent: 'a0', position: [0, 1.32, -0.3] },
    { name: 'a2', parent: 'a1', position: [0, 1.32, 0.1] },
    { name: 'a3', parent: 'a2', position: [0, 1.35, 0.45] },
    { name: 'a4', parent: 'a3', position: [0, 1.6, 0.75] },
    { name: 'a5', parent: 'a4', position: [0, 1.85, 1] },
    { name: 't0', parent: 'a0', position: [0, 1.25, -0.8] },
    { name: 't1', parent: 't0', position: [0, 1.0, -0.95] },
  ];
  for (const [side, x] of [
    ['l', 0.2],
    ['r', -0.2],
  ] as const) {
    bones.push(
      { name: `h0${side}`, parent: 'a0', position: [x, 1.15, -0.6] },
      { name: `h1${side}`, parent: `h0${side}`, position: [x, 0.75, -0.5] },
      { name: `h2${side}`, parent: `h1${side}`, position: [x, 0.4, -0.68] },
      { name: `h3${side}`, parent: `h2${side}`, position: [x, 0.08, -0.6] },
      { name: `f0${side}`, parent: 'a3', position: [x, 1.1, 0.45] },
      { name: `f1${side}`, parent: `f0${side}`, position: [x, 0.72, 0.4] },
      { name: `f2${side}`, parent: `f1${side}`, position: [x, 0.38, 0.47] },
      { name: `f3${side}`, parent: `f2${side}`, position: [x, 0.08, 0.48] },
    );
  }
  return bones;
}

/** A lantern on a chain with a little door. */
export const lanternBones = (): PlainBone[] => [
  { name: 'hook', parent: null, position: [0, 1, 0] },
  ...Array.from({ length: 8 }, (_, at): PlainBone => ({
    name: `link${at}`,
    parent: at === 0 ? 'hook' : `link${at - 1}`,
    position: [0, 0.95 - at * 0.05, 0],
  })),
  { name: 'case', parent: 'link7', position: [0, 0.5, 0] },
  { name: 'door', parent: 'case', position: [0.1, 0.45, 0.05] },
  { name: 'wick', parent: 'case', position: [0, 0.42, 0] },
];

/** A small skinned biped built with the library alone: 20 bones, boxes for limbs, other proportions than the cast. */
export async function foreignBiped(): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const spec: [string, string | null, Vec3][] = [
    ['pelvis', null, [0, 0.8, 0]],
    ['lumbar', 'pelvis', [0, 0.95, 0]],
    ['ribs', 'lumbar', [0, 1.12, 0]],
    ['neck', 'ribs', [0, 1.32, 0]],
    ['skull', 'neck', [0, 1.4, 0.01]],
  ];
  for (const [mark, s] of [
    ['sx', 1],
    ['dx', -1],
  ] as const) {
    spec.push(
      [`coscia ${mark}`, 'pelvis', [0.1 * s, 0.78, 0]],
      [`ginocchio ${mark}`, `coscia ${mark}`, [0.1 * s, 0.42, 0.01]],
      [`caviglia ${mark}`, `ginocchio ${mark}`, [0.1 * s, 0.07, -0.01]],
      [`dita piede ${mark}`, `caviglia ${mark}`, [0.1 * s, 0.02, 0.1]],
    );
    spec.push(
      [`clavicola ${mark}`, 'ribs', [0.05 * s, 1.26, 0]],
      [`braccio ${mark}`, `clavicola ${mark}`, [0.16 * s, 1.26, 0]],
      [`gomito ${mark}`, `braccio ${mark}`, [0.3 * s, 1.08, -0.01]],
      [`mano ${mark}`, `gomito ${mark}`, [0.42 * s, 0.9, 0.01]],
    );
  }
  const nodes = new Map(spec.map(([name]) => [name, document.createNode(name)]));
  const at = new Map(spec.map(([name, , place]) => [name, place]));
  const inverse: number[] = [];
  const skin = document.createSkin();
  const positions: number[] = [];
  const joints: number[] = [];
  const weights: number[] = [];
  const indices: number[] = [];
  spec.forEach(([name, parent, place], index) => {
    const base = parent ? (at.get(parent) as Vec3) : [0, 0, 0];
    const node = nodes.get(name)?.setTranslation([place[0] - base[0], place[1] - base[1], place[2] - base[2]]);
    if (!node) return;
    if (parent) nodes.get(parent)?.addChild(node);
    else scene.addChild(node);
    skin.addJoint(node);
    inverse.push(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -place[0], -place[1], -place[2], 1);
    const first = positions.length / 3;
    for (const dx of [-0.04, 0.04])
      for (const dy of [-0.04, 0.04])
        for (const dz of [-0.04, 0.04]) {
          positions.push(place[0] + dx, place[1] + dy, place[2] + dz);
          joints.push(index, parent ? spec.findIndex(([other]) => other === parent) : index, 0, 0);
          weights.push(0.7, 0.3, 0, 0);
        }
    indices.push(
      first,
      first + 1,
      first + 2,
      first + 1,
      first + 3,
      first + 2,
      first + 4,
      first + 6,
      first + 5,
      first + 5,
      first + 6,
      first + 7,
    );
  });
  const accessor = (type: 'VEC3' | 'VEC4' | 'SCALAR' | 'MAT4', array: Float32Array | Uint8Array | Uint16Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  skin.setInverseBindMatrices(accessor('MAT4', new Float32Array(inverse)));
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', new Float32Array(positions)))
    .setAttribute('JOINTS_0', accessor('VEC4', new Uint8Array(joints)))
    .setAttribute('WEIGHTS_0', accessor('VEC4', new Float32Array(weights)))
    .setIndices(accessor('SCALAR', new Uint16Array(indices)));
  scene.addChild(document.createNode('body').setMesh(document.createMesh().addPrimitive(primitive)).setSkin(skin));
  return createNodeIO().writeBinary(document);
}
