import { readFileSync } from 'node:fs';
import path from 'node:path';
import { AnimationMixer, Object3D, Vector3 } from 'three';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import type { Rig } from '@/core/rig/rig';
import { makeRig } from '../helpers/rig-maker';
import { MODELS } from './catalogue';

/** The skeleton of a BVH file as it stands at so many evenly spread moments of its motion, posed by three's own loader. */
export function posesOf(file: string, rig: Rig, count: number): Rig[] {
  const { skeleton, clip } = new BVHLoader().parse(readFileSync(path.join(MODELS, file), 'utf8'));
  const scene = new Object3D().add(skeleton.bones[0]);
  const mixer = new AnimationMixer(skeleton.bones[0]);
  mixer.clipAction(clip).play();
  const jointOf = new Map(
    skeleton.bones.map((joint) => [joint.name === 'ENDSITE' ? `${joint.parent?.name} end` : joint.name, joint]),
  );
  return Array.from({ length: count }, (_, at) => {
    mixer.setTime((clip.duration * (at + 0.5)) / count);
    scene.updateMatrixWorld(true);
    const posed = makeRig(
      rig.bones.map(({ name, parent }) => {
        const joint = jointOf.get(name);
        if (!joint) throw new Error(`three knows no joint ${name} in ${file}`);
        return {
          name,
          parent: parent < 0 ? null : rig.bones[parent].name,
          position: new Vector3().setFromMatrixPosition(joint.matrixWorld).toArray(),
        };
      }),
    );
    return { ...posed, bones: posed.bones.map((bone) => ({ ...bone, nodeIndex: rig.bones[bone.index].nodeIndex })) };
  });
}
