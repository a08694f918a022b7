import type { Definition } from '../definition/definition';
import type { Match } from '../match/context/match-types';
import type { Rig } from '../rig/rig';
import { computeRigShape } from '../rig/rig-shape';
import type { FitState } from './fit';

export type ReviewScope = 'doubtful' | 'all';

/** A bone that could take a role, and why. */
export interface ReviewCandidate {
  readonly boneIndex: number;
  /** Of the first pass; null for a bone that it did not consider. */
  readonly confidence: number | null;
  readonly evidence: readonly string[];
}

const NO_ROLES: ReadonlySet<string> = new Set();

/** Roles whose bone contradicts the tree's order, from the findings: a clash that nobody settled is a doubt. */
export const clashingRoles = (
  findings: readonly { readonly check: string; readonly roles: readonly string[] }[],
): ReadonlySet<string> => new Set(findings.filter(({ check }) => check === 'tree-order').map(({ roles }) => roles[0]));

/** Doubtful roles, and those that clash and are not settled, in the order of the definition. */
export const doubtsOf = (
  { roles }: Pick<Definition, 'roles'>,
  { assignments }: Pick<FitState, 'assignments'>,
  clashes: ReadonlySet<string>,
): string[] =>
  roles
    .map(({ id }) => id)
    .filter((id) => {
      const state = assignments[id]?.state;
      return state === 'doubtful' || (state === 'proposed' && clashes.has(id));
    });

/**
 * Roles that a person has yet to look at: doubts first, then, for `all`, what is proposed and the required roles that are
 * vacant, in the order of the definition. What is settled or left vacant on purpose is done.
 */
export function rolesToReview(
  definition: Definition,
  state: FitState,
  scope: ReviewScope,
  clashes: ReadonlySet<string> = NO_ROLES,
): string[] {
  const inState = (wanted: string) =>
    definition.roles.filter(({ id }) => state.assignments[id]?.state === wanted).map(({ id }) => id);
  const doubts = doubtsOf(definition, state, clashes);
  const missing = definition.roles
    .filter(({ id, required }) => required && !state.assignments[id] && !state.leftVacant.includes(id))
    .map(({ id }) => id);
  if (scope === 'doubtful') return [...doubts, ...missing];
  const rest = new Set([...inState('proposed').filter((id) => !doubts.includes(id)), ...missing]);
  return [...doubts, ...definition.roles.map(({ id }) => id).filter((id) => rest.has(id))];
}

/** Bones for a role: the one that it has, then those of the first pass, most likely first. */
export function candidatesFor(role: string, state: FitState, match: Match): ReviewCandidate[] {
  const held = state.assignments[role];
  const proposal = match.assignments[role];
  const ranked: ReviewCandidate[] = proposal
    ? [proposal, ...proposal.runnersUp].map(({ boneIndex, confidence, evidence }) => ({
        boneIndex,
        confidence,
        evidence,
      }))
    : [];
  if (!held) return ranked;
  const own = ranked.find(({ boneIndex }) => boneIndex === held.boneIndex) ?? {
    boneIndex: held.boneIndex,
    confidence: null,
    evidence: ['put here by hand'],
  };
  return [own, ...ranked.filter(({ boneIndex }) => boneIndex !== held.boneIndex)];
}

/** The bones below one, as candidates: for going down a limb when the right bone was not among those ranked. */
export function candidatesBelow(bone: number, rig: Rig, match: Match): ReviewCandidate[] {
  const shape = computeRigShape(rig);
  const spares = new Map(match.spares.map((spare) => [spare.boneIndex, spare]));
  return [...shape.children[bone]]
    .sort((a, b) => shape.reaches[b] - shape.reaches[a])
    .map((boneIndex) => {
      const spare = spares.get(boneIndex);
      const skin = rig.bones[boneIndex].skinVertexCount;
      return {
        boneIndex,
        confidence: null,
        evidence: [
          spare ? `${spare.kind}: ${spare.reason}` : 'has a role or stands in a run',
          skin > 0 ? `carries ${skin.toLocaleString('en')} vertices` : 'carries no vertices',
        ],
      };
    });
}
