import { decompose } from '../../math/mat4';
import { multiply, angleOf, type Quat } from '../../math/quat';
import { rootAboveHips } from '../../fit/fit';
import type { Check } from '../finding';

/** The root stands as the engine's world does. */
export const checkRootTurn: Check = ({ rig, fit, profile, normalisation, names, options }) => {
  if (profile.rootBone === 'forbidden' || names.addsRoot || options.reorients || options.conform) return [];
  const root = rootAboveHips(rig, fit);
  if (root === null) return [];
  const turn = multiply(normalisation.rotation as Quat, decompose(rig.bones[root].restWorld).rotation);
  const degrees = (angleOf(turn) * 180) / Math.PI;
  if (degrees <= profile.rootTurnDegrees) return [];
  return [
    {
      aspect: 'turned',
      severity: 'caution',
      sentence: `The root ${rig.bones[root].name} is turned by ${degrees.toFixed(1)} degrees against the world.`,
      measured: `${degrees.toFixed(1)} degrees`,
      allowed: `within ${profile.rootTurnDegrees} degrees`,
      amount: { measured: degrees, allowed: profile.rootTurnDegrees, unit: 'degrees' },
      why: 'The engine moves the character along the axes of its root.',
      remedy: 'Let handoff turn the joints to the axes of the profile.',
      boneIndices: [root],
      repair: 're-orient',
    },
  ];
};
