import type { BodyConcept } from '../../dialect/concepts';
import type { Rig } from '../../rig/rig';

/** What a file's own humanoid block says of a bone. */
export interface Stated {
  readonly concept: BodyConcept;
  readonly side: 'left' | 'right' | null;
}

/** Weight of the block against a name that says exactly the part (4): more, since somebody filled it in on purpose. */
export const STATED_WEIGHT = 6;

const CENTRE: Record<string, BodyConcept> = {
  hips: 'hips',
  spine: 'spine',
  chest: 'chest',
  upperChest: 'chest',
  neck: 'neck',
  head: 'head',
  jaw: 'jaw',
};
const SIDED: readonly (readonly [RegExp, BodyConcept])[] = [
  [/^Eye$/, 'eye'],
  [/^Shoulder$/, 'shoulder'],
  [/^UpperArm$/, 'upperArm'],
  [/^LowerArm$/, 'lowerArm'],
  [/^Hand$/, 'hand'],
  [/^UpperLeg$/, 'upperLeg'],
  [/^LowerLeg$/, 'lowerLeg'],
  [/^Foot$/, 'foot'],
  [/^Toes$/, 'toes'],
  [/^Thumb/, 'thumb'],
  [/^Index/, 'index'],
  [/^Middle/, 'middle'],
  [/^Ring/, 'ring'],
  [/^Little/, 'little'],
];

/** Stated roles by bone; roles that the role set does not know are passed over. */
export function readStatedRoles(rig: Rig): ReadonlyMap<number, Stated> {
  const stated = new Map<number, Stated>();
  for (const [role, bone] of Object.entries(rig.statedRoles)) {
    const sided = /^(left|right)(\w+)$/.exec(role);
    const concept = sided ? SIDED.find(([pattern]) => pattern.test(sided[2]))?.[1] : CENTRE[role];
    if (concept) stated.set(bone, { concept, side: sided ? (sided[1] as 'left' | 'right') : null });
  }
  return stated;
}
