import { Quaternion, Vector3, type AnimationMixer, type Bone, type Object3D, type SkinnedMesh } from 'three';
import * as three from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';

/**
 * An independent reader: three's GLTFLoader, which shares no code with ours. Used only to check what we write.
 */
export interface Loaded {
  readonly scene: Object3D;
  readonly animations: three.AnimationClip[];
  /** Object of each node index. */
  readonly nodes: ReadonlyMap<number, Object3D>;
}

export async function loadWithThree(bytes: Uint8Array): Promise<Loaded> {
  installShims();
  const loader = new GLTFLoader();
  // Images need a page; their pixels play no part here.
  loader.register(() => ({ name: 'no-textures', loadTexture: () => Promise.resolve(new three.Texture()) }) as never);
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
  const gltf = await loader.parseAsync(buffer, '');
  const nodes = new Map<number, Object3D>();
  gltf.parser.associations.forEach((association, object) => {
    const index = (association as { nodes?: number } | undefined)?.nodes;
    if (index !== undefined && (object as Object3D).isObject3D) nodes.set(index, object as Object3D);
  });
  gltf.scene.updateMatrixWorld(true);
  return { scene: gltf.scene, animations: gltf.animations, nodes };
}

function installShims(): void {
  const scope = globalThis as Record<string, unknown>;
  scope.self ??= globalThis;
}

/** Drives the original file into a pose by node index, as any engine would. */
export function driveTo(loaded: Loaded, rig: Rig, pose: RigPose): void {
  for (const [bone, rotation] of Object.entries(pose.rotations)) {
    loaded.nodes.get(rig.bones[Number(bone)].nodeIndex)?.quaternion.copy(new Quaternion(...rotation));
  }
  loaded.scene.updateMatrixWorld(true);
  if (!pose.shift) return;
  const object = loaded.nodes.get(rig.bones[pose.shift.boneIndex].nodeIndex) as Object3D;
  const world = object.getWorldPosition(new Vector3()).add(new Vector3(...pose.shift.offset));
  object.position.copy(object.parent ? object.parent.worldToLocal(world) : world);
  loaded.scene.updateMatrixWorld(true);
}

/** World positions of all skinned vertices, mesh by mesh in file order. */
export function skinnedVertices(loaded: Loaded): Vector3[] {
  const out: Vector3[] = [];
  loaded.scene.traverse((object) => {
    const mesh = object as SkinnedMesh;
    if (!mesh.isSkinnedMesh) return;
    mesh.skeleton.update();
    for (let vertex = 0; vertex < mesh.geometry.attributes.position.count; vertex++) {
      const point = new Vector3().fromBufferAttribute(
        mesh.geometry.attributes.position as three.BufferAttribute,
        vertex,
      );
      mesh.applyBoneTransform(vertex, point);
      out.push(point.applyMatrix4(mesh.matrixWorld));
    }
  });
  return out;
}

/** The furthest that a vertex of one lies from the same one of the other, metres. */
export function furthest(a: readonly Vector3[], b: readonly Vector3[]): number {
  if (a.length !== b.length) throw new Error(`${a.length} vertices against ${b.length}`);
  return a.reduce((most, point, at) => Math.max(most, point.distanceTo(b[at])), 0);
}

/** World positions of the vertices that a bone carries at least a share of. */
export function carriedBy({ scene }: Loaded, name: string, least: number): Vector3[] {
  const out: Vector3[] = [];
  scene.traverse((object) => {
    const mesh = object as SkinnedMesh;
    if (!mesh.isSkinnedMesh) return;
    const bone = mesh.skeleton.bones.findIndex((each) => each.name === name);
    const { skinIndex, skinWeight, position } = mesh.geometry.attributes;
    for (let vertex = 0; vertex < position.count; vertex++)
      for (let slot = 0; slot < 4; slot++)
        if (skinIndex.getComponent(vertex, slot) === bone && skinWeight.getComponent(vertex, slot) >= least)
          out.push(mesh.localToWorld(mesh.getVertexPosition(vertex, new Vector3())));
  });
  return out;
}

/** World positions of bones by name. */
export function bonePositions(loaded: Loaded): Map<string, Vector3> {
  const out = new Map<string, Vector3>();
  loaded.scene.traverse((object) => {
    if ((object as Bone).isBone) out.set(object.name, object.getWorldPosition(new Vector3()));
  });
  return out;
}

export function playAt(loaded: Loaded, clip: number, seconds: number): AnimationMixer {
  const mixer = new three.AnimationMixer(loaded.scene);
  mixer.clipAction(loaded.animations[clip]).setLoop(three.LoopOnce, 1).play();
  mixer.setTime(seconds);
  loaded.scene.updateMatrixWorld(true);
  return mixer;
}
