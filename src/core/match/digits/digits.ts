import type { BodyConcept } from '../../dialect/concepts';
import { DIGITS, segmentsOf, type Digit } from '../../definition/definition';
import { angleBetween, distance, mean, subtract, type Vec3 } from '../../math/vec3';
import { saysPlainly, strongestOther } from '../names/name-score';
import type { MatchContext } from '../context/context';
import type { Sided } from '../limbs/limbs';
import { withoutHalves } from './halves';

/** One chain below a hand, from its first bone outward. */
interface DigitChain {
  readonly bones: readonly number[];
}

export interface DigitMatch {
  readonly digit: Digit;
  /** Bones of the segments, from the palm outward, at most three a side; -1 where a hand lacks one. */
  readonly segments: readonly Sided[];
  readonly confidence: number;
  /** Share of the confidence that the last segment keeps: without names or skin it may be an end bone. */
  readonly lastCertainty: number;
}

/** One hand's own answer for a digit. */
interface HandDigit {
  readonly digit: Digit;
  readonly segments: readonly number[];
  readonly confidence: number;
  readonly lastCertainty: number;
}

const CONCEPT: Record<Digit, BodyConcept> = {
  Thumb: 'thumb',
  Index: 'index',
  Middle: 'middle',
  Ring: 'ring',
  Little: 'little',
};
const MAX_CHAINS = 7;
/** Three segments in halves, a palm bone and an end. */
const MAX_CHAIN = 8;

/**
 * Which chain below the hands is which finger. Each hand is read by itself, since a pose may turn them differently;
 * where both show the same digit, their confidences are joined.
 */
export function matchDigits(context: MatchContext, hands: Sided): DigitMatch[] {
  const [a, b] = hands.map((hand) => (hand >= 0 ? matchHand(context, hand) : []));
  return DIGITS.flatMap((digit): DigitMatch[] => {
    const [x, y] = [a, b].map((hand) => hand.find((entry) => entry.digit === digit));
    if (!x && !y) return [];
    const count = Math.max(x?.segments.length ?? 0, y?.segments.length ?? 0);
    const segments = Array.from({ length: count }, (_, at): Sided => [x?.segments[at] ?? -1, y?.segments[at] ?? -1]);
    const agree = x && y && x.segments.length === y.segments.length;
    const confidence = x && y ? (x.confidence + y.confidence) / 2 : ((x ?? y) as HandDigit).confidence * 0.8;
    const lastCertainty = Math.min(x?.lastCertainty ?? 1, y?.lastCertainty ?? 1);
    return [{ digit, segments, confidence: agree ? confidence : confidence * 0.85, lastCertainty }];
  });
}

function matchHand(context: MatchContext, hand: number): HandDigit[] {
  const chains = findChains(context, hand);
  if (chains.length === 0) return [];
  const palm = palmBones(context, hand, chains);
  const readings = readAssignments(context, hand, chains, palm);
  const best = readings[0];
  const isNamed = chains.some((chain) => isNamedDigit(context, chain.bones[0]));
  // Of two digits without names either may be the thumb: a palm bone looks like one. A single one that goes on straight
  // may be the end of the hand.
  const told =
    !isNamed && (chains.length === 2 || (chains.length === 1 && goesOnStraight(context, hand, chains[0])))
      ? FEW_DIGITS
      : 1;
  return best.digits.flatMap((digit, chain): HandDigit[] => {
    if (digit < 0) return [];
    const rival = readings.find((reading) => reading.digits[chain] !== digit);
    const margin = rival ? best.score - rival.score : 6;
    const { segments, certainty, lastCertainty } = cutSegments(
      context,
      hand,
      chains[chain],
      DIGITS[digit],
      palm[chain],
    );
    return [
      {
        digit: DIGITS[digit],
        segments,
        confidence:
          (1 / (1 + Math.exp(-margin / DIGIT_TEMPERATURE))) *
          certainty *
          told *
          (standsForSeveral(context, chains, chain) ? FEW_DIGITS : 1),
        lastCertainty,
      },
    ];
  });
}

