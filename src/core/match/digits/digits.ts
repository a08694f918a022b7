import { DIGITS, type Digit } from '../../definition/definition';
import { angleBetween, subtract } from '../../math/vec3';
import type { MatchContext } from '../context/context';
import type { Sided } from '../limbs/limbs';
import { findChains, isNamedDigit, type DigitChain } from './digit-chains';
import { readAssignments } from './digit-readings';
import { cutSegments, palmBones } from './digit-segments';

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
