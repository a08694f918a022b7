import { IDENTITY } from '../math/quat';
import { writeProduct, writeSlerp } from '../math/quat-arrays';
import { computeHeadings } from '../motion/heading';
import { slotOfRole, type ContactPart, type Motion, type Slot } from '../motion/motion';

/** What is blended of a motion at a moment. */
export interface LivePose {
  /** [slotCount x 4] D of each slot of the map's layout, its travel and heading taken out. */
  readonly rotations: Float64Array;
  /** Hips from the reference, travel taken out; legs. */
  readonly hips: [number, number, number];
  /** Travel, legs a second: to the left and ahead; and turn, radians a second. */
  readonly speed: [number, number, number];
  readonly bears: Readonly<Record<'leftFoot' | 'rightFoot', boolean>>;
  /** Whether its feet step: those of one that stands say nothing about others that do. */
  steps: boolean;
}

const FEET = ['leftFoot', 'rightFoot'] as const;

/** A motion that is played by phase, so that others step with it. */
export class LiveSource {
  /** Seconds of one round. */
  readonly period: number;
  /** Whether it steps: then phase 0 is the left foot's strike, and a half the right one's. */
  readonly isGait: boolean;
  /** Mean travel, legs a second, and mean turn, radians a second. */
  readonly mean: readonly [side: number, ahead: number, turn: number];
  private readonly strikes: readonly [left: number, right: number];
  private readonly headings: Float64Array;
  private readonly layout: Int32Array;
  private readonly undo = new Float64Array(4);

  /** @param slots the layout that all sources of a map share. */
  constructor(
    readonly motion: Motion,
    slots: readonly Slot[],
  ) {
    const { frameCount, framesPerSecond, hips, rotations } = motion;
    const last = frameCount - 1;
    const seconds = last / framesPerSecond;
    const hipsSlot = slotOfRole(motion.slots, 'hips');
    this.headings = computeHeadings(rotations, hipsSlot * 4, motion.slots.length * 4, frameCount);
    const turn = this.headings[last] - this.headings[0];
    const [left, right] = FEET.map((part) => this.strikesOf(part));
    this.isGait = left.length > 0 && right.length > 0;
    const rounds = this.isGait ? left.length : 1;
    this.period = seconds / rounds;
    const first = left[0] ?? 0;
    const next = right.find((strike) => strike > first) ?? (right[0] ?? 0) + seconds;
    this.strikes = [first, this.isGait ? Math.min(next, first + this.period * 0.9) : first + this.period / 2];
    this.mean = [(hips[last * 3] - hips[0]) / seconds, (hips[last * 3 + 2] - hips[2]) / seconds, turn / seconds];
    // What the motion does not tell of rides on what is above it in the layout.
    this.layout = Int32Array.from(slots, ({ role }) => (role === null ? -1 : slotOfRole(motion.slots, role)));
  }

  /** Moments at which a foot comes down, within the motion; a contact that goes on from its end is none. */
  private strikesOf(part: ContactPart): number[] {
    const { contacts, frameCount, framesPerSecond } = this.motion;
    const own = contacts.filter((contact) => contact.part === part);
    if (own.some(({ from, to }) => from === 0 && to >= frameCount - 1)) return [];
    const goesOn = own.some(({ to }) => to >= frameCount - 1);
    return own
      .filter(({ from }) => from > 0 || !goesOn)
      .map(({ from }) => from / framesPerSecond)
      .sort((a, b) => a - b);
  }

  /** Moment of a phase, 0 to 1. */
  secondsAt(phase: number): number {
    const [left, right] = this.strikes;
    const turn = phase - Math.floor(phase);
    if (!this.isGait) return turn * this.period;
    return turn < 0.5 ? left + (right - left) * turn * 2 : right + (left + this.period - right) * (turn - 0.5) * 2;
  }

