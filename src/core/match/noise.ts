import type { BodyConcept } from '../dialect/concepts';
import type { NameReading } from '../dialect/read-names';
import { isAncestor } from '../rig/rig-shape';
import type { MatchContext } from './context';
import type { BodyHypothesis } from './search';

/** Names of a rig that means them say something of more bones than this. */
const MEANT_SHARE = 0.35;
/** A word speaks for a part from this weight on. */
const SAYS = 0.6;

/** True where so few names say something that it may be by chance: bones called after apples, lumber and candles. */
export function mayBeChance({ names, stated }: MatchContext): boolean {
  const saying = names.bones.filter(({ body, other }) => [...Object.values(body), ...Object.values(other)].some((weight) => weight >= SAYS)).length;
  return saying > 0 && saying < MEANT_SHARE * names.bones.length && stated.size === 0;
}

/** Parts that loose words are used for alike. */
const ALIKE: readonly (readonly BodyConcept[])[] = [['hips', 'spine', 'chest', 'neck'], ['neck', 'head'], ['shoulder', 'upperArm', 'lowerArm', 'hand'], ['hips', 'upperLeg', 'lowerLeg', 'foot']];
const BELOW: Partial<Record<BodyConcept, BodyConcept>> = { eye: 'head', jaw: 'head', toes: 'foot', thumb: 'hand', index: 'hand', middle: 'hand', ring: 'hand', little: 'hand', finger: 'hand' };
/** A bone of the body that is called something else tells less: helpers and targets are named loosely. */
const CALLED_ELSE = 0.5;

/** So many words for an animal or a machine are no chance: whatever it is shaped like, it is called one. */
const CREATURES = ['animal', 'wing', 'vehicle'] as const;
const MEANT_CREATURE = 3;

/** True where what names say is rather denied than borne out by the body that tree, place and skin show. */
export function areChance(context: MatchContext, shown: BodyHypothesis): boolean {
  if (CREATURES.some((kind) => context.names.bones.filter(({ other }) => (other[kind] ?? 0) >= SAYS).length >= MEANT_CREATURE)) return false;
  const parts = partsOf(shown);
  let denied = 0;
  context.names.bones.forEach((reading, bone) => {
    const said = saidPart(reading);
    if (said) denied += isBorneOut(context, parts, bone, said) ? -1 : 1;
    else if (parts.has(bone) && Object.values(reading.other).some((weight) => weight >= SAYS)) denied += CALLED_ELSE;
  });
  return denied > 0;
}

function partsOf({ trunk, legs, arms }: BodyHypothesis): ReadonlyMap<number, BodyConcept> {
  const parts = new Map<number, BodyConcept>([[trunk.hips, 'hips'], [trunk.head, 'head']]);
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

function saidPart({ body, other }: NameReading): BodyConcept | null {
  if (Object.keys(other).length > 0) return null;
  const [strongest] = Object.entries(body).sort((a, b) => b[1] - a[1]);
  return strongest && strongest[1] >= SAYS ? (strongest[0] as BodyConcept) : null;
}

function isBorneOut({ body }: MatchContext, parts: ReadonlyMap<number, BodyConcept>, bone: number, said: BodyConcept): boolean {
  const above = BELOW[said];
  if (above) return [...parts].some(([top, part]) => part === above && isAncestor(body, top, bone));
  const part = parts.get(bone);
  return part !== undefined && (part === said || ALIKE.some((group) => group.includes(part) && group.includes(said)));
}
