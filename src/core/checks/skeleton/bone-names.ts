import { countText } from '../../text/count';
import { hasAllowedLetters, isReserved, makeLegal, unfitNames } from '../../plan/plan-names';
import { listNames, type Check, type FindingDraft } from '../finding';

/**
 * Names as the engine takes them: legal characters, length, case, none that is reserved, the prefix, and unique whatever
 * the case. What handoff writes is legal; the finding says what it changes.
 */
export const checkBoneNames: Check = (plan) => {
  const { rig, profile, names } = plan;
  const { names: rules } = profile;
  const spares = rig.bones.filter(({ index }) => names.changedSpares.has(index));
  const found: FindingDraft[] = [];
  const say = (
    aspect: string,
    bones: typeof spares,
    sentence: (list: string, one: boolean) => string,
    allowed: string,
    severity: FindingDraft['severity'] = 'note',
  ): void => {
    if (bones.length === 0) return;
    found.push({
      aspect,
      severity,
      sentence: sentence(
        listNames(
          bones.map(({ name }) => name),
          3,
        ),
        bones.length === 1,
      ),
      measured: countText(bones.length, 'name'),
      allowed,
      amount: { measured: bones.length, allowed: 0, unit: 'names' },
      why: 'Duplicate or illegal bone names break the import.',
      remedy: 'Handoff writes these names anew, with a number where two would be equal.',
      boneIndices: bones.map(({ index }) => index),
    });
  };
  const isIn = (bones: typeof spares) => (bone: (typeof spares)[number]) => !bones.includes(bone);
  const illegal = spares.filter(({ name }) => !hasAllowedLetters(name, rules));
  say(
    'illegal',
    illegal,
    (list, one) =>
      `${one ? 'A spare bone has a name' : `${illegal.length} spare bones have names`} the engine refuses: ${list}.`,
    rules.allowedInWords,
  );
  const long = spares.filter(isIn(illegal)).filter(({ name }) => name.length > rules.maxLength);
  say(
    'long',
    long,
    (list, one) =>
      `${one ? 'A name is' : `${long.length} names are`} longer than ${rules.maxLength} characters: ${list}.`,
    `at most ${rules.maxLength} characters`,
  );
  const reserved = spares.filter(({ name }) => isReserved(name, rules));
  say(
    'reserved',
    reserved,
    (list) => `${list} ${reserved.length === 1 ? 'is' : 'are'} reserved by the engine.`,
    'other names',
  );
  const unfit = spares.filter(({ name }) => unfitNames(name, rules));
  say(
    'style',
    unfit,
    (list) => `${list} ${unfit.length === 1 ? 'is' : 'are'} not written as the engine wants names.`,
    [rules.prefix && `starting with ${rules.prefix}`, rules.letters !== 'any' && `${rules.letters}-case letters`]
      .filter(Boolean)
      .join(', '),
  );
  const byName = new Map<string, typeof spares>();
  for (const bone of rig.bones) {
    const key = makeLegal(bone.name, rules).toLowerCase();
    byName.set(key, [...(byName.get(key) ?? []), bone]);
  }
  for (const same of byName.values())
    if (same.length > 1 && isClash(same, names.changedSpares))
      say(
        'shared',
        same,
        (list) => `${same.length} bones share one name but for case: ${list}.`,
        'unique whatever the case',
        'caution',
      );
  return found;
};

/** Whether bones are called alike in the file, or spares among them would be when their names are made legal. */
const isClash = (bones: readonly { readonly index: number; readonly name: string }[], spares: ReadonlySet<number>) =>
  new Set(bones.map(({ name }) => name.toLowerCase())).size < bones.length ||
  bones.some(({ index }) => spares.has(index));