  /** @param loops whether a moment past the end is one of the next round. */
  sample(seconds: number, loops: boolean, into: LivePose): LivePose {
    const { motion, layout, undo, headings } = this;
    const { frameCount, framesPerSecond, rotations, hips, slots, contacts } = motion;
    const last = frameCount - 1;
    const whole = last / framesPerSecond;
    const at = loops ? seconds - Math.floor(seconds / whole) * whole : Math.max(0, Math.min(whole, seconds));
    const moment = at * framesPerSecond;
    const from = Math.min(last, Math.floor(moment));
    const to = Math.min(last, from + 1);
    const share = moment - from;
    const heading = headings[from] + (headings[to] - headings[from]) * share;
    const half = -heading / 2;
    undo.set([0, Math.sin(half), 0, Math.cos(half)]);
    for (let slot = 0; slot < layout.length; slot++) {
      const own = layout[slot];
      if (own < 0) into.rotations.set(slot > 0 ? into.rotations.subarray(slot * 4 - 4, slot * 4) : IDENTITY, slot * 4);
      else {
        const [a, b] = [(from * slots.length + own) * 4, (to * slots.length + own) * 4];
        writeSlerp(into.rotations, slot * 4, rotations, a, rotations, b, share);
        writeProduct(into.rotations, slot * 4, undo, 0, into.rotations, slot * 4);
      }
    }
    into.steps = this.isGait;
    const [side, ahead, turn] = this.mean;
    const hipsAt = (k: number): number => hips[from * 3 + k] + (hips[to * 3 + k] - hips[from * 3 + k]) * share;
    into.hips[0] = hipsAt(0) - hips[0] - side * at;
    into.hips[1] = hipsAt(1);
    into.hips[2] = hipsAt(2) - hips[2] - ahead * at;
    into.speed[0] = side;
    into.speed[1] = ahead;
    into.speed[2] = Math.abs(turn) < 1e-3 ? 0 : (headings[to] - headings[from]) * framesPerSecond;
    for (const part of FEET)
      (into.bears as Record<string, boolean>)[part] = contacts.some(
        (contact) => contact.part === part && moment >= contact.from - 0.5 && moment <= contact.to + 0.5,
      );
    return into;
  }
}

export const emptyPose = (slots: number): LivePose => ({
  rotations: new Float64Array(slots * 4),
  hips: [0, 0, 0],
  speed: [0, 0, 0],
  bears: { leftFoot: true, rightFoot: true },
  steps: false,
});

/** With less of what steps in a blend the feet stand. */
const LEAST_STEPPING = 0.12;

/** Weighted mean of turns, signs made alike: near each other it is as good as the spherical one. [slotCount x 4] */
export function blendPoses(poses: readonly LivePose[], weights: readonly number[], into: LivePose): LivePose {
  into.rotations.fill(0);
  into.hips.fill(0);
  into.speed.fill(0);
  const stepping = poses.reduce((sum, { steps }, at) => sum + (steps ? weights[at] : 0), 0);
  into.steps = stepping > LEAST_STEPPING;
  const voters = into.steps ? stepping : weights.reduce((sum, weight) => sum + weight, 0);
  const bearing = { leftFoot: 0, rightFoot: 0 };
  let lead: Float64Array | null = null;
  let most = 0;
  poses.forEach((pose, at) => {
    if (weights[at] > most) [lead, most] = [pose.rotations, weights[at]];
  });
  poses.forEach(({ rotations, hips, speed, bears, steps }, at) => {
    const weight = weights[at];
    if (weight <= 0 || !lead) return;
    for (let slot = 0; slot < rotations.length; slot += 4) {
      let cosine = 0;
      for (let k = 0; k < 4; k++) cosine += rotations[slot + k] * lead[slot + k];
      const signed = cosine < 0 ? -weight : weight;
      for (let k = 0; k < 4; k++) into.rotations[slot + k] += rotations[slot + k] * signed;
    }
    for (let k = 0; k < 3; k++) {
      into.hips[k] += hips[k] * weight;
      into.speed[k] += speed[k] * weight;
    }
    for (const part of FEET) bearing[part] += bears[part] && (steps || !into.steps) ? weight : 0;
  });
  for (let slot = 0; slot < into.rotations.length; slot += 4) {
    const length = Math.hypot(...into.rotations.subarray(slot, slot + 4)) || 1;
    for (let k = 0; k < 4; k++) into.rotations[slot + k] /= length;
  }
  for (const part of FEET) (into.bears as Record<string, boolean>)[part] = bearing[part] > 0.5 * voters;
  return into;
}
