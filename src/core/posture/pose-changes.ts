import { angleOf, conjugate, multiply, type Quat } from '../math/quat';
import type { RigPose } from '../rig/pose';
import type { Rig } from '../rig/rig';

/** How far one bone turns from one pose to another, against the bone above it. */
export interface BoneChange {
  readonly boneIndex: number;
  readonly radians: number;
}

/** Turns smaller than this are none: they come from how numbers are kept. */
const SEEN_RAD = (0.05 * Math.PI) / 180;

/** What changes between two poses of a rig, the most first. */
export function poseChanges({ bones }: Pick<Rig, 'bones'>, from: RigPose, to: RigPose): BoneChange[] {
  return bones
    .map(({ index, rest }) => {
      const [a, b] = [from, to].map(({ rotations }) => rotations[index] ?? (rest.rotation as Quat));
      return { boneIndex: index, radians: angleOf(multiply(conjugate(a), b)) };
    })
    .filter(({ radians }) => radians > SEEN_RAD)
    .sort((a, b) => b.radians - a.radians);
}
