import { DIGITS, type Digit } from '../../definition/definition';
import { angleBetween, distance, mean, subtract, type Vec3 } from '../../math/vec3';
import type { MatchContext } from '../context/context';
import { saysPlainly } from '../names/name-score';
import { CONCEPT, type DigitChain } from './digit-chains';

export interface DigitReading {
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
export function readAssignments(
  context: MatchContext,
  hand: number,
  chains: readonly DigitChain[],
  palm: readonly boolean[],
): DigitReading[] {
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
  const readings: DigitReading[] = [];
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
