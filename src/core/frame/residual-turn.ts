import { fromAxisAngle, multiply, type Quat } from '../math/quat';
import { add, lengthOf, scale, subtract, type Vec3 } from '../math/vec3';
import { translationOf } from '../math/mat4';
import type { Rig } from '../rig/rig';
import { toBody, type Normalisation } from './normalise';

/** A figure that stands less far off a file's axes stands on them: nobody models to a tenth of a degree. */
const ON_AXES_RAD = (4 * Math.PI) / 180;

/**
 * The normalisation that also takes off what snapping to the file's axes left: a figure that was turned by some degrees
 * in its file faces ahead. The turn is measured across hips and shoulders, which a pose of the head or of a foot does not
 * change. Positive `residualYawRad` is taken off.
 */
export function withoutResidualTurn(
  rig: Rig,
  normalisation: Normalisation,
  roleBones: ReadonlyMap<string, number>,
): Normalisation {
  const across = (['UpperLeg', 'UpperArm'] as const).reduce<Vec3>(
    (sum, part) => {
      const [left, right] = [roleBones.get(`left${part}`), roleBones.get(`right${part}`)];
      if (left === undefined || right === undefined) return sum;
      const [from, to] = [right, left].map((bone) => toBody(normalisation, translationOf(rig.bones[bone].restWorld)));
      return add(sum, subtract(to, from));
    },
    [0, 0, 0],
  );
  const flat: Vec3 = [across[0], 0, across[2]];
  const length = lengthOf(flat);
  if (length < 1e-6) return normalisation;
  const [x, , z] = scale(flat, 1 / length);
  // A turn about up by yaw takes +X to (cos, 0, -sin).
  const yawRad = Math.atan2(-z, x);
  if (Math.abs(yawRad) < ON_AXES_RAD) return normalisation;
  return {
    ...normalisation,
    rotation: multiply(fromAxisAngle([0, 1, 0], -yawRad), normalisation.rotation as Quat),
    residualYawRad: 0,
  };
}
