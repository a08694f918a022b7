import { problemOf, type Problem } from '../errors/yarvo-error';
import type { MotionCarrier } from '../motion/carry-frames';
import type { RootTravel } from '../motion/carry-options';
import type { Motion } from '../motion/motion';
import { skeletonSignature } from '../rig/skeleton-signature';
import { carryTo, type CarrySubject } from './carry-subject';

/** A character that a motion is carried to, under a name of the caller's. */
export interface Passenger extends CarrySubject {
  readonly id: string;
}

/** What carrying one motion to one character came to. */
export type CarriedCell =
  | {
      readonly id: string;
      readonly ok: true;
      /** The character of the same skeleton whose clip does for this one as well; null where it needs its own. */
      readonly sharesWith: string | null;
      /** Largest turn between its own clip and the first one of its skeleton, degrees; null for the first one. */
      readonly differsDeg: number | null;
    }
  | { readonly id: string; readonly ok: false; readonly problem: Problem };

/** Up to here two clips are one: less than can be seen, more than single precision leaves. */
const SHARED_DEG = 0.05;
/** The same for joints, as a share of the longest way in the clip. */
const SHARED_SHARE = 1e-4;

interface Leader {
  readonly id: string;
  readonly carrier: MotionCarrier;
  readonly frames: ReturnType<MotionCarrier['carry']>;
}

/**
 * Carries a motion to some characters. Those of one skeleton are held against the first of them: where posture, roles and
 * offsets come to the same local transforms, one clip does for all.
 */
export function carryMany(motion: Motion, passengers: readonly Passenger[], travel: RootTravel): CarriedCell[] {
  const leaders = new Map<string, Leader>();
  return passengers.map(({ id, ...subject }): CarriedCell => {
    try {
      const signature = skeletonSignature(subject.target.rig);
      const { carrier } = carryTo(motion, subject, travel);
      const frames = carrier.carry(0, motion.frameCount);
      const leader = leaders.get(signature);
      if (!leader) {
        leaders.set(signature, { id, carrier, frames });
        return { id, ok: true, sharesWith: null, differsDeg: null };
      }
      const differsDeg = differenceOf(leader, carrier, frames);
      return { id, ok: true, sharesWith: differsDeg <= SHARED_DEG ? leader.id : null, differsDeg };
    } catch (error) {
      return { id, ok: false, problem: problemOf(error, motion.name) };
    }
  });
}

/** 180 where other bones are driven, or a joint goes another way. */
function differenceOf(leader: Leader, carrier: MotionCarrier, frames: Leader['frames']): number {
  const bonesOf = ({ plan, placedBones }: MotionCarrier): string =>
    [...plan.driven.map(({ boneIndex }) => boneIndex), -1, ...placedBones].join();
  if (bonesOf(leader.carrier) !== bonesOf(carrier)) return 180;
  let largest = 0;
  for (let at = 0; at < frames.translations.length; at++)
    largest = Math.max(largest, Math.abs(frames.translations[at]));
  for (let at = 0; at < frames.translations.length; at++)
    if (Math.abs(frames.translations[at] - leader.frames.translations[at]) > SHARED_SHARE * largest) return 180;
  // By the chord, |a - b| = 2 sin(angle / 4): near nothing the cosine of single-precision turns says nothing.
  const [a, b] = [leader.frames.rotations, frames.rotations];
  let farthest = 0;
  for (let at = 0; at < a.length; at += 4) {
    let [less, more] = [0, 0];
    for (let k = 0; k < 4; k++) {
      less += (a[at + k] - b[at + k]) ** 2;
      more += (a[at + k] + b[at + k]) ** 2;
    }
    farthest = Math.max(farthest, Math.min(less, more));
  }
  return (4 * Math.asin(Math.min(1, Math.sqrt(farthest) / 2)) * 180) / Math.PI;
}
