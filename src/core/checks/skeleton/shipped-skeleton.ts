import { angleOf, conjugate, multiply } from '../../math/quat';
import { distance } from '../../math/vec3';
import { writtenSkeleton } from '../../plan/written-skeleton';
import type { ShippedSkeleton } from '../../profile/profile';
import { listNames, type Check, type FindingDraft } from '../finding';

type Bone = ShippedSkeleton['bones'][number];

/** Rests that differ by less are the same: degrees, centimetres. */
const SAME_DEGREES = 1;
const SAME_CENTIMETRES = 1;

const degreesBetween = (a: Bone, b: Bone): number =>
  (angleOf(multiply(a.rotation, conjugate(b.rotation))) * 180) / Math.PI;
const centimetresBetween = (a: Bone, b: Bone): number => distance(a.translation, b.translation) * 100;

/** Against a skeleton that the studio ships: bones that are missing, extra, elsewhere in the tree, or stand otherwise. */
export const checkShippedSkeleton: Check = (plan) => {
  const shipped = plan.profile.skeleton;
  const written = shipped && writtenSkeleton(plan);
  if (!shipped || !written) return [];
  const own = new Map(written.map((bone) => [bone.name, bone]));
  const theirs = new Map(shipped.bones.map((bone) => [bone.name, bone]));
  const pairs = shipped.bones.flatMap((bone) => {
    const mine = own.get(bone.name);
    return mine ? [{ mine, bone }] : [];
  });
  const index = new Map(plan.names.names.map((name, at) => [name, at]));
  const bonesOf = (names: readonly string[]): number[] => names.flatMap((name) => index.get(name) ?? []);
  const found: FindingDraft[] = [];
  const say = (
    aspect: string,
    severity: FindingDraft['severity'],
    names: readonly string[],
    sentence: string,
    allowed: string,
    amount: FindingDraft['amount'],
    why: string,
    remedy: string,
  ): void => {
    if (names.length === 0) return;
    const measured =
      amount && amount.unit !== 'bones' ? `${amount.measured.toFixed(1)} ${amount.unit}` : `${names.length} bones`;
    found.push({
      aspect,
      severity,
      sentence,
      measured,
      allowed,
      amount,
      why,
      remedy,
      boneIndices: bonesOf(names),
      parts: [...names],
    });
  };
  const counted = (names: readonly string[]) => ({ measured: names.length, allowed: 0, unit: 'bones' });

  const missing = shipped.bones.filter(({ name }) => !own.has(name)).map(({ name }) => name);
  say(
    'missing',
    'caution',
    missing,
    `${missing.length} bones of ${shipped.label} are missing: ${listNames(missing)}.`,
    'none missing',
    counted(missing),
    'Clips that key these bones find nothing to move.',
    'Give their roles bones on Match, or let handoff add them as helpers of the profile.',
  );
  const moved = pairs.filter(({ mine, bone }) => mine.parent !== bone.parent);
  say(
    'parent',
    'blocker',
    moved.map(({ bone }) => bone.name),
    `${moved.length} bones hang elsewhere than in ${shipped.label}: ${listNames(moved.map(({ mine, bone }) => `${bone.name} on ${mine.parent ?? 'nothing'} in place of ${bone.parent ?? 'nothing'}`))}.`,
    'the same tree',
    counted(moved.map(({ bone }) => bone.name)),
    'The engine cannot merge two trees in which a bone has two parents.',
    'Hang the bone on the other one on Match.',
  );
  const turned = pairs.filter(({ mine, bone }) => degreesBetween(mine, bone) > SAME_DEGREES);
  const mostTurned = Math.max(0, ...turned.map(({ mine, bone }) => degreesBetween(mine, bone)));
  say(
    'turn',
    'caution',
    turned.map(({ bone }) => bone.name),
    `${turned.length} bones stand turned against ${shipped.label}, at most by ${mostTurned.toFixed(1)} degrees: ${listNames(turned.map(({ bone }) => bone.name))}.`,
    `within ${SAME_DEGREES} degree`,
    { measured: mostTurned, allowed: SAME_DEGREES, unit: 'degrees' },
    'Clips made for that skeleton turn these bones from another rest.',
    'Align the posture, and turn the joints to the axes of the profile.',
  );
  const longer = pairs.filter(({ mine, bone }) => centimetresBetween(mine, bone) > SAME_CENTIMETRES);
  const mostLong = Math.max(0, ...longer.map(({ mine, bone }) => centimetresBetween(mine, bone)));
  say(
    'place',
    'note',
    longer.map(({ bone }) => bone.name),
    `${longer.length} bones are placed otherwise than in ${shipped.label}, at most by ${mostLong.toFixed(1)} cm: ${listNames(longer.map(({ bone }) => bone.name))}.`,
    `within ${SAME_CENTIMETRES} cm`,
    { measured: mostLong, allowed: SAME_CENTIMETRES, unit: 'cm' },
    'These are its own proportions; clips that key places would take them away.',
    'Nothing is needed where clips key turns alone.',
  );
  const extra = written.filter(({ name }) => !theirs.has(name)).map(({ name }) => name);
  const merges = moved.length === 0;
  say(
    'extra',
    'note',
    extra,
    `${extra.length} bones are not in ${shipped.label}: ${listNames(extra)}. ${merges ? 'It would merge without disturbing the others.' : 'It would not merge.'}`,
    'any number',
    counted(extra),
    'They come into the shared skeleton with this character.',
    'Merge them into their parents on Match where the others must not get them.',
  );
  return found;
};
