import { segmentsOf, type Digit } from '../../definition/definition';
import { distance } from '../../math/vec3';
import type { MatchContext } from '../context/context';
import { isNamedDigit, SAME_START, type DigitChain } from './digit-chains';
import { withoutHalves } from './halves';

/** Share of its confidence that a digit keeps which has more bones than segments: little enough to be a doubt. */
const ONE_TOO_MANY = 0.7;

/** "pinky 0" below the wrist and three more: the phalanges count from one, so the first is the palm's. */
function isCountedFromZero({ names }: MatchContext, bones: readonly number[]): boolean {
  const last = bones.map((bone) => names.bones[bone].numbers.at(-1));
  return last.every((number, at) => number === at);
}

/** Takes metacarpals off the start and end bones off the tip of a chain. */
export function cutSegments(
  context: MatchContext,
  hand: number,
  chain: DigitChain,
  digit: Digit,
  hasPalmBone: boolean,
): { segments: number[]; certainty: number; lastCertainty: number } {
  const bones = withoutHalves(context, chain.bones);
  const wanted = segmentsOf(digit).length;
  let certainty = 1;
  while (bones.length > 1 && isTip(context, bones, wanted)) bones.pop();
  if (digit !== 'Thumb' && bones.length > 1) {
    const isNamedPalm = 'metacarpal' in context.names.bones[bones[0]].other;
    const isPalm = bones.length > wanted && (startsAtWrist(context, hand, bones) || isCountedFromZero(context, bones));
    if (isNamedPalm || isPalm) bones.shift();
    else if (hasPalmBone) {
      bones.shift();
      certainty = 0.92;
    }
  }
  // One bone more than a digit has phalanges: which of them is too much is anyone's choice.
  if (bones.length > wanted) {
    certainty = ONE_TOO_MANY;
    bones.length = wanted;
  }
  // Without names or skin nothing tells an end bone from a last joint; a full count speaks for the joint.
  const isUntold =
    !context.shape.hasSkin &&
    !isNamedDigit(context, bones[0]) &&
    bones.length > 1 &&
    chain.bones.length === bones.length;
  return { segments: bones, certainty, lastCertainty: isUntold ? (bones.length < wanted ? 0.65 : 0.95) : 1 };
}

function isTip(context: MatchContext, bones: readonly number[], wanted: number): boolean {
  const last = bones[bones.length - 1];
  if (context.body.children[last].length > 0) return false;
  if (context.shape.hasSkin && !context.moves(last)) return true;
  if (!('tip' in context.names.bones[last].other)) return false;
  // "base, mid, tip" names three segments where no number counts them; an "end" is none.
  const isCounted = bones.some((bone) => context.names.bones[bone].numbers.length > 0);
  return isCounted || bones.length !== wanted || !context.names.bones[last].words.includes('tip');
}

/**
 * Which chains start with a bone inside the palm, where no name tells: all but the thumb must, since a palm has either
 * all of its bones or none. A knuckle lies twice a phalanx from the wrist, a palm bone starts beside it.
 */
export function palmBones(context: MatchContext, hand: number, chains: readonly DigitChain[]): boolean[] {
  const starts = chains.map(
    (chain) =>
      chain.bones.length > 1 && (startsAtWrist(context, hand, chain.bones) || sharesStart(context, chain, chains)),
  );
  const count = starts.filter(Boolean).length;
  const isNamed = chains.some((chain) => isNamedDigit(context, chain.bones[0]));
  return isNamed || !context.use.place || count < Math.max(2, chains.length - 1) ? starts.map(() => false) : starts;
}

/** Two chains from one place are palm bones that share a joint: no two knuckles do. */
const sharesStart = ({ body }: MatchContext, chain: DigitChain, chains: readonly DigitChain[]): boolean =>
  chains.some(
    (other) =>
      other !== chain &&
      other.bones.length === chain.bones.length &&
      distance(body.positions[chain.bones[0]], body.positions[other.bones[0]]) < SAME_START * body.size,
  );

function startsAtWrist(context: MatchContext, hand: number, bones: readonly number[]): boolean {
  const { positions } = context.body;
  const start = distance(positions[hand], positions[bones[0]]);
  return start < 0.75 * distance(positions[bones[0]], positions[bones[1]]);
}
