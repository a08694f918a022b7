import { distance, lengthOf, normalise, reject, subtract, dot } from '../../math/vec3';
import { nearestAbove } from '../../rig/bone-tree';
import { isAncestor } from '../../rig/rig-shape';
import { findCopiedBones } from '../../rig/copied-bones';
import type { MatchContext } from '../context/context';
import type { Spare, SpareKind } from '../context/match-types';

interface MappedBones {
  readonly roles: ReadonlyMap<number, string>;
  /** Mapped bones whose nearest mapped bone above is the key. */
  readonly below: ReadonlyMap<number, readonly number[]>;
  /** What a role is called in the middle of a sentence: "left forearm". */
  readonly plain: (role: string | null) => string;
}

/** Explains every bone without a role. `roleBones` maps bone -> role; `members` are runs' inner bones, which are no spares. */
export function explainSpares(
  context: MatchContext,
  roleBones: ReadonlyMap<number, string>,
  members: ReadonlySet<number>,
  rootBone: number,
  labelOf: (role: string) => string,
): Spare[] {
  const spares: Spare[] = [];
  const mapped = {
    roles: roleBones,
    below: mappedByRider(context, roleBones),
    plain: (role: string | null) => (role === null ? 'body' : labelOf(role).toLowerCase()),
  };
  const copies = new Map(findCopiedBones(context.rig).map(({ copy, original }) => [copy, original]));
  for (let bone = 0; bone < context.shape.boneCount; bone++) {
    if (roleBones.has(bone) || members.has(bone) || bone === rootBone) continue;
    const original = copies.get(bone);
    const explained =
      original === undefined
        ? explain(context, mapped, bone)
        : { kind: 'dangling' as const, reason: `it repeats ${context.rig.bones[original].name} in name and place` };
    const ridesOn =
      original !== undefined && roleBones.has(original) ? original : nearestMapped(context, mapped.roles, bone);
    spares.push({ boneIndex: bone, ...explained, ridesOn });
  }
  return spares;
}

const nearestMapped = (context: MatchContext, roles: ReadonlyMap<number, string>, bone: number): number =>
  nearestAbove(context.shape.parents, bone, (above) => roles.has(above));

function mappedByRider(context: MatchContext, roles: ReadonlyMap<number, string>): Map<number, number[]> {
  const below = new Map<number, number[]>();
  for (const bone of roles.keys()) {
    const rider = nearestMapped(context, roles, bone);
    const known = below.get(rider);
    if (known) known.push(bone);
    else below.set(rider, [bone]);
  }
  return below;
}

const WORD_KINDS: readonly [word: string, kind: SpareKind, reason: string][] = [
  ['twist', 'twist', 'its name says twist'],
  ['tip', 'tip', 'its name says end'],
  ['control', 'control', 'its name says control or attachment point'],
  ['prop', 'prop', 'its name says prop'],
  ['vehicle', 'prop', 'its name says part of a machine'],
  ['cloth', 'dangling', 'its name says clothing'],
  ['hair', 'dangling', 'its name says hair or headwear'],
  ['tail', 'dangling', 'its name says tail'],
  ['ear', 'dangling', 'its name says ear'],
  ['wing', 'dangling', 'its name says wing'],
  ['face', 'face', 'its name says part of the face'],
  ['metacarpal', 'helper', 'its name says metacarpal; the definition has no role for it'],
  ['toeDigit', 'helper', 'its name says single toe; the definition has one role for all toes'],
  ['breast', 'helper', 'its name says soft tissue'],
  ['helper', 'helper', 'its name says helper'],
  ['root', 'leftover', 'its name says root'],
];

function explain(context: MatchContext, mapped: MappedBones, bone: number): { kind: SpareKind; reason: string } {
  const { other, body } = context.names.bones[bone];
  const moves = context.shape.hasSkin && context.rig.bones[bone].skinWeight > 0;
  for (const [word, kind, reason] of WORD_KINDS) {
    // A "pole" that carries skin is a pole; targets carry none.
    if (kind === 'control' && moves) continue;
    if ((other[word as keyof typeof other] ?? 0) >= 0.7) return { kind, reason };
  }
  return byPlace(context, mapped, bone, (body.eye ?? 0) + (body.jaw ?? 0) > 0.7);
}

