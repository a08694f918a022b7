import { labelOf, listNames, type Check } from '../finding';

/** Roles whose bone nobody has confirmed though the first pass was in doubt, and figures that are no humanoids. */
export const checkDoubts: Check = (input) => {
  const findings = [];
  const doubtful = Object.entries(input.fit.assignments)
    .filter(([, assignment]) => assignment.state === 'doubtful')
    .map(([role]) => role);
  if (doubtful.length > 0) {
    findings.push({
      aspect: 'doubtful',
      severity: 'caution' as const,
      sentence: `${doubtful.length} ${doubtful.length === 1 ? 'role is' : 'roles are'} still doubtful: ${listNames(
        doubtful.map((role) => labelOf(input, role)),
        3,
      )}.`,
      measured: `${doubtful.length} doubtful`,
      allowed: 'none',
      why: 'A wrong bone in a role shows only in motion.',
      remedy: 'On Match, settle or correct each of them.',
      boneIndices: doubtful.map((role) => input.fit.assignments[role].boneIndex),
      roles: doubtful,
    });
  }
  if (!input.match.creature.isHumanoid) {
    findings.push({
      aspect: 'creature',
      severity: 'caution' as const,
      sentence: `This does not look like a humanoid: ${input.match.creature.reasons[0]}.`,
      measured: input.match.creature.kind,
      allowed: 'humanoid',
      why: 'The definition fits two arms, two legs and a head.',
      remedy: 'Leave it out of the humanoid queue, or map the required roles by hand.',
      boneIndices: [],
      roles: [],
    });
  }
  return findings;
};
