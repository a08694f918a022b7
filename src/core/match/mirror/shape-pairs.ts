import { distance } from '../../math/vec3';
import type { RigShape } from '../../rig/rig-shape';

/** Bones nearer the plane than this share of the rig's size are on the centre line. */
export const CENTRE_SHARE = 0.012;
/** Tree pairs may differ by this share in length and reach. */
export const SHAPE_SHARE = 0.12;
/** Of more siblings than this only the first are compared with one another. */
export const MOST_SIBLINGS = 64;

export const rootsOf = (shape: RigShape): number[] =>
  [...shape.parents.keys()].filter((bone) => shape.parents[bone] < 0);

/** How far two bones differ in their own length and in the reach and number of what hangs on them; the largest share. */
export function shapeDifference(shape: RigShape, a: number, b: number): number {
  const relative = (x: number, y: number) => (Math.max(x, y) > shape.size * 1e-4 ? apart(x, y) : 0);
  return Math.max(
    relative(shape.lengths[a], shape.lengths[b]),
    relative(shape.reaches[a], shape.reaches[b]),
    relative(shape.subtreeCounts[a], shape.subtreeCounts[b]) / 2,
  );
}

/** Difference of two lengths as a share of the longer one. */
export const apart = (x: number, y: number): number => (Math.max(x, y) > 0 ? Math.abs(x - y) / Math.max(x, y) : 0);

/** Two bones, or where they stand at one place, the first ones on the longest ways down that do not: no pose has turned those far. */
export function firstApart(shape: RigShape, a: number, b: number): readonly [number, number] {
  let [x, y] = [a, b];
  while (distance(shape.positions[x], shape.positions[y]) < ONE_PLACE * shape.size) {
    [x, y] = [longestChild(shape, x), longestChild(shape, y)];
    if (x < 0 || y < 0) return [a, b];
  }
  return [x, y];
}

const longestChild = (shape: RigShape, bone: number): number =>
  shape.children[bone].reduce(
    (best, child) =>
      best < 0 || shape.lengths[child] + shape.reaches[child] > shape.lengths[best] + shape.reaches[best]
        ? child
        : best,
    -1,
  );

/** Bones nearer to each other than this share of the rig's size stand at one place. */
const ONE_PLACE = 0.012;
