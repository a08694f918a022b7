import type { Role } from '../../definition/definition';
import { labelOf, listNames, type Check } from '../finding';

/** Every required role has a bone; optional ones that have none are stated. */
export const checkRequiredRoles: Check = (input) => {
  const vacant = input.definition.roles.filter((role) => !(role.id in input.fit.assignments));
  const isRequired = ({ id, required }: Role): boolean => required || input.profile.requiredRoles.includes(id);
  const required = vacant.filter(isRequired).map((role) => role.id);
  const optional = vacant.filter((role) => !isRequired(role)).map((role) => role.id);
  const requiredCount = input.definition.roles.filter(isRequired).length;
  const findings = [];
  if (required.length > 0) {
    findings.push({
      aspect: 'required',
      severity: 'blocker' as const,
      sentence: `${listNames(required.map((role) => labelOf(input, role)))} ${required.length === 1 ? 'has' : 'have'} no bone.`,
      measured: `${requiredCount - required.length} of ${requiredCount} required roles`,
      allowed: `all ${requiredCount}`,
      why: "The studio's animation moves these roles; without a bone the limb stays still.",
      remedy:
        'On Match, pick the role and then its bone; where the rig has none, pick the bone below and insert a joint above it.',
      boneIndices: [],
      roles: required,
    });
  }
  if (optional.length > 0) {
    findings.push({
      aspect: 'optional',
      severity: 'note' as const,
      sentence: `${optional.length} optional ${optional.length === 1 ? 'role has' : 'roles have'} no bone: ${listNames(
        optional.map((role) => labelOf(input, role)),
        3,
      )}.`,
      measured: `${optional.length} vacant`,
      allowed: 'any number',
      why: 'Animation of these roles is dropped on this character.',
      remedy: 'Nothing is needed if the character has no such bones.',
      boneIndices: [],
      roles: optional,
    });
  }
  return findings;
};
