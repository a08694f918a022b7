import type { Vec3 } from '../math/vec3';
import type { RootTravel } from './carry-options';
import { computeHeadings } from './heading';
import { lowPass } from './low-pass';
import { slotOfRole, type Motion } from './motion';

/** Where a character's root goes in a motion. */
export interface RootPath {
  /** [frameCount x 3] body frame, metres. */
  readonly places: Float64Array;
  /** [frameCount] turn about the up axis, radians, without jumps. */
  readonly headings: Float64Array;
}

export interface RootPlace {
  /** Joint of the root in the reference posture; under the hips on the floor where the character has none. */
  readonly root: Vec3;
  readonly hips: Vec3;
}

/**
 * The root's path: it stands under the hips as it does in the reference posture, in those components that it takes over.
 *
 * @param hipsAt [frameCount x 3] joint of the hips on the character, metres.
 */
export function rootPath(
  motion: Motion,
  hipsAt: Float64Array,
  { components, cutoffHz }: RootTravel,
  { root, hips }: RootPlace,
): RootPath {
  const { frameCount, slots, framesPerSecond } = motion;
  const smooth = (values: Float64Array) => (cutoffHz === null ? values : lowPass(values, cutoffHz, framesPerSecond));
  const slot = slotOfRole(slots, 'hips');
  const isTurned = components.includes('turn') && slot >= 0;
  const headings = isTurned
    ? smooth(computeHeadings(motion.rotations, slot * 4, slots.length * 4, frameCount))
    : new Float64Array(frameCount);
  const along = (axis: 0 | 1 | 2, isTaken: boolean): Float64Array => {
    if (!isTaken) return new Float64Array(frameCount).fill(root[axis]);
    const values = new Float64Array(frameCount);
    for (let frame = 0; frame < frameCount; frame++) {
      const [sine, cosine] = [Math.sin(headings[frame]), Math.cos(headings[frame])];
      const [x, z] = [hips[0] - root[0], hips[2] - root[2]];
      const away = axis === 0 ? cosine * x + sine * z : axis === 2 ? cosine * z - sine * x : hips[1] - root[1];
      values[frame] = hipsAt[frame * 3 + axis] - away;
    }
    return smooth(values);
  };
  const [isFlat, isUp] = [components.includes('horizontal'), components.includes('vertical')];
  const [x, y, z] = [along(0, isFlat), along(1, isUp), along(2, isFlat)];
  const places = new Float64Array(frameCount * 3);
  for (let frame = 0; frame < frameCount; frame++) places.set([x[frame], y[frame], z[frame]], frame * 3);
  return { places, headings };
}
