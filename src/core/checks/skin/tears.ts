import { boneRolesOf, roleBonesOf } from '../../fit/fit';
import { findTears, tornBeyond, type Tear } from '../../posture/tears';
import { computeWorlds } from '../../rig/pose';
import { labelOf, listNames, type Check } from '../finding';

const centimetres = (metres: number): string => `${(metres * 100).toFixed(1)} cm`;

/** The posture holds the figure together: no hand stays behind while its forearm is turned. */
export const checkTears: Check = (plan) => {
  const { rig, definition, normalisation, fit, pose, match } = plan;
  if (!match.creature.isHumanoid) return [];
  const tears = findTears({ rig, definition, normalisation, roleBones: roleBonesOf(fit) }, computeWorlds(rig, pose));
  if (tears.length === 0) return [];
  const roles = boneRolesOf(fit);
  const name = (bone: number): string => {
    const role = roles.get(bone);
    return role ? labelOf(plan, role).toLowerCase() : rig.bones[bone].name;
  };
  const text = ({ bones: [a, b], metres }: Tear): string => `${name(a)} and ${name(b)} by ${centimetres(metres)}`;
  const [worst] = tears;
  const allowed = tornBeyond(normalisation);
  return [
    {
      aspect: 'torn',
      severity: 'blocker',
      sentence: `The posture tears the figure apart: ${listNames(tears.map(text), 3)}.`,
      measured: centimetres(worst.metres),
      allowed: `within ${centimetres(allowed)}`,
      amount: { measured: worst.metres * 100, allowed: allowed * 100, unit: 'cm' },
      why: 'What hangs on no common bone does not go along when the other is turned, neither here nor in any motion.',
      remedy: 'On Intake, hang the lower bone on the one above it; or take a posture that leaves both where they are.',
      boneIndices: [...new Set(tears.flatMap(({ bones }) => bones))],
    },
  ];
};
