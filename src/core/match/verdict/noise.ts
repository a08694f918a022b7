import type { BodyConcept } from '../../dialect/concepts';
import { isAncestor } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';
import { plainPart, SAYS_A_PART } from '../names/name-score';
import type { BodyHypothesis } from '../body/search';

/** Names of a rig that means them say something of more bones than this. */
const MEANT_SHARE = 0.35;

/** Of the bones of a body that names helped to find at least this share says its part, where names are meant. */
const MEANT_BODY_SHARE = 0.5;
/** A body that scores less without names is too unclear to deny any; people score 3 and more, lone hands less than -4. */
const CLEAR_BODY = -2;

/**
 * True where so few names say something, of the rig and of the body found with them, that it may be by chance: bones
 * called after apples, lumber and candles. Many spares that no word fits do not make it so.
 */
export function mayBeChance(context: MatchContext, found: BodyHypothesis | undefined): boolean {
  const { names, stated } = context;
  const saying = names.bones.filter(({ body, other }) =>
    [...Object.values(body), ...Object.values(other)].some((weight) => weight >= SAYS_A_PART),
  ).length;
  if (saying === 0 || saying >= MEANT_SHARE * names.bones.length || stated.size > 0) return false;
  if (!found) return true;
  const parts = partsOf(found);
  const right = [...parts.keys()].filter((bone) => {
    const said = plainPart(names.bones[bone]);
    return said !== null && isBorneOut(context, parts, bone, said);
  }).length;
  return right < MEANT_BODY_SHARE * parts.size;
}

/** Parts that loose words are used for alike. */
const ALIKE: readonly (readonly BodyConcept[])[] = [
  ['hips', 'spine', 'chest', 'neck'],
  ['neck', 'head'],
  ['shoulder', 'upperArm', 'lowerArm', 'hand'],
  ['hips', 'upperLeg', 'lowerLeg', 'foot'],
];
const BELOW: Partial<Record<BodyConcept, BodyConcept>> = {
  eye: 'head',
  jaw: 'head',
  toes: 'foot',
  thumb: 'hand',
  index: 'hand',
  middle: 'hand',
  ring: 'hand',
  little: 'hand',
  finger: 'hand',
};
/** How often names that are meant say what the body shows, and how often they call a bone of the body something else: helpers and targets are named loosely. */
const MEANT_RIGHT = 0.9;
const MEANT_ELSE = 0.05;
/** Log-odds that so few names are meant, before they are looked at. */
const BEFORE = -1.5;

/** So many words for an animal or a machine are no chance: whatever it is shaped like, it is called one. */
const CREATURES = ['animal', 'wing', 'vehicle'] as const;
const MEANT_CREATURE = 3;
const MEANT_CREATURE_SHARE = 0.08;

/**
 * True where the names are likelier to be drawn by lot than to be meant, given the body that tree, place and skin show:
 * a word for a part may stand on a bone of that part or not, a word for anything else on a bone of the body or not.
 */
export function areChance(context: MatchContext, shown: BodyHypothesis): boolean {
  const { bones } = context.names;
  if (shown.score < CLEAR_BODY) return false;
  const isCreature = CREATURES.some(
    (kind) =>
      bones.filter(({ other }) => (other[kind] ?? 0) >= SAYS_A_PART).length >=
      Math.max(MEANT_CREATURE, MEANT_CREATURE_SHARE * bones.length),
  );
  if (isCreature) return false;
  const parts = partsOf(shown);
  const bodyShare = parts.size / bones.length;
  let [odds, denied] = [BEFORE, 0];
  const lots = new Map<BodyConcept, number>();
  const lotOf = (said: BodyConcept): number => {
    const lot =
      lots.get(said) ?? bones.filter((_, bone) => isBorneOut(context, parts, bone, said)).length / bones.length;
    lots.set(said, lot);
    return lot;
  };
  bones.forEach((reading, bone) => {
    const said = plainPart(reading);
    if (said) {
      const lot = lotOf(said);
      const isRight = isBorneOut(context, parts, bone, said);
      odds += isRight ? Math.log(MEANT_RIGHT / lot) : Math.log((1 - MEANT_RIGHT) / (1 - lot));
      if (!isRight) denied++;
    } else if (Object.values(reading.other).some((weight) => weight >= SAYS_A_PART)) {
      odds += parts.has(bone) ? Math.log(MEANT_ELSE / bodyShare) : Math.log((1 - MEANT_ELSE) / (1 - bodyShare));
      if (parts.has(bone)) denied++;
    }
  });
  return denied > 0 && odds < 0;
}

function partsOf({ trunk, legs, arms }: BodyHypothesis): ReadonlyMap<number, BodyConcept> {
  const parts = new Map<number, BodyConcept>([
    [trunk.hips, 'hips'],
    [trunk.head, 'head'],
  ]);
  trunk.spineRun.forEach((bone) => parts.set(bone, 'spine'));
  trunk.neckRun.forEach((bone) => parts.set(bone, 'neck'));
  const put = (bones: readonly number[], part: BodyConcept) => bones.forEach((bone) => parts.set(bone, part));
  put(legs.upper, 'upperLeg');
  put(legs.lower, 'lowerLeg');
  put(legs.end, 'foot');
  put(arms.base, 'shoulder');
  put(arms.upper, 'upperArm');
  put(arms.lower, 'lowerArm');
  put(arms.end, 'hand');
  parts.delete(-1);
  return parts;
}

function isBorneOut(
  { body }: MatchContext,
  parts: ReadonlyMap<number, BodyConcept>,
  bone: number,
  said: BodyConcept,
): boolean {
  const part = parts.get(bone);
  const above = BELOW[said];
  if (above) return part === undefined && [...parts].some(([top, its]) => its === above && isAncestor(body, top, bone));
  return part !== undefined && (part === said || ALIKE.some((group) => group.includes(part) && group.includes(said)));
}
