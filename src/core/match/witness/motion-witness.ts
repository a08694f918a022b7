import { decompose, translationOf } from '../../math/mat4';
import { conjugate, multiply, rotate, type Quat } from '../../math/quat';
import { distance, subtract, type Vec3 } from '../../math/vec3';
import type { ClipTracks, MotionTracks } from '../../clips/motion-tracks';
import { spanOf } from '../../clips/sample-tracks';
import { ClipPlayer } from '../../rig/clip-player';
import type { Rig } from '../../rig/rig';
import { largestExtent } from '../../rig/rig-shape';

/** One moment of a clip: where each bone is and how it is turned, file space. */
export interface Moment {
  readonly clip: number;
  readonly positions: readonly Vec3[];
  readonly rotations: readonly Quat[];
}

/** What the clips of a file show of its bones. */
export interface MotionWitness {
  readonly moments: readonly Moment[];
  /** How bones stand at rest. */
  readonly rest: Moment;
  /** Largest extent of the joints at rest. */
  readonly size: number;
}

/** Clips that are looked at, the longest first, and moments of each: enough for a walk's two steps. */
const MOST_CLIPS = 3;
const MOMENTS = 10;
/** Bones times moments: a rig of thousands is looked at less often. */
const MOST_WORK = 24_000;
/** A bone has moved if it went this share of the rig's size, or turned by this much, radians. */
const MOVED = 0.02;
const TURNED_COSINE = Math.cos(0.1 / 2);

/** What the clips show, looked at when it is first asked for: most rigs are clear without. */
export type WitnessSource = () => MotionWitness | null;

export function witnessSource(rig: Rig, motion: MotionTracks | null): WitnessSource {
  let known: MotionWitness | null | undefined;
  return () => (known === undefined ? (known = motion ? witnessOf(rig, motion) : null) : known);
}

/** What a rig's clips show; null where it has none in which anything moves. */
export function witnessOf(rig: Rig, motion: MotionTracks): MotionWitness | null {
  const clips = motion
    .map((clip, index) => ({ clip, index, length: lengthOf(clip) }))
    .filter(({ length }) => length > 0)
    .sort((a, b) => b.length - a.length)
    .slice(0, MOST_CLIPS);
  if (clips.length === 0 || rig.bones.length === 0) return null;
  const player = new ClipPlayer(rig);
  const each = Math.max(3, Math.min(MOMENTS, Math.floor(MOST_WORK / rig.bones.length / clips.length)));
  const moments = clips.flatMap(({ clip, index }) => {
    const { start, end } = spanOf(clip);
    return Array.from({ length: each }, (_, at) =>
      momentOf(index, player.worldsAt(clip, start + ((end - start) * at) / (each - 1))),
    );
  });
  const rest = momentOf(
    -1,
    rig.bones.map(({ restWorld }) => restWorld),
  );
  const size = largestExtent(rest.positions);
  const isMoving = moments.some((moment) => rig.bones.some((_, bone) => hasMoved(rest, moment, bone, size)));
  return isMoving ? { moments, rest, size } : null;
}

const lengthOf = (clip: ClipTracks): number => {
  const { start, end } = spanOf(clip);
  return end - start;
};

const momentOf = (clip: number, worlds: readonly (readonly number[])[]): Moment => ({
  clip,
  positions: worlds.map((world) => translationOf(world)),
  rotations: worlds.map((world) => decompose(world).rotation),
});

function hasMoved(rest: Moment, moment: Moment, bone: number, size: number): boolean {
  const [a, b] = [rest.rotations[bone], moment.rotations[bone]];
  const cosine = Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3]);
  return cosine < TURNED_COSINE || distance(rest.positions[bone], moment.positions[bone]) > MOVED * size;
}

/** How a bone is turned against its rest at a moment, file space. */
export const turnAt = ({ rest }: MotionWitness, moment: Moment, bone: number): Quat =>
  multiply(moment.rotations[bone], conjugate(rest.rotations[bone]));

/**
 * How far a bone's head strays in the space of another one over all moments, as a share of the rig's size: 0 for what
 * rides on it.
 */
export function strayOf({ moments, rest, size }: MotionWitness, on: number, bone: number): number {
  const inSpace = (moment: Moment) =>
    rotate(conjugate(moment.rotations[on]), subtract(moment.positions[bone], moment.positions[on]));
  const own = inSpace(rest);
  let most = 0;
  for (const moment of moments) most = Math.max(most, distance(own, inSpace(moment)));
  return size > 0 ? most / size : 0;
}
