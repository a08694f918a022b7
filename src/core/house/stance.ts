import type { Digit } from '../definition/definition';
import type { Vec3 } from '../math/vec3';

/*
 * What a figure of the house set does at one moment. Body frame: x left, y up, z ahead; metres; degrees. Right limbs are
 * told as mirror images of left ones.
 */

/** Turns of a part against what it hangs on: bend ahead, lean to the left, turn to the left. */
export interface Tilt {
  readonly bend: number;
  readonly lean: number;
  readonly turn: number;
}
export const UPRIGHT: Tilt = { bend: 0, lean: 0, turn: 0 };

export interface FingerPose {
  /** Bend of the three joints from the hand outwards; the thumb's first closes it towards the palm. */
  readonly curl: Readonly<Record<Digit, readonly [number, number, number]>>;
  /** Fingers fanned out by so much more than they are in the reference. */
  readonly spread: number;
}

export interface ArmPose {
  /** Of a hanging arm: ahead, away from the body, and turned inwards about itself. */
  readonly flex: number;
  readonly abduct: number;
  readonly inward: number;
  readonly elbow: number;
  /** Palm turned down (+) or up (-) with the elbow bent. */
  readonly pronate: number;
  /** Hand bent towards the palm, and towards the little finger. */
  readonly wrist: number;
  readonly aside: number;
  /** Collar lifted, and drawn ahead. */
  readonly shrug: number;
  readonly ahead: number;
  /** Where the wrist is wanted instead, how much that counts (0 to 1), and where the elbow points. */
  readonly reach: { readonly place: Vec3; readonly share: number; readonly elbow: Vec3 } | null;
  readonly fingers: FingerPose;
}

/** A leg by its angles, against the hips. */
export interface LegAngles {
  readonly flex: number;
  readonly abduct: number;
  readonly inward: number;
  readonly knee: number;
  /** Foot bent up (+) or down (-) against the shin. */
  readonly ankle: number;
}

/** A foot at a place; heel up by `pitch` against the floor, toes by `toePitch`. */
export interface LegPose {
  readonly ankle: Vec3;
  readonly pitch: number;
  readonly yaw: number;
  readonly toePitch: number;
  /** How the leg is held instead, and how much that counts, 0 to 1. */
  readonly freed: { readonly angles: LegAngles; readonly share: number } | null;
}

export interface Stance {
  /** Joint of the hips. */
  readonly hips: Vec3;
  /** Where the figure faces, turned to the left. */
  readonly heading: number;
  /** Hips against the heading. */
  readonly pelvis: Tilt;
  /** Upper chest against the hips. */
  readonly trunk: Tilt;
  /** Head against the heading, not against the trunk: people keep it level. */
  readonly head: Tilt;
  readonly arms: { readonly left: ArmPose; readonly right: ArmPose };
  readonly legs: { readonly left: LegPose; readonly right: LegPose };
}

const curls = (each: readonly [number, number, number], thumb: readonly [number, number, number]) => ({
  Thumb: thumb,
  Index: each,
  Middle: each,
  Ring: each,
  Little: each,
});

export const RELAXED: FingerPose = {
  curl: { ...curls([20, 24, 12], [10, 12, 10]), Index: [14, 18, 10], Little: [24, 28, 14] },
  spread: 0,
};
export const FIST: FingerPose = { curl: curls([75, 85, 50], [25, 35, 40]), spread: -4 };
export const STRETCHED: FingerPose = { curl: curls([0, 0, 0], [0, 0, 0]), spread: 0 };

/** An arm that hangs at rest. */
export const HANGING: ArmPose = {
  flex: 2,
  abduct: 9,
  inward: 8,
  elbow: 14,
  pronate: 10,
  wrist: 4,
  aside: 0,
  shrug: 0,
  ahead: 0,
  reach: null,
  fingers: RELAXED,
};
