import type { Definition } from '../definition/definition';
import { rootAboveHips, type FitState } from '../fit/fit';
import type { Normalisation } from '../frame/normalise';
import { patternOf } from '../profile/pattern';
import type { EngineProfile } from '../profile/profile';
import type { HandoffOptions } from '../fit/handoff-options';
import { distanceFromOrigin } from '../frame/from-origin';
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
  options?: Pick<HandoffOptions, 'addsRoot'>;
}): NamePlan {
  const { rig, fit, definition, profile, normalisation, options } = input;
  const rootName = profile.rootName ?? definition.root.exportName;
  const names = new Array<string>(rig.bones.length).fill('');
  const taken = new Set<string>([rootName.toLowerCase()]);
  for (const role of definition.roles) {
    const bone = fit.assignments[role.id]?.boneIndex;
    if (bone === undefined) continue;
    names[bone] = role.exportName;
    taken.add(role.exportName.toLowerCase());
  }
  const top = rootAboveHips(rig, fit);
  const rootStandsAtOrigin =
    top !== null && names[top] === '' && distanceFromOrigin(rig, top, normalisation) <= profile.rootOffsetMetres;
  if (rootStandsAtOrigin) names[top] = rootName;
  const changedSpares = new Set<number>();
  for (const bone of rig.bones) {
    if (names[bone.index] !== '') continue;
    const unique = makeUnique(makeLegal(bone.name, profile.names), taken, profile.names.maxLength);
    if (unique !== bone.name) changedSpares.add(bone.index);
    names[bone.index] = unique;
    taken.add(unique.toLowerCase());
  }
  return {
    names,
    changedSpares,
    addsRoot:
      !rootStandsAtOrigin &&
      profile.rootBone !== 'forbidden' &&
      (definition.root.required || profile.rootBone === 'required') &&
      (options?.addsRoot ?? true),
    rootName,
  };
}

/** Names on a skeleton that the studio ships: its own for bones that stand for one of it, others legal and unlike these. */
export function conformedNames(
  { rig, profile }: { rig: Rig; profile: EngineProfile },
  shipped: { readonly bones: readonly { readonly name: string }[] },
  pairs: ReadonlyMap<number, number>,
  rootName: string,
): NamePlan {
  const names = new Array<string>(rig.bones.length).fill('');
  for (const [theirs, own] of pairs) names[own] = shipped.bones[theirs].name;
  const changedSpares = new Set<number>();
  const taken = new Set(shipped.bones.map(({ name }) => name.toLowerCase()));
  for (const { index, name } of rig.bones) {
    if (names[index] !== '') continue;
    names[index] = makeUnique(makeLegal(name, profile.names), taken, profile.names.maxLength);
    if (names[index] !== name) changedSpares.add(index);
    taken.add(names[index].toLowerCase());
  }
  return { names, changedSpares, addsRoot: false, rootName };
}

type NameRules = EngineProfile['names'];

/** Whether a name is one that the engine keeps for itself. */
export const isReserved = (name: string, { reserved }: NameRules): boolean =>
  reserved.some((each) => each.toLowerCase() === name.toLowerCase());

/** Whether a name lacks the prefix or has letters of the wrong case. */
export const unfitNames = (name: string, { prefix, letters }: NameRules): boolean =>
  !name.startsWith(prefix) || name !== inLetters(name, letters);

const inLetters = (name: string, letters: NameRules['letters']): string =>
  letters === 'lower' ? name.toLowerCase() : letters === 'upper' ? name.toUpperCase() : name;

/** Whether the engine's pattern lets a name be. One that cannot be run lets every name be, which its own finding says. */
export function hasAllowedLetters(name: string, { allowed }: Pick<NameRules, 'allowed'>): boolean {
  const outcome = patternOf(allowed);
  return !outcome.ok || outcome.pattern.test(name);
}

/** A name as the engine takes it, before it is made unique. */
export function makeLegal(name: string, rules: NameRules): string {
  const { maxLength, letters, prefix } = rules;
  const isLegal = (text: string): boolean => hasAllowedLetters(text, rules) && text.length <= maxLength;
  const styled = inLetters(name.startsWith(prefix) ? name : prefix + name, letters);
  const free = isReserved(styled, rules) ? `${styled}_bone` : styled;
  if (isLegal(free)) return free;
  const plain = free.normalize('NFKD').replace(/[^A-Za-z0-9_]+/g, '_');
  // What may not lead a name differs: an underscore where that may, else a letter.
  const led = [plain, `_${plain}`, inLetters(`b${plain}`, letters)]
    .map((text) => text.slice(0, maxLength))
    .find(isLegal);
  const bare = inLetters(`${prefix}bone`, letters);
  return led && !/^_*$/.test(led) ? led : bare;
}

function makeUnique(name: string, taken: ReadonlySet<string>, maxLength: number): string {
  if (!taken.has(name.toLowerCase())) return name;
  for (let count = 2; ; count++) {
    const suffix = `_${count}`;
    const candidate = name.slice(0, maxLength - suffix.length) + suffix;
    if (!taken.has(candidate.toLowerCase())) return candidate;
  }
}