/** Share of the confidence that one or two digits keep where nothing tells which they are. */
const FEW_DIGITS = 0.7;
/** A digit within this of the forearm's direction goes on straight. */
const STRAIGHT_RAD = 0.45;

function goesOnStraight(context: MatchContext, hand: number, chain: DigitChain): boolean {
  const { positions, parents } = context.body;
  if (parents[hand] < 0) return false;
  const forearm = subtract(positions[hand], positions[parents[hand]]);
  return (
    angleBetween(forearm, subtract(positions[chain.bones[chain.bones.length - 1]], positions[hand])) < STRAIGHT_RAD
  );
}

/** "fingers", once in a hand: which finger it is taken for is anyone's choice. */
function standsForSeveral(context: MatchContext, chains: readonly DigitChain[], at: number): boolean {
  const isUnspecific = (chain: DigitChain) =>
    chain.bones.some((bone) => (context.names.bones[bone].body.finger ?? 0) > 0.7);
  return isUnspecific(chains[at]) && chains.filter(isUnspecific).length === 1;
}
/** Score difference at which one reading of a hand is e times as likely as another. */
const DIGIT_TEMPERATURE = 0.45;

/** Chains that leave the hand, palm bones that carry several passed through, things that are no fingers left out. */
function findChains(context: MatchContext, hand: number): DigitChain[] {
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
const SAME_START = 0.002;

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

function isNamedDigit(context: MatchContext, bone: number): boolean {
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

interface Reading {
  /** Digit index per chain, -1 for none. */
  readonly digits: readonly number[];
  readonly score: number;
}

/** Most that place can add to a reading: a clear thumb, and ten triples in order. */
const MOST_BY_PLACE = 2.5 + 10 * 0.45;
/** Readings this far below the best weigh nothing (e to the minus 26 at the temperature of digits). */
const NEGLIGIBLE = 12;
const LEFT_OUT = -2.5;

/**
 * Every way to give the chains to different digits that can still count, best first. At most 7 chains on 5 digits: a
 * few thousand, of which names mostly leave a handful.
 */
function readAssignments(
  context: MatchContext,
  hand: number,
  chains: readonly DigitChain[],
  palm: readonly boolean[],
): Reading[] {
  const geometry = chainGeometry(context, hand, chains, palm);
  const count = countingOf(context, chains);
  const names = chains.map((chain) => DIGITS.map((digit) => chainName(context, chain, digit, count)));
  // The likeliest first, so that what can no longer count is seen early. Leaving a chain out only pays when there are
  // more chains than digits, or it is not a finger.
  const choices = names.map((gains) =>
    [{ digit: -1, gain: LEFT_OUT }, ...gains.map((gain, digit) => ({ digit, gain }))].sort((a, b) => b.gain - a.gain),
  );
  // Best that the chains from each one on can still gain by name.
  const ceilings = new Array<number>(chains.length + 1).fill(0);
  for (let chain = chains.length - 1; chain >= 0; chain--)
    ceilings[chain] = ceilings[chain + 1] + Math.max(LEFT_OUT, ...names[chain]);
  const readings: Reading[] = [];
  let best = -Infinity;
  const digits = new Array<number>(chains.length).fill(-1);
  const used = new Set<number>();
  const visit = (chain: number, soFar: number) => {
    if (soFar + ceilings[chain] + MOST_BY_PLACE < best - NEGLIGIBLE) return;
    if (chain === chains.length) {
      const score = soFar + scoreOrder(geometry, digits, chains.length);
      best = Math.max(best, score);
      if (score >= best - NEGLIGIBLE) readings.push({ digits: [...digits], score });
      return;
    }
    for (const { digit, gain } of choices[chain]) {
      if (digit >= 0 && used.has(digit)) continue;
      digits[chain] = digit;
      if (digit >= 0) used.add(digit);
      visit(chain + 1, soFar + gain);
      used.delete(digit);
    }
    digits[chain] = -1;
  };
  visit(0, 0);
  return readings.sort((a, b) => b.score - a.score).slice(0, 60);
}

function chainName(context: MatchContext, chain: DigitChain, digit: Digit, counting: Counting): number {
  let best = -Infinity;
  for (const bone of chain.bones.slice(0, 2)) best = Math.max(best, context.nameScore(bone, CONCEPT[digit]));
  return best + numberHint(context, chain, digit, counting);
}

/** How a hand counts its fingers, where only a number tells them apart. */
interface Counting {
  /** The smallest number; null where no finger has one. */
  readonly first: number | null;
  /** The thumb has a word of its own: the fingers are counted from the index. */
  readonly isThumbCalled: boolean;
  /** All five are counted, one after another: the first is the thumb. */
  readonly isWhole: boolean;
}

function countingOf(context: MatchContext, chains: readonly DigitChain[]): Counting {
  const numbers = chains.map((chain) => fingerNumber(context, chain)).filter((number) => number !== null);
  const isThumbCalled = chains.some(({ bones }) => saysPlainly(context.names.bones[bones[0]], 'thumb'));
  const first = numbers.length > 0 ? Math.min(...numbers) : null;
  const isWhole = first !== null && DIGITS.every((_, at) => numbers.includes(first + at));
  return { first, isThumbCalled, isWhole };
}

/** The number that tells a finger from the others: "finger 2 1", "finger21", "finger2"; null where there is none. */
function fingerNumber(context: MatchContext, chain: DigitChain): number | null {
  // A palm bone may lead the chain, with a count of its own.
  const called = chain.bones.find((bone) => (context.names.bones[bone].body.finger ?? 0) > 0.5) ?? chain.bones[0];
  const reading = context.names.bones[called];
  if (!(reading.body.finger ?? 0) || reading.numbers.length === 0) return null;
  const first = String(reading.numbers[0]);
  return Number(first.length === 2 && reading.numbers.length === 1 ? first[0] : first);
}

/** Beside a thumb with a word of its own the lowest number is the index; else it may be the thumb, or the first after it. */
function numberHint(
  context: MatchContext,
  chain: DigitChain,
  digit: Digit,
  { first, isThumbCalled, isWhole }: Counting,
): number {
  const number = fingerNumber(context, chain);
  if (number === null || first === null) return 0;
  const at = DIGITS.indexOf(digit);
  if (isThumbCalled) return at > 0 && number - first === at - 1 ? COUNTED : 0;
  if (isWhole) return number - first === at ? COUNTED : 0;
  return number === at ? 0.6 : number === at + 1 ? 0.5 : 0;
}

/** What the place in the count is worth beside a thumb that is called one. */
const COUNTED = 1.2;

interface ChainGeometry {
  /** How much a chain looks like a thumb, centred on 0. */
  readonly thumbness: readonly number[];
  /** Pairwise distance of the chains' first bones. */
  readonly gaps: readonly (readonly number[])[];
  readonly scale: number;
  readonly usePlace: boolean;
}

function chainGeometry(
  context: MatchContext,
  hand: number,
  chains: readonly DigitChain[],
  palm: readonly boolean[],
): ChainGeometry {
  const { positions } = context.body;
  const wrist = positions[hand];
  // Across the palm the knuckles tell the order, not the bones that all start at the wrist.
  const bases = chains.map((chain, at) => positions[chain.bones[palm[at] ? 1 : 0]]);
  const tips = chains.map((chain) => positions[chain.bones[chain.bones.length - 1]]);
  const directions = chains.map((chain, at): Vec3 =>
    chain.bones.length > (palm[at] ? 2 : 1) ? subtract(tips[at], bases[at]) : subtract(bases[at], wrist),
  );
  const thumbness = chains.map((_, at) => {
    const others = chains.map((_chain, other) => other).filter((other) => other !== at);
    if (others.length === 0) return 0;
    const apart = angleBetween(directions[at], mean(others.map((other) => directions[other])));
    const otherReach = mean(others.map((other) => [distance(bases[other], wrist), 0, 0]))[0];
    const early = otherReach > 0 ? 1 - distance(bases[at], wrist) / otherReach : 0;
    const otherTip = mean(others.map((other) => [distance(tips[other], wrist), 0, 0]))[0];
    const short = otherTip > 0 ? 1 - distance(tips[at], wrist) / otherTip : 0;
    return (
      Math.min(1.2, apart) * 2 + Math.max(-1, Math.min(1, early)) * 1.6 + Math.max(-0.5, Math.min(0.6, short)) * 1.5
    );
  });
  // Of two digits the finger goes on along the forearm.
  const forearm = context.body.parents[hand] >= 0 ? subtract(wrist, positions[context.body.parents[hand]]) : null;
  if (chains.length === 2 && forearm)
    chains.forEach((_, at) => (thumbness[at] += angleBetween(forearm, subtract(tips[at], wrist))));
  const gaps = bases.map((base) => bases.map((other) => distance(base, other)));
  const flat = gaps.flat().filter((gap) => gap > 0);
  return { thumbness, gaps, scale: flat.length > 0 ? Math.max(...flat) : 1, usePlace: context.use.place };
}

const _chainOf = new Int8Array(DIGITS.length);

/** Thumb-likeness, the order of the fingers across the palm, and filling from the thumb outward. */
function scoreOrder(geometry: ChainGeometry, digits: readonly number[], chainCount: number): number {
  _chainOf.fill(-1);
  digits.forEach((digit, chain) => {
    if (digit >= 0) _chainOf[digit] = chain;
  });
  const chainOf = _chainOf;
  let placed = 0;
  let isOutside = false;
  let score = 0;
  // Four-fingered hands leave the little finger open: only a gap before a finger counts.
  for (let digit = DIGITS.length - 1; digit >= 0; digit--) {
    if (chainOf[digit] >= 0) {
      placed++;
      isOutside = true;
    } else if (isOutside) score -= digit === 0 ? 1.4 : 1.2;
  }
  if (placed < Math.min(chainCount, DIGITS.length)) score -= 0.5;
  if (!geometry.usePlace) return score;
  const thumb = chainOf[0];
  if (thumb >= 0) {
    let rest = -Infinity;
    for (let digit = 1; digit < DIGITS.length; digit++)
      if (chainOf[digit] >= 0) rest = Math.max(rest, geometry.thumbness[chainOf[digit]]);
    // A lone digit is the thumb: fingers fill from there outward.
    if (rest === -Infinity) rest = 0.4;
    score += Math.max(-2.5, Math.min(2.5, (geometry.thumbness[thumb] - rest) * 1.8));
  }
  for (let first = 0; first < DIGITS.length; first++) {
    for (let second = first + 1; second < DIGITS.length; second++) {
      for (let third = second + 1; third < DIGITS.length; third++) {
        const [a, b, c] = [chainOf[first], chainOf[second], chainOf[third]];
        if (a < 0 || b < 0 || c < 0) continue;
        // The middle one of three lies nearer to both than they are to each other.
        const between = geometry.gaps[a][c] - Math.max(geometry.gaps[a][b], geometry.gaps[b][c]);
        score += Math.max(-0.9, Math.min(0.45, (between / geometry.scale) * 4));
      }
    }
  }
  return score;
}

/** "pinky 0" below the wrist and three more: the phalanges count from one, so the first is the palm's. */
function isCountedFromZero({ names }: MatchContext, bones: readonly number[]): boolean {
  const last = bones.map((bone) => names.bones[bone].numbers.at(-1));
  return last.every((number, at) => number === at);
}

/** Takes metacarpals off the start and end bones off the tip of a chain. */
function cutSegments(
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
  if (bones.length > wanted) {
    certainty = 0.95;
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
function palmBones(context: MatchContext, hand: number, chains: readonly DigitChain[]): boolean[] {
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
