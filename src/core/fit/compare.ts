import type { Definition } from '../definition/definition';
import type { LineFit, Match } from '../match/context/match-types';
import type { Rig } from '../rig/rig';
import { lineFitsOf } from '../match/verdict/line-fits';
import { nearestAbove, parentsOf } from '../rig/bone-tree';
import { computeRigShape } from '../rig/rig-shape';
import { roleBonesOf, type FitState } from './fit';

/** A fit with what it speaks of. */
export interface ComparedFit {
  readonly rig: Rig;
  readonly match: Match;
  readonly state: FitState;
}

export type DifferenceKind =
  'vacant here' | 'vacant there' | 'other name' | 'other parent' | 'longer run' | 'shorter run' | 'same';

export interface RoleComparison {
  readonly role: string;
  readonly here: string | null;
  readonly there: string | null;
  /** The gravest difference first; `same` alone where there is none. */
  readonly kinds: readonly DifferenceKind[];
}

const GRAVITY: readonly DifferenceKind[] = [
  'vacant here',
  'vacant there',
  'other parent',
  'shorter run',
  'longer run',
  'other name',
  'same',
];

/**
 * This fit beside another character's, role by role, differences first. Names are compared without the prefixes that
 * each rig's names share, since those differ between vendors and say nothing.
 */
export function compareFits(definition: Definition, here: ComparedFit, there: ComparedFit): RoleComparison[] {
  const [a, b] = [describe(definition, here), describe(definition, there)];
  const order = new Map(definition.roles.map(({ id }, at) => [id, at]));
  return definition.roles
    .filter(({ id }) => a.names.has(id) || b.names.has(id))
    .map(({ id }): RoleComparison => {
      const [nameHere, nameThere] = [a.names.get(id) ?? null, b.names.get(id) ?? null];
      const kinds: DifferenceKind[] = [];
      if (nameHere === null) kinds.push('vacant here');
      else if (nameThere === null) kinds.push('vacant there');
      else {
        if (a.parents.get(id) !== b.parents.get(id)) kinds.push('other parent');
        const members = (a.members.get(id) ?? 0) - (b.members.get(id) ?? 0);
        if (members !== 0) kinds.push(members > 0 ? 'longer run' : 'shorter run');
        if (nameHere.toLowerCase() !== nameThere.toLowerCase()) kinds.push('other name');
      }
      return { role: id, here: nameHere, there: nameThere, kinds: kinds.length > 0 ? kinds : ['same'] };
    })
    .sort(
      (x, y) =>
        GRAVITY.indexOf(x.kinds[0]) - GRAVITY.indexOf(y.kinds[0]) ||
        (order.get(x.role) ?? 0) - (order.get(y.role) ?? 0),
    );
}

interface Described {
  readonly names: ReadonlyMap<string, string>;
  /** Nearest role above in the rig's own tree. */
  readonly parents: ReadonlyMap<string, string | null>;
  /** Bones of a run that follow a role without one of their own. */
  readonly members: ReadonlyMap<string, number>;
}

function describe(definition: Definition, { rig, match, state }: ComparedFit): Described {
  const bones = roleBonesOf(state);
  const roles = new Map([...bones].map(([role, bone]) => [bone, role]));
  const parents = parentsOf(rig);
  const roleAbove = (bone: number): string | null =>
    roles.get(nearestAbove(parents, bone, (above) => roles.has(above))) ?? null;
  return {
    names: new Map(
      [...bones].map(([role, bone]) => [
        role,
        rig.bones[bone].name.slice(match.prefixLengths[bone] ?? 0) || rig.bones[bone].name,
      ]),
    ),
    parents: new Map([...bones].map(([role, bone]) => [role, roleAbove(bone)])),
    members: membersAfter(lineFitsOf(computeRigShape(rig), definition, bones)),
  };
}

/** Role after which extra bones of a run stand, and how many. */
export function membersAfter(lines: readonly LineFit[]): Map<string, number> {
  const members = new Map<string, number>();
  for (const line of lines) {
    const anchors = Object.entries(line.anchors).sort((a, b) => a[1] - b[1]);
    anchors.forEach(([role, at], index) => {
      const next = anchors[index + 1]?.[1] ?? line.bones.length;
      if (next - at > 1) members.set(role, next - at - 1);
    });
  }
  return members;
}
