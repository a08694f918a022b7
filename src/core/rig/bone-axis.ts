import { normalise, type Vec3 } from '../math/vec3';
import type { Rig } from './rig';
import type { RigShape } from './rig-shape';

/** A child lies on its parent's axis within this (10 degrees). */
const CHILD_COSINE = 0.985;
/** A bone without children points at another one within this (2.6 degrees): chance hits are rare so narrow. */
const POINTS_AT_COSINE = 0.999;
/** Nothing further away than this share of the rig's size is pointed at. */
const POINTING_REACH = 0.4;
/** Nearer than this share of the rig's size a direction is noise. */
const SAME_PLACE = 0.005;
/** Least number of bones that must show the axis, their least share, and how far it must lead before the next axis. */
const LEAST_HITS = 4;
const LEAST_SHARE = 0.25;
const LEAD = 1.6;
/** Bones that are asked at the most. */
const MOST_ASKED = 100;
/** In a straight chain each bone also points away from the one before it: the axis back comes close. */
const BACK_LEAD = 1.1;

/**
 * Which way each bone points, where the rig shows that its bones lie along one of their own local axes: then a bone's
 * rotation tells what it leads to, even where the tree does not. Tools that author bones as segments do so throughout;
 * files that keep joints only (BVH) do not. File space, unit length; null for a rig that shows no such axis.
 */
export function boneDirections(rig: Rig, shape: RigShape): readonly (Vec3 | null)[] | null {
  const able = [...shape.parents.keys()].filter((bone) => asks(shape, bone));
  // Evenly over the rig: a face of a thousand bones tells no more than some of them.
  const stride = Math.ceil(able.length / MOST_ASKED);
  const asked = able.filter((_, at) => at % stride === 0);
  const counts = [0, 1, 2, 3, 4, 5].map(
    (axis) => asked.filter((bone) => isHit(shape, bone, localAxis(rig.bones[bone].restWorld, axis))).length,
  );
  const best = counts.indexOf(Math.max(...counts));
  const back = best ^ 1;
  const next = Math.max(...counts.filter((_, axis) => axis !== best && axis !== back));
  if (counts[best] < Math.max(LEAST_HITS, LEAST_SHARE * asked.length, LEAD * next, BACK_LEAD * counts[back]))
    return null;
  return rig.bones.map((bone) => localAxis(bone.restWorld, best));
}

/** What hangs with this many others on one bone may just have been put there. */
const CROWDED = 6;

/** Bones that can show their axis: with a child apart from them, or standing alone or in a crowd. */
const asks = (shape: RigShape, bone: number): boolean =>
  shape.children[bone].length > 0 && shape.children[bone].length < CROWDED
    ? shape.children[bone].some((child) => shape.lengths[child] > SAME_PLACE * shape.size)
    : shape.parents[bone] < 0 || shape.children[shape.parents[bone]].length >= CROWDED;

function isHit(shape: RigShape, bone: number, direction: Vec3 | null): boolean {
  if (!direction) return false;
  if (shape.children[bone].length > 0 && shape.children[bone].length < CROWDED)
    return shape.children[bone].some((child) => alongTo(shape, bone, child, direction, CHILD_COSINE) < Infinity);
  const reach = POINTING_REACH * shape.size;
  for (let other = 0; other < shape.boneCount; other++)
    if (alongTo(shape, bone, other, direction, POINTS_AT_COSINE) < reach) return true;
  return false;
}

/**
 * The nearest bone that each one points at within its reach; -1 for none.
 * @param directions as `boneDirections` gives them.
 */
export function pointedAt(shape: RigShape, directions: readonly (Vec3 | null)[]): Int32Array {
  return Int32Array.from(directions, (direction, bone) => {
    if (!direction) return -1;
    let [nearest, least] = [-1, POINTING_REACH * shape.size];
    for (let other = 0; other < shape.boneCount; other++) {
      const away = alongTo(shape, bone, other, direction, CHILD_COSINE);
      if (away < least) [nearest, least] = [other, away];
    }
    return nearest;
  });
}

/**
 * How far `other` lies from `bone` in a direction, within an angle given by its cosine; infinity elsewhere and at the same
 * place. Written out in numbers: asked for every pair of bones.
 */
function alongTo(shape: RigShape, bone: number, other: number, direction: Vec3, cosine: number): number {
  const [from, to] = [shape.positions[bone], shape.positions[other]];
  const x = to[0] - from[0];
  const y = to[1] - from[1];
  const z = to[2] - from[2];
  const along = x * direction[0] + y * direction[1] + z * direction[2];
  if (along <= 0) return Infinity;
  const length = Math.sqrt(x * x + y * y + z * z);
  return length > SAME_PLACE * shape.size && along > cosine * length ? length : Infinity;
}

/** One of +X, −X, +Y, −Y, +Z, −Z (0 to 5) of a bone in file space, unit length; null for an axis that is scaled away. */
function localAxis(world: readonly number[], axis: number): Vec3 | null {
  const column = (axis >> 1) * 4;
  const sign = axis % 2 === 0 ? 1 : -1;
  return normalise([world[column] * sign, world[column + 1] * sign, world[column + 2] * sign]);
}
