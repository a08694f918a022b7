import type { Definition } from '../definition/definition';
import type { FitState } from '../fit/fit';
import type { Normalisation } from '../frame/normalise';
import type { EngineProfile } from '../profile/profile';
import { distanceFromOrigin } from '../frame/from-origin';
import { parentsOf, topBoneAbove } from '../rig/bone-tree';
import type { Rig } from '../rig/rig';

export interface NamePlan {
  /** Name of each bone in the handed-off file, by bone index. */
  readonly names: readonly string[];
  /** Spare bones whose own name could not be kept. */
  readonly changedSpares: ReadonlySet<number>;
  /** True when a root has to be added above the top bone. */
  readonly addsRoot: boolean;
  readonly rootName: string;
}

/** Every bone under its own name, and nothing added. */
export const ownNames = ({ bones }: Pick<Rig, 'bones'>): NamePlan => ({
  names: bones.map(({ name }) => name),
  changedSpares: new Set(),
  addsRoot: false,
  rootName: '',
});

/**
 * Names at handoff: the studio's for mapped bones and the root, the file's own for spares, made legal and unique
 * (ignoring case) where the engine asks for it.
 */
export function planNames(input: {
  rig: Rig;
  fit: FitState;
  definition: Definition;
  profile: EngineProfile;
  normalisation: Normalisation;
  options?: { readonly addsRoot: boolean };
}): NamePlan {
  const { rig, fit, definition, profile, normalisation, options } = input;
  const rootName = definition.root.exportName;
  const names = new Array<string>(rig.bones.length).fill('');
  const taken = new Set<string>([rootName.toLowerCase()]);
  for (const role of definition.roles) {
    const bone = fit.assignments[role.id]?.boneIndex;
    if (bone === undefined) continue;
    names[bone] = role.exportName;
    taken.add(role.exportName.toLowerCase());
  }
  const hips = fit.assignments.hips?.boneIndex;
  const top = hips === undefined ? null : topBoneAbove(parentsOf(rig), hips);
  const rootStandsAtOrigin =
    top !== null && names[top] === '' && distanceFromOrigin(rig, top, normalisation) <= profile.rootOffsetMetres;
  if (rootStandsAtOrigin) names[top] = rootName;
  const allowed = new RegExp(profile.names.allowed, 'u');
  const changedSpares = new Set<number>();
  for (const bone of rig.bones) {
    if (names[bone.index] !== '') continue;
    const legal = makeLegal(bone.name, allowed, profile.names.maxLength);
    const unique = makeUnique(legal, taken, profile.names.maxLength);
    if (unique !== bone.name) changedSpares.add(bone.index);
    names[bone.index] = unique;
    taken.add(unique.toLowerCase());
  }
  return {
    names,
    changedSpares,
    addsRoot: !rootStandsAtOrigin && definition.root.required && (options?.addsRoot ?? true),
    rootName,
  };
}

function makeLegal(name: string, allowed: RegExp, maxLength: number): string {
  if (allowed.test(name) && name.length <= maxLength) return name;
  const plain = name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9_]+/g, '_')
    .replace(/^(?=[0-9])/, '_')
    .slice(0, maxLength);
  return plain === '' || plain === '_' ? 'bone' : plain;
}

function makeUnique(name: string, taken: ReadonlySet<string>, maxLength: number): string {
  if (!taken.has(name.toLowerCase())) return name;
  for (let count = 2; ; count++) {
    const suffix = `_${count}`;
    const candidate = name.slice(0, maxLength - suffix.length) + suffix;
    if (!taken.has(candidate.toLowerCase())) return candidate;
  }
}
