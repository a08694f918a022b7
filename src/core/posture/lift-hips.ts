import { axisVector, type AxisName } from '../frame/normalise';
import { translationOf, type Mat4 } from '../math/mat4';
import { dot, type Vec3 } from '../math/vec3';
import type { RigPose } from '../rig/pose';

/** What says where the hips are and which way is up. */
interface Upright {
  readonly roleBones: ReadonlyMap<string, number>;
  readonly normalisation: { readonly up: AxisName };
}

/** The pose with the hips so much higher. @param rise file units along the body's up. */
export function liftHips({ roleBones, normalisation }: Upright, pose: RigPose, rise: number): RigPose {
  const hips = roleBones.get('hips');
  if (hips === undefined) return pose;
  const up = axisVector(normalisation.up);
  const known: Vec3 = pose.shift?.offset ?? [0, 0, 0];
  const offset: Vec3 = [known[0] + up[0] * rise, known[1] + up[1] * rise, known[2] + up[2] * rise];
  return { ...pose, shift: Math.hypot(...offset) > 1e-9 ? { boneIndex: hips, offset } : null };
}

/** Height of the lower ankle along the body's up, file units; null without feet. */
export function ankleHeight({ roleBones, normalisation }: Upright, worlds: readonly Mat4[]): number | null {
  const up = axisVector(normalisation.up);
  const heights = ['leftFoot', 'rightFoot']
    .map((role) => roleBones.get(role))
    .filter((bone) => bone !== undefined)
    .map((bone) => dot(translationOf(worlds[bone]), up));
  return heights.length > 0 ? Math.min(...heights) : null;
}

/** How much higher a pose has the hips than the file's rest, metres; null where it leaves them. */
export const hipsLift = (
  { shift }: RigPose,
  { up, scale }: { readonly up: AxisName; readonly scale: number },
): number | null => shift && dot(shift.offset, axisVector(up)) * scale;
