import type { BodyConcept } from '../../dialect/concepts';
import { DIGITS, type Digit } from '../../definition/definition';
import { distance } from '../../math/vec3';
import type { MatchContext } from '../context/context';
import { saysPlainly, strongestOther } from '../names/name-score';

/** One chain below a hand, from its first bone outward. */
export interface DigitChain {
  readonly bones: readonly number[];
}

/** What names call the digits. */
export const CONCEPT: Record<Digit, BodyConcept> = {
  Thumb: 'thumb',
  Index: 'index',
  Middle: 'middle',
  Ring: 'ring',
  Little: 'little',
};
const MAX_CHAINS = 7;
/** Three segments in halves, a palm bone and an end. */
const MAX_CHAIN = 8;

/** Chains that leave the hand, palm bones that carry several passed through, things that are no fingers left out. */
export function findChains(context: MatchContext, hand: number): DigitChain[] {
  const { body } = context;
  const chains: DigitChain[] = [];
  const pending = [hand];
  while (pending.length > 0) {
    const at = pending.pop() as number;
    for (const child of body.children[at]) {
      if (saysHand(context, child)) pending.push(child);
      if (!looksLikeDigit(context, child)) continue;
      const forks = body.children[child].filter(
        (grandchild) => body.children[grandchild].length > 0 && looksLikeDigit(context, grandchild),
      );
      if (forks.length >= 2) pending.push(child);
      else chains.push({ bones: followChain(context, child) });
    }
  }
  const whole = chains.filter((chain) => chain.bones.length > 1).length;
  return chains
    .filter((chain) => chain.bones.length > 1 || whole < WHOLE_HAND || isNamedDigit(context, chain.bones[0]))
    .filter((chain) => chainReach(context, chain, hand) > 0 && !isDoubled(context, chain, chains))
    .sort(
      (a, b) =>
        chainRank(context, b) - chainRank(context, a) || chainReach(context, b, hand) - chainReach(context, a, hand),
    )
    .slice(0, MAX_CHAINS);
}

/** Beside this many chains of two bones and more a single bone is something held, no finger. */
const WHOLE_HAND = 3;

/** Starts nearer to each other than this share of the rig's size are one place. */
export const SAME_START = 0.002;

/** A shorter chain that starts where another one does leads it from outside: a target, a control. */
function isDoubled({ body }: MatchContext, chain: DigitChain, chains: readonly DigitChain[]): boolean {
  const start = body.positions[chain.bones[0]];
  return chains.some(
    (other) =>
      other.bones.length > chain.bones.length &&
      distance(start, body.positions[other.bones[0]]) < SAME_START * body.size,
  );
}

const chainRank = (context: MatchContext, chain: DigitChain): number =>
  Math.min(3, chain.bones.length) +
  (isNamedDigit(context, chain.bones[0]) ? 3 : 0) +
  (context.moves(chain.bones[0]) ? 1 : 0);

function looksLikeDigit(context: MatchContext, bone: number): boolean {
  const reading = context.names.bones[bone];
  if (isNamedDigit(context, bone)) return strongestOther(reading) < 0.9;
  if (strongestOther(reading) >= 0.9 || saysHand(context, bone)) return false;
  // A lone leaf that moves nothing is an attachment point.
  return context.body.children[bone].length > 0 || (context.shape.hasSkin && context.moves(bone));
}

/** "wrist" and below it "hand": the palm, which may carry the digits. */
function saysHand(context: MatchContext, bone: number): boolean {
  return !isNamedDigit(context, bone) && saysPlainly(context.names.bones[bone], 'hand');
}

export function isNamedDigit(context: MatchContext, bone: number): boolean {
  const { body } = context.names.bones[bone];
  return DIGITS.some((digit) => (body[CONCEPT[digit]] ?? 0) >= 0.4) || (body.finger ?? 0) > 0.5;
}

function followChain(context: MatchContext, start: number): number[] {
  const { body } = context;
  const bones = [start];
  for (let at = start; bones.length < MAX_CHAIN;) {
    const next = body.children[at]
      .filter(
        (child) =>
          body.children[child].length > 0 ||
          strongestOther(context.names.bones[child]) < 0.9 ||
          'tip' in context.names.bones[child].other,
      )
      .sort((x, y) => body.reaches[y] + body.lengths[y] - body.reaches[x] - body.lengths[x])[0];
    if (next === undefined) break;
    bones.push(next);
    at = next;
  }
  return bones;
}

const chainReach = (context: MatchContext, chain: DigitChain, hand: number): number =>
  distance(context.body.positions[chain.bones[chain.bones.length - 1]], context.body.positions[hand]);
