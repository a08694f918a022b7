import { angleOf, conjugate, multiply, type Quat } from '../../math/quat';
import { distance, lengthOf, type Vec3 } from '../../math/vec3';
import { conformTree } from '../../plan/conform-tree';
import type { HandoffPlan } from '../../plan/handoff-plan';
import { pairedWith } from '../../plan/pair-bones';
import { shippedRoot } from '../../plan/shipped-tree';
import { writtenSkeleton, type WrittenBone } from '../../plan/written-skeleton';
import type { ShippedSkeleton } from '../../profile/profile';
import { listNames, type Check, type FindingDraft } from '../finding';

/** Rests that differ by less are the same: degrees, centimetres. */
const SAME_DEGREES = 1;
const SAME_CENTIMETRES = 1;

interface Standing {
  readonly translation: Vec3;
  readonly rotation: Quat;
}
const degreesBetween = (a: Standing, b: Standing): number =>
  (angleOf(multiply(a.rotation, conjugate(b.rotation))) * 180) / Math.PI;
/** Below parents that stand turned against each other only the lengths tell. */
const centimetresBetween = (a: Standing, b: Standing, isTurned: boolean): number =>
  100 *
  (isTurned ? Math.abs(lengthOf(a.translation) - lengthOf(b.translation)) : distance(a.translation, b.translation));

/** Against a skeleton that the studio ships: bones that are missing, extra, named or hung otherwise, or stand otherwise. */
export const checkShippedSkeleton: Check = (plan) => {
  const { skeleton } = plan.profile;
  const written = skeleton && writtenSkeleton(plan);
  if (!skeleton || !written) return [];
  const { label } = skeleton;
  const { shipped, counterparts, parentNames, turnedAt } = counterpartsOf(plan, skeleton, written);
  const pairs = skeleton.bones.flatMap((bone, at) => {
    const mine = counterparts[at];
    return mine ? [{ mine, bone, parent: parentNames[at], isBelowTurned: turnedAt.has(shipped.parents[at]) }] : [];
  });
  const index = new Map(plan.names.names.map((name, at) => [name, at]));
  const bonesOf = (names: readonly string[]): number[] => names.flatMap((name) => index.get(name) ?? []);
  const conform = canConform(plan) ? ('conform' as const) : null;
  const found: FindingDraft[] = [];
  const say = (
    draft: Pick<FindingDraft, 'aspect' | 'severity' | 'sentence' | 'allowed' | 'why' | 'remedy' | 'repair'>,
    names: readonly string[],
    amount: { readonly measured: number; readonly allowed: number; readonly unit: string } = {
      measured: names.length,
      allowed: 0,
      unit: 'bones',
    },
  ): void => {
    if (names.length === 0) return;
    const measured = amount.unit === 'bones' ? `${names.length} bones` : `${amount.measured.toFixed(1)} ${amount.unit}`;
    found.push({ ...draft, measured, amount, boneIndices: bonesOf(names), parts: [...names] });
  };

  const missing = skeleton.bones.filter((_, at) => !counterparts[at]).map(({ name }) => name);
  say(
    {
      aspect: 'missing',
      severity: 'caution',
      sentence: `${missing.length} bones of ${label} are missing: ${listNames(missing)}.`,
      allowed: 'none missing',
      why: 'Clips that key these bones find nothing to move.',
      remedy: 'Give their roles bones on Match, or write the character onto the skeleton.',
      repair: conform,
    },
    missing,
  );
  const renamed = pairs.filter(({ mine, bone }) => mine.name !== bone.name);
  say(
    {
      aspect: 'name',
      severity: 'caution',
      sentence: `${renamed.length} bones have other names than in ${label}: ${listNames(renamed.map(({ mine, bone }) => `${mine.name} for ${bone.name}`))}.`,
      allowed: 'the same names',
      why: 'Clips find the bones that they move by name.',
      remedy: 'Write the character onto the skeleton, or give the definition its names.',
      repair: conform,
    },
    renamed.map(({ mine }) => mine.name),
  );
  const moved = pairs.filter(({ mine, parent }) => mine.parent !== parent);
  say(
    {
      aspect: 'parent',
      severity: 'blocker',
      sentence: `${moved.length} bones hang elsewhere than in ${label}: ${listNames(moved.map(({ mine, parent }) => `${mine.name} on ${mine.parent ?? 'nothing'} in place of ${parent ?? 'nothing'}`))}.`,
      allowed: 'the same tree',
      why: 'The engine cannot merge two trees in which a bone has two parents.',
      remedy: 'Write the character onto the skeleton, or hang the bone on the other one on Match.',
      repair: conform,
    },
    moved.map(({ mine }) => mine.name),
  );
  const turned = pairs.filter(({ mine, bone }) => degreesBetween(mine, bone) > SAME_DEGREES);
  const mostTurned = Math.max(0, ...turned.map(({ mine, bone }) => degreesBetween(mine, bone)));
  say(
    {
      aspect: 'turn',
      severity: 'caution',
      sentence: `${turned.length} bones stand turned against ${label}, at most by ${mostTurned.toFixed(1)} degrees: ${listNames(turned.map(({ mine }) => mine.name))}.`,
      allowed: `within ${SAME_DEGREES} degree`,
      why: 'Clips made for that skeleton turn these bones from another rest.',
      remedy: 'Write the character onto the skeleton, or align the posture and turn the joints to its axes.',
      repair: conform,
    },
    turned.map(({ mine }) => mine.name),
    { measured: mostTurned, allowed: SAME_DEGREES, unit: 'degrees' },
  );
  const away = pairs.map((pair) => ({ ...pair, by: centimetresBetween(pair.mine, pair.bone, pair.isBelowTurned) }));
  const longer = away.filter(({ by }) => by > SAME_CENTIMETRES);
  const mostLong = Math.max(0, ...longer.map(({ by }) => by));
  say(
    {
      aspect: 'place',
      severity: 'note',
      sentence: `${longer.length} bones are placed otherwise than in ${label}, at most by ${mostLong.toFixed(1)} cm: ${listNames(longer.map(({ mine }) => mine.name))}.`,
      allowed: `within ${SAME_CENTIMETRES} cm`,
      why: 'These are its own proportions; clips that key places would take them away.',
      remedy: 'Nothing is needed where clips key turns alone; else take the lengths of the skeleton.',
      repair:
        plan.options.conform?.lengths === 'skeleton' ? null : conform || plan.options.conform ? 'take-lengths' : null,
    },
    longer.map(({ mine }) => mine.name),
    { measured: mostLong, allowed: SAME_CENTIMETRES, unit: 'cm' },
  );
  const known = new Set(counterparts.flatMap((bone) => (bone ? [bone.name] : [])));
  const extra = written.filter(({ name }) => !known.has(name)).map(({ name }) => name);
  const merges = moved.length === 0 && renamed.length === 0;
  say(
    {
      aspect: 'extra',
      severity: 'note',
      sentence: `${extra.length} bones are not in ${label}: ${listNames(extra)}. ${merges ? 'It would merge without disturbing the others.' : 'It would not merge.'}`,
      allowed: 'any number',
      why: 'They come into the shared skeleton with this character.',
      remedy: 'Merge them into their parents where the others must not get them.',
      repair: bonesOf(extra).some((bone) => plan.rig.bones[bone].parent >= 0) ? 'merge-extra-bones' : null,
    },
    extra,
  );
  return found;
};

