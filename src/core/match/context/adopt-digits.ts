import type { NameReadings, NameReading } from '../../dialect/read-names';
import { distance } from '../../math/vec3';
import { isAncestor, type RigShape } from '../../rig/rig-shape';
import { plainPart, strongestPart } from '../names/name-score';
import { hang } from './hang';
import { SAME_PLACE_SHARE, SEGMENT_SHARE } from './places';

/** Digits that hang on a target at the hand go to the bone that stands there and carries the mesh. */
export function adoptFromTargets(
  shape: RigShape,
  names: NameReadings,
  carriesSkin: (bone: number) => boolean,
  parents: Int32Array,
): boolean {
  const moves = (bone: number) => !shape.hasSkin || carriesSkin(bone);
  let isChanged = false;
  for (let target = 0; target < shape.boneCount; target++) {
    if (shape.children[target].length < 2) continue;
    for (let hand = 0; hand < shape.boneCount; hand++) {
      if (hand === target || !moves(hand) || shape.children[hand].length > 1) continue;
      if (distance(shape.positions[hand], shape.positions[target]) > SAME_PLACE_SHARE * shape.size) continue;
      // Both move vertices: the one that ends its limb and is called so has the digits.
      if (moves(target) && !endsAsHand(shape, names, hand, target)) continue;
      if (isAncestor(shape, target, hand) || isAncestor(shape, hand, target)) continue;
      for (const child of shape.children[target]) hang(parents, child, hand);
      isChanged = true;
      break;
    }
  }
  return isChanged;
}

/** A bone with nothing but an end bone below it that is called a hand, or that a limb leads to while the target hangs by itself: two segments above it have a length. */
function endsAsHand(shape: RigShape, names: NameReadings, bone: number, target: number): boolean {
  if (shape.children[bone].some((child) => shape.children[child].length > 0) || shape.children[bone].length > 1)
    return false;
  const said = plainPart(names.bones[bone]);
  return said === 'hand' || (said === null && segmentsAbove(shape, bone) >= 2 && segmentsAbove(shape, target) < 2);
}

/** Segments of a limb's length that lead to a bone one after another, each the only way on or one of few. */
function segmentsAbove(shape: RigShape, bone: number): number {
  let count = 0;
  for (let at = bone; at >= 0 && shape.parents[at] >= 0; at = shape.parents[at]) {
    if (shape.lengths[at] < SAME_PLACE_SHARE * shape.size) continue;
    if (shape.lengths[at] < SEGMENT_SHARE * shape.size) break;
    count++;
    if (shape.children[shape.parents[at]].length >= FORK) break;
  }
  return count;
}

/** From a bone with this many children a limb leaves, it does not go on. */
const FORK = 3;

/** A digit starts no farther from its hand than this share of the rig's size. */
const HAND_REACH = 0.1;
/** Fewer digits than this may be named after what they hold. */
const LEAST_DIGITS = 2;

/**
 * Digits that hang on a control or the forearm while the only bone called hand of their side has none: what is called
 * a digit and lies within its reach goes to it.
 */
export function adoptNamedDigits(shape: RigShape, names: NameReadings, parents: Int32Array): boolean {
  let isChanged = false;
  for (const side of ['left', 'right'] as const) {
    const onSide = [...shape.parents.keys()].filter((bone) => names.bones[bone].side === side);
    const [hand, ...others] = onSide.filter((bone) => plainPart(names.bones[bone]) === 'hand');
    if (hand === undefined || others.length > 0) continue;
    const digits = onSide.filter((bone) => isDigit(names.bones[bone]));
    if (digits.some((bone) => isBelow(parents, bone, hand))) continue;
    const tops = digits.filter(
      (bone) =>
        !(parents[bone] >= 0 && isDigit(names.bones[parents[bone]])) &&
        distance(shape.positions[bone], shape.positions[hand]) < HAND_REACH * shape.size,
    );
    if (tops.length < LEAST_DIGITS) continue;
    for (const top of tops) hang(parents, top, hand);
    isChanged = true;
  }
  return isChanged;
}

const DIGITS: ReadonlySet<string> = new Set(['thumb', 'index', 'middle', 'ring', 'little', 'finger']);
const isDigit = (reading: NameReading): boolean => DIGITS.has(strongestPart(reading) ?? '');

function isBelow(parents: Int32Array, bone: number, top: number): boolean {
  for (let at = parents[bone]; at >= 0; at = parents[at]) if (at === top) return true;
  return false;
}
