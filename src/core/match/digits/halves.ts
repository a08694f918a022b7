import { angleBetween, distance, subtract } from '../../math/vec3';
import type { MatchContext } from '../context/context';

/** Halves of a segment go on in its direction within this. */
const HALF_STRAIGHT_RAD = 0.2;
/** Without numbers the two halves must be straight and alike. */
const SAME_LINE_RAD = 0.05;
const SAME_LENGTH = 0.1;
/** Fewer bones than two segments in halves and what they lead to tell nothing by their lengths. */
const LEAST_HALVED = 5;

/** A chain whose segments are cut in two: the first half stands for its segment. */
export function withoutHalves(context: MatchContext, chain: readonly number[]): number[] {
  const seconds = halvesByNumber(context, chain) ?? halvesByName(context, chain) ?? halvesByLength(context, chain);
  return seconds ? chain.filter((_, at) => !seconds.has(at)) : [...chain];
}

/**
 * Two numbers, of which the first counts segments and the second halves. Fingers that are counted first have the same
 * first number throughout. The last segment may be whole.
 */
function halvesByNumber({ names, body }: MatchContext, chain: readonly number[]): ReadonlySet<number> | null {
  const numbers = chain.map((bone) => names.bones[bone].numbers.slice(-2));
  const counted = numbers.slice(0, -1).every((pair) => pair.length === 2) ? numbers.map(([segment]) => segment) : [];
  const most = Math.max(0, ...counted.map((segment) => counted.filter((other) => other === segment).length));
  if (most !== 2 || new Set(counted).size < 2) return null;
  const seconds = new Set<number>();
  for (let at = 1; at < chain.length; at++) {
    const [before, own] = [numbers[at - 1], numbers[at]];
    const isNext = before.length === 2 && own.length === 2 && own[0] === before[0] && own[1] > before[1];
    if (isNext && !seconds.has(at - 1) && isStraight(body.positions, chain, at, HALF_STRAIGHT_RAD)) seconds.add(at);
  }
  return seconds.size > 0 ? seconds : null;
}

/**
 * The name of the bone before with a counter more behind its side mark ("index1_l", "index1_l_2"): the counter counts
 * within that bone. Without a letter between, two numbers could be one ("finger1", "finger12").
 */
function halvesByName({ rig, body }: MatchContext, chain: readonly number[]): ReadonlySet<number> | null {
  const seconds = new Set<number>();
  for (let at = 1; at < chain.length; at++) {
    const [before, own] = [rig.bones[chain[at - 1]].name, rig.bones[chain[at]].name];
    const counts = /\d.*\D$/.test(before) && own.startsWith(before) && /^\D?\d+$/.test(own.slice(before.length));
    if (counts && !seconds.has(at - 1) && isStraight(body.positions, chain, at, HALF_STRAIGHT_RAD)) seconds.add(at);
  }
  return seconds.size > 0 && seconds.size < chain.length ? seconds : null;
}

/** Every other bone lies in the middle between its neighbours, the chain through: no finger has such phalanges. */
function halvesByLength({ names, body, use }: MatchContext, chain: readonly number[]): ReadonlySet<number> | null {
  const isCounted = chain.some((bone) => names.bones[bone].numbers.length > 0 && names.bones[bone].body.finger);
  if (!use.place || isCounted) return null;
  // A palm bone may lead the chain, whole.
  return secondsFrom(body.positions, chain, 1) ?? secondsFrom(body.positions, chain, 2);
}

function secondsFrom(
  positions: MatchContext['body']['positions'],
  chain: readonly number[],
  first: number,
): ReadonlySet<number> | null {
  if (chain.length < LEAST_HALVED + first - 1) return null;
  const seconds = new Set<number>();
  for (let at = first; at + 1 < chain.length; at += 2) {
    const [before, after] = [
      distance(positions[chain[at - 1]], positions[chain[at]]),
      distance(positions[chain[at]], positions[chain[at + 1]]),
    ];
    const isMiddle = Math.abs(before - after) < SAME_LENGTH * Math.max(before, after);
    if (!isMiddle || !isStraight(positions, chain, at, SAME_LINE_RAD)) return null;
    seconds.add(at);
  }
  return seconds.size >= 2 ? seconds : null;
}

/** Whether a bone of a chain lies on from the one before as that one does from its own. */
function isStraight(
  positions: MatchContext['body']['positions'],
  chain: readonly number[],
  at: number,
  within: number,
): boolean {
  if (at + 1 >= chain.length) return true;
  const before = subtract(positions[chain[at]], positions[chain[at - 1]]);
  return angleBetween(before, subtract(positions[chain[at + 1]], positions[chain[at]])) < within;
}