function byPlace(
  context: MatchContext,
  mapped: MappedBones,
  bone: number,
  isFaceWord: boolean,
): { kind: SpareKind; reason: string } {
  const { shape } = context;
  const isLeaf = shape.children[bone].length === 0;
  const moves = context.rig.bones[bone].skinWeight > 0;
  const parent = shape.parents[bone];
  const rider = nearestMapped(context, mapped.roles, bone);
  const role = rider >= 0 ? (mapped.roles.get(rider) as string) : null;
  if (isFaceWord) return { kind: 'face', reason: 'its name says part of the face' };
  if (isLeaf && !moves && shape.hasSkin && coincident(context, mapped, bone, rider)) {
    return { kind: 'control', reason: 'it stands on a mapped joint and moves no vertices' };
  }
  if (rider >= 0 && isLimb(role) && liesOnSegment(context, mapped, bone, rider)) {
    return { kind: 'twist', reason: `it lies along the ${mapped.plain(role)} and turns with it` };
  }
  if (
    isLeaf &&
    parent >= 0 &&
    (mapped.roles.has(parent) || isChainEnd(context, bone)) &&
    !(shape.hasSkin && moves) &&
    pointsOn(context, bone)
  ) {
    return { kind: 'tip', reason: 'it ends a chain and moves no vertices' };
  }
  if (shape.hasSkin && !moves && shape.subtreeCounts[bone] === 1) {
    return rider >= 0
      ? { kind: 'control', reason: 'it moves no vertices and nothing hangs on it' }
      : { kind: 'leftover', reason: 'it moves no vertices and stands apart from the body' };
  }
  const carried = mappedBelow(context, mapped, bone);
  if (rider >= 0 && carried)
    return { kind: 'helper', reason: `it stands between the ${mapped.plain(role)} and the ${mapped.plain(carried)}` };
  if (role === 'head' || role === 'jaw') return { kind: 'face', reason: 'it hangs on the head and carries skin' };
  if (rider >= 0 && isChain(context, bone))
    return { kind: 'dangling', reason: `a loose chain below the ${mapped.plain(role)}` };
  if (rider >= 0 && isLeaf) return { kind: 'helper', reason: `a lone bone beside the ${mapped.plain(role)}` };
  return { kind: 'unknown', reason: 'nothing tells what it is for' };
}

/** Role of the nearest mapped bone that hangs on a bone; null for none. */
function mappedBelow({ shape }: MatchContext, mapped: MappedBones, bone: number): string | null {
  const queue = [...shape.children[bone]];
  for (const below of queue) {
    const role = mapped.roles.get(below);
    if (role) return role;
    queue.push(...shape.children[below]);
  }
  return null;
}

const isLimb = (role: string | null): boolean => role !== null && /Arm|Leg|Shoulder|Hand/.test(role);

/** At the same place as a mapped joint other than the one it hangs on. */
function coincident(context: MatchContext, mapped: MappedBones, bone: number, rider: number): boolean {
  const { shape } = context;
  for (const other of mapped.roles.keys()) {
    if (other === rider || isAncestor(shape, bone, other)) continue;
    if (distance(shape.positions[other], shape.positions[bone]) < shape.size * 0.004) return true;
  }
  return false;
}

/** On the straight line from a mapped joint to its mapped child, strictly between or at the joint itself. */
function liesOnSegment(context: MatchContext, mapped: MappedBones, bone: number, rider: number): boolean {
  const { shape } = context;
  for (const child of mapped.below.get(rider) ?? []) {
    const along = subtract(shape.positions[child], shape.positions[rider]);
    const direction = normalise(along);
    if (!direction) continue;
    const offset = subtract(shape.positions[bone], shape.positions[rider]);
    const share = dot(offset, direction) / lengthOf(along);
    if (share > -0.02 && share < 0.98 && lengthOf(reject(offset, direction)) < 0.05 * lengthOf(along)) return true;
  }
  return false;
}

function isChainEnd(context: MatchContext, bone: number): boolean {
  const parent = context.shape.parents[bone];
  return parent >= 0 && context.shape.children[parent].length === 1;
}

/** Leads on from its parent instead of turning back. */
function pointsOn(context: MatchContext, bone: number): boolean {
  const { shape } = context;
  const parent = shape.parents[bone];
  const grandparent = parent >= 0 ? shape.parents[parent] : -1;
  if (grandparent < 0) return true;
  const on = subtract(shape.positions[bone], shape.positions[parent]);
  const before = subtract(shape.positions[parent], shape.positions[grandparent]);
  return dot(on, before) > -0.2 * lengthOf(on) * lengthOf(before);
}

/** Part of a chain of at least two bones that carry skin. */
function isChain(context: MatchContext, bone: number): boolean {
  const { shape } = context;
  const hasChild = shape.children[bone].length > 0;
  const parent = shape.parents[bone];
  const parentIsSpare = parent >= 0 && shape.subtreeCounts[parent] <= shape.subtreeCounts[bone] + 1;
  return hasChild || parentIsSpare;
}
