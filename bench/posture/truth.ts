import type { BodyFrame } from '@/core/frame/body-frame';
import { translationOf } from '@/core/math/mat4';
import { cross, mean, normalise, reject, subtract, type Vec3 } from '@/core/math/vec3';
import type { MadeRig } from '../match/make-rig';

/** Axes of a made rig's body from its true roles: left from the hip joints, up from hips to head. */
export function orientationOf({ rig, truth }: MadeRig): BodyFrame {
  const place = (role: string): Vec3 => translationOf(rig.bones[truth.indexOf(role)].restWorld);
  const left = normalise(subtract(place('leftUpperLeg'), place('rightUpperLeg'))) as Vec3;
  const middle = mean([place('leftUpperLeg'), place('rightUpperLeg')]);
  const up = normalise(reject(subtract(place('head'), middle), left)) as Vec3;
  return { up, left, facing: cross(left, up), confidence: 1, namesAreSwapped: false, reasons: [] };
}
