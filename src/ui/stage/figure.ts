import * as three from 'three';
import { clone } from 'three/addons/utils/SkeletonUtils.js';
import type { Normalisation } from '@/core/frame/normalise';
import type { Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import type { RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { materialsOf, type StageModel } from './load-model';

export type StageMesh = 'solid' | 'see-through' | 'hidden';

const SEE_THROUGH = 0.34;
const GHOST = 0.2;

/** Local values of some bones; views of longer arrays, so that playing copies nothing. */
interface FrameValues {
  readonly bones: ArrayLike<number>;
  readonly values: Float32Array;
  readonly at: number;
}

/** A frame of a motion for one figure. */
export interface FigureFrame {
  readonly turned: FrameValues;
  readonly placed: FrameValues;
  /** Weights of morph targets by name, from `at` on; those that are not named rest. */
  readonly morphs: { readonly names: readonly string[]; readonly values: Float32Array; readonly at: number };
}

/** One posed mesh on the stage: the character itself, or a pale copy of it in another pose. */
export class Figure {
  /** File space to metres in body axes. */
  readonly group = new three.Group();
  private readonly bones: { readonly node: three.Object3D; readonly rest: Rig['bones'][number]['rest'] }[];
  private readonly ghost: three.MeshBasicMaterial | null = null;
  private readonly world = new three.Vector3();
  private readonly toFile = new three.Matrix4();
  private readonly aside = new three.Vector3();
  private normalisation: Normalisation | null = null;
  private readonly morphed: { readonly mesh: three.Mesh; readonly places: Readonly<Record<string, number>> }[] = [];

  /** @param model what is posed. @param isGhost a copy that shares the meshes and has one flat colour. */
  constructor(
    private readonly model: StageModel,
    private readonly rig: Rig,
    isGhost: boolean,
  ) {
    this.group.matrixAutoUpdate = false;
    const nodes = isGhost ? this.copy() : model.nodes;
    this.bones = rig.bones.map(({ nodeIndex, rest }) => ({
      node: nodes.get(nodeIndex) ?? new three.Object3D(),
      rest,
    }));
    if (isGhost) {
      this.ghost = new three.MeshBasicMaterial({ transparent: true, opacity: GHOST, depthWrite: false });
      this.eachMesh((mesh) => {
        mesh.material = this.ghost as three.Material;
        mesh.renderOrder = -1;
      });
    } else this.group.add(model.scene);
    this.eachMesh((mesh) => {
      // The bounds are those of the rest, and a pose may leave them.
      mesh.frustumCulled = false;
      if (mesh.morphTargetDictionary) this.morphed.push({ mesh, places: mesh.morphTargetDictionary });
    });
  }

  setNormalisation(normalisation: Normalisation): void {
    this.normalisation = normalisation;
    this.compose();
  }

  private compose(): void {
    if (!this.normalisation) return;
    const { rotation, scale } = this.normalisation;
    this.group.matrix.compose(
      this.aside,
      new three.Quaternion(...(rotation as Quat)),
      new three.Vector3(scale, scale, scale),
    );
    this.group.matrixWorldNeedsUpdate = true;
  }

  /** Puts the mesh into a pose: the rest with some rotations replaced and one bone shifted. */
  setPose(pose: RigPose): void {
    for (let bone = 0; bone < this.bones.length; bone++) {
      const { node, rest } = this.bones[bone];
      const rotation = pose.rotations[bone] ?? rest.rotation;
      node.quaternion.set(rotation[0], rotation[1], rotation[2], rotation[3]);
      node.position.set(rest.translation[0], rest.translation[1], rest.translation[2]);
    }
    if (pose.shift) this.shift(pose.shift.boneIndex, pose.shift.offset);
  }

  /**
   * Puts some bones into a frame of a motion, over the pose that was set last.
   * A frame of a rig with further bones is another file's, whose reading has just been replaced: it is let go.
   * @param turned local rotations of `bones`, from `at` on. @param placed local translations, likewise.
   */
  setFrame({ turned, placed, morphs }: FigureFrame): void {
    if (Math.max(lastOf(turned.bones), lastOf(placed.bones)) >= this.bones.length) return;
    for (let each = 0; each < turned.bones.length; each++) {
      const from = turned.at + each * 4;
      const { values } = turned;
      this.bones[turned.bones[each]].node.quaternion.set(
        values[from],
        values[from + 1],
        values[from + 2],
        values[from + 3],
      );
    }
    for (let each = 0; each < placed.bones.length; each++) {
      const from = placed.at + each * 3;
      const { values } = placed;
      this.bones[placed.bones[each]].node.position.set(values[from], values[from + 1], values[from + 2]);
    }
    if (morphs.names.length > 0) this.setMorphs(morphs);
  }

  /** Back to a mesh that nothing bends: what another motion named stays otherwise. */
  restMorphs(): void {
    for (const { mesh } of this.morphed) mesh.morphTargetInfluences?.fill(0);
  }

  /** Weights of some targets, over those that stand. */
  setMorphs({ names, values, at }: FigureFrame['morphs']): void {
    for (const { mesh, places } of this.morphed)
      names.forEach((name, each) => {
        const place = places[name];
        if (place !== undefined && mesh.morphTargetInfluences) mesh.morphTargetInfluences[place] = values[at + each];
      });
  }

  /** Stands the figure aside, metres. */
  setAside([x, y, z]: Vec3): void {
    this.aside.set(x, y, z);
    this.compose();
  }

  /** The shift is in file space; the group's own matrix must not take part. */
  private shift(bone: number, offset: readonly number[]): void {
    const { node } = this.bones[bone];
    if (!node.parent) return;
    node.updateWorldMatrix(true, false);
    this.world.setFromMatrixPosition(node.matrixWorld).applyMatrix4(this.toFile.copy(this.group.matrix).invert());
    this.world.x += offset[0];
    this.world.y += offset[1];
    this.world.z += offset[2];
    node.position.copy(node.parent.worldToLocal(this.world.applyMatrix4(this.group.matrix)));
  }

  setMesh(mode: StageMesh): void {
    this.group.visible = mode !== 'hidden';
    if (this.ghost) return;
    this.eachMesh((mesh) => {
      for (const material of materialsOf(mesh)) {
        const isThrough = mode === 'see-through';
        if (material.transparent !== isThrough) material.needsUpdate = true;
        material.transparent = isThrough;
        material.opacity = isThrough ? SEE_THROUGH : 1;
      }
    });
  }

  /** Colour of a ghost. */
  setTint(colour: string): void {
    this.ghost?.color.set(colour);
  }

  /** Frees what is the figure's own; the model belongs to whoever opened it. */
  dispose(): void {
    this.group.removeFromParent();
    this.ghost?.dispose();
    if (this.ghost)
      this.eachMesh((mesh) => {
        if ((mesh as three.SkinnedMesh).isSkinnedMesh) (mesh as three.SkinnedMesh).skeleton.dispose();
      });
    this.group.clear();
  }

  /** A copy of the model's tree in this figure, its nodes by index: copies have their nodes in the same order. */
  private copy(): ReadonlyMap<number, three.Object3D> {
    const scene = clone(this.model.scene);
    this.group.add(scene);
    const copies: three.Object3D[] = [];
    scene.traverse((object) => copies.push(object));
    const places = new Map<three.Object3D, number>();
    this.model.scene.traverse((object) => places.set(object, places.size));
    return new Map([...this.model.nodes].map(([index, node]) => [index, copies[places.get(node) ?? 0]]));
  }

  private eachMesh(visit: (mesh: three.Mesh) => void): void {
    this.group.traverse((object) => {
      if ((object as three.Mesh).isMesh) visit(object as three.Mesh);
    });
  }
}

/** The highest of some bones; -1 without any. */
function lastOf(bones: ArrayLike<number>): number {
  let last = -1;
  for (let at = 0; at < bones.length; at++) if (bones[at] > last) last = bones[at];
  return last;
}
