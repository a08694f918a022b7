import { lineFitsOf } from '../match/verdict/line-fits';
import { distance, type Vec3 } from '../math/vec3';
import { computeRigShape } from '../rig/rig-shape';
import { roleAbove, type FittedRig } from './fitted-rig';
import type { Slot } from './motion';

/** A slot and the bone that stands in it. */
export interface BoneSlot extends Slot {
  readonly boneIndex: number;
}

/** Whether a line is a run of like joints, to be resampled where two figures count differently: back, neck, digits. */
export const isRun = (roles: readonly string[]): boolean =>
  !roles.some((role) => role.endsWith('Hand') || role.endsWith('Foot'));

/**
 * Joints of a figure line by line, with their places along the line: u is the distance to a joint over the distance to
 * the last one, counted from the joint that the line starts at (hips, upper chest, hand); a single joint stands at 1.
 *
 * @param places joints in the reference posture.
 */
export function lineSlots(fitted: FittedRig, places: readonly Vec3[]): BoneSlot[] {
  const { rig, definition, roleBones } = fitted;
  return lineFitsOf(computeRigShape(rig), definition, roleBones).flatMap(({ lineId, bones, anchors }) => {
    const roleAt = new Map(Object.entries(anchors).map(([role, at]) => [at, role]));
    const first = roleAt.get(0);
    const above = first === undefined ? null : roleAbove(fitted, first);
    const start = above === null ? bones[0] : (roleBones.get(above) as number);
    let [walked, from] = [0, places[start]];
    const reached = bones.map((bone) => {
      walked += distance(from, places[bone]);
      from = places[bone];
      return walked;
    });
    return bones.map((boneIndex, at) => ({
      line: lineId,
      role: roleAt.get(at) ?? null,
      u: walked > 1e-9 ? Math.min(1, reached[at] / walked) : (at + 1) / bones.length,
      boneIndex,
    }));
  });
}
