import type { Side } from '../definition/definition';
import type { Vec3 } from '../math/vec3';
import type { GaitSettings } from './gait-settings';

/** How one foot steps; times as shares of a stride. */
export interface Stepping {
  readonly strike: number;
  /** How long it bears. */
  readonly duty: number;
  /** Foot against the floor where it comes down and where it leaves, heel up; degrees. */
  readonly strikePitch: number;
  readonly offPitch: number;
  /** From when to when it stands flat, shares of the time that it bears. */
  readonly flatFrom: number;
  readonly flatTo: number;
  /** Rates of the pitch where it comes down and where it leaves; degrees in the time that it bears. */
  readonly strikeRate: number;
  readonly offRate: number;
  /** Toes turned out. */
  readonly out: number;
}

export interface GaitPlan {
  readonly settings: GaitSettings;
  /** Seconds of a stride. */
  readonly cycle: number;
  readonly strides: number;
  /** Metres a second. */
  readonly velocity: Vec3;
  /** Metres up for each stride. */
  readonly climb: number;
  readonly spacing: number;
  readonly steps: Readonly<Record<Side, Stepping>>;
  /** Middle of the time that a foot bears alone. */
  readonly middle: Readonly<Record<Side, number>>;
  /** When the hips pass the ankle, share of the time that it bears. */
  readonly passing: number;
  /** Mean place of the hips, and how much they go up and down from there. */
  readonly height: number;
  readonly bounce: number;
  /** Higher lift than asked for, so that no sole meets the floor. */
  readonly clearance: number;
  /** 0 for a stroll, 1 for a brisk walk, of this gait. */
  readonly briskness: number;
  readonly remarks: readonly string[];
}