/** A figure with hips that is not written onto the skeleton yet, or does not hang like it. */
function canConform(plan: HandoffPlan): boolean {
  if (!plan.fit.assignments.hips) return false;
  return !plan.options.conform || conformTree(plan, (node) => node).length > 0;
}

/** What of the written skeleton stands for each shipped bone, and what it should hang on by its name there. */
function counterpartsOf(plan: HandoffPlan, skeleton: ShippedSkeleton, written: readonly WrittenBone[]) {
  const { names } = plan;
  const { shipped, pairs } = pairedWith(plan, skeleton);
  const byName = new Map(written.map((bone) => [bone.name, bone]));
  const root = shippedRoot(shipped);
  const counterparts = shipped.bones.map(({ name }, at) => {
    const own = pairs.get(at);
    if (own !== undefined) return byName.get(names.names[own]);
    // The root that handoff adds stands for the skeleton's.
    return byName.get(at === root && names.addsRoot ? names.rootName : name);
  });
  const parentNames = shipped.parents.map((parent) =>
    parent < 0 ? null : (counterparts[parent]?.name ?? shipped.bones[parent].name),
  );
  const turns = worldTurns(written);
  const turnedAt = new Set(
    shipped.turns.flatMap((turn, at) => {
      const own = counterparts[at] && turns.get(counterparts[at].name);
      return own && angleOf(multiply(own, conjugate(turn))) * (180 / Math.PI) > SAME_DEGREES ? [at] : [];
    }),
  );
  return { shipped, counterparts, parentNames, turnedAt };
}

/** How each written bone stands in the world, by name. */
function worldTurns(written: readonly WrittenBone[]): ReadonlyMap<string, Quat> {
  const byName = new Map(written.map((bone) => [bone.name, bone]));
  const found = new Map<string, Quat>();
  const turnOf = (bone: WrittenBone): Quat => {
    const known = found.get(bone.name);
    if (known) return known;
    const above = bone.parent === null ? undefined : byName.get(bone.parent);
    const turn = above ? multiply(turnOf(above), bone.rotation) : bone.rotation;
    found.set(bone.name, turn);
    return turn;
  };
  written.forEach(turnOf);
  return found;
}
