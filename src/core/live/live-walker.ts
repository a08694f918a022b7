import type { Slot } from '../motion/motion';
import { mapWeights, triangulate, type MapNode, type Triangle } from './live-map';
import { blendPoses, emptyPose, type LivePose, type LiveSource } from './live-source';

/** What a person steers. */
export interface LiveInput {
  /** Wanted speed, metres a second of a person of usual size: to the left and ahead. */
  readonly side: number;
  readonly ahead: number;
  /** Wanted turn, radians a second, to the left. */
  readonly turn: number;
  readonly isCrouched: boolean;
  /** Starts a jump; while one goes on it does nothing. */
  readonly isJumping: boolean;
}

/** The motions that are steered with. */
export interface LiveMotions {
  /** On the map, one for each of its nodes. */
  readonly sources: readonly LiveSource[];
  readonly turnLeft: LiveSource | null;
  readonly turnRight: LiveSource | null;
  readonly crouch: LiveSource | null;
  readonly jump: LiveSource | null;
}

/** Where the figure is, and what it does at a moment. */
export interface LiveState {
  readonly pose: LivePose;
  /** Place on the floor, legs, and heading, radians. */
  readonly place: readonly [x: number, z: number];
  readonly heading: number;
  /** Of each node of the map, then of turn, crouch and jump; 0 to 1. */
  readonly weights: readonly number[];
}

/** A speed comes to what is asked for in about this time, seconds; a pose somewhat faster. */
const SETTLE_SECONDS = 0.22;
const POSE_SECONDS = 0.15;
/** Below this share of a turn motion's own rate nobody steps round. */
const STANDING_SPEED = 0.25;
/** Seconds before the take-off and after the landing that a jump is played from and to. */
const JUMP_AROUND = 0.45;

/** Blends the motions of a map as it is steered. All are played by one phase, so that their feet come down together. */
export class LiveWalker {
  private readonly triangles: readonly Triangle[];
  private readonly poses: readonly LivePose[];
  private readonly mixed: LivePose;
  private readonly extras: readonly LivePose[];
  private readonly pose: LivePose;
  private phase = 0;
  private seconds = 0;
  private speed: [number, number] = [0, 0];
  private turn = 0;
  private crouched = 0;
  private turning = 0;
  private turned = 0;
  private jumped = 0;
  private jumpSeconds: number | null = null;
  private readonly jumpSpan: readonly [number, number];
  private place: [number, number] = [0, 0];
  private heading = 0;

  constructor(
    private readonly nodes: readonly MapNode[],
    private readonly motions: LiveMotions,
    slots: readonly Slot[],
    /** Legs a metre of the map's speeds. */
    private readonly legsPerMetre: number,
  ) {
    this.triangles = triangulate(nodes);
    this.poses = nodes.map(() => emptyPose(slots.length));
    this.extras = [0, 1, 2].map(() => emptyPose(slots.length));
    this.mixed = emptyPose(slots.length);
    this.pose = emptyPose(slots.length);
    this.jumpSpan = motions.jump ? flightOf(motions.jump) : [0, 0];
  }

  /** @param dt seconds since the last step; longer ones than a tenth are cut. */
  step(dt: number, input: LiveInput): LiveState {
    const time = Math.min(0.1, Math.max(0, dt));
    const ease = (seconds: number): number => 1 - Math.exp(-time / seconds);
    const { motions, nodes } = this;
    this.speed[0] += (input.side - this.speed[0]) * ease(SETTLE_SECONDS);
    this.speed[1] += (input.ahead - this.speed[1]) * ease(SETTLE_SECONDS);
    this.turn += (input.turn - this.turn) * ease(SETTLE_SECONDS);
    const weights = mapWeights(nodes, this.triangles, this.speed[0], this.speed[1]);
    const slow = Math.max(0, 1 - Math.hypot(...this.speed) / STANDING_SPEED);
    const spin = this.turn > 0 ? motions.turnLeft : motions.turnRight;
    const full = spin ? Math.abs(spin.mean[2]) : 1;
    const wantedSpin = spin && this.turn * spin.mean[2] > 0 ? Math.min(1, Math.abs(this.turn) / full) * slow : 0;
    this.turning += (wantedSpin - this.turning) * ease(POSE_SECONDS);
    this.crouched += ((input.isCrouched && motions.crouch ? 1 : 0) - this.crouched) * ease(POSE_SECONDS);
    if (input.isJumping && motions.jump && this.jumpSeconds === null) this.jumpSeconds = this.jumpSpan[0];
    this.advance(time, weights);
    motions.sources.forEach((source, at) => {
      if (weights[at] <= 0) return;
      const seconds = source.isGait ? source.secondsAt(this.phase) : this.seconds;
      source.sample(seconds, true, this.poses[at]);
    });
    blendPoses(this.poses, [...weights], this.mixed);
    const extras = this.extraWeights(time, spin);
    const rest = Math.max(0, 1 - extras.reduce((sum, weight) => sum + weight, 0));
    blendPoses([this.mixed, ...this.extras], [rest, ...extras], this.pose);
    this.move(time, extras[0] > 0.5 ? this.turning : 0);
    return {
      pose: this.pose,
      place: [...this.place],
      heading: this.heading,
      weights: [...weights, ...extras],
    };
  }

  private advance(time: number, weights: Float64Array): void {
    let [rate, whole] = [0, 0];
    this.motions.sources.forEach(({ isGait, period }, at) => {
      if (!isGait || weights[at] <= 0) return;
      rate += weights[at] / period;
      whole += weights[at];
    });
    if (whole > 0) this.phase = (this.phase + (rate / whole) * time) % 1;
    this.seconds += time;
  }

  /** Weights of turn, crouch and jump, and their poses. */
  private extraWeights(time: number, spin: LiveSource | null): [number, number, number] {
    const { motions, extras } = this;
    if (spin && this.turning > 1e-3) {
      this.turned += time;
      spin.sample(this.turned, true, extras[0]);
    } else this.turned = 0;
    if (motions.crouch && this.crouched > 1e-3) motions.crouch.sample(deepest(motions.crouch), false, extras[1]);
    const { jump } = motions;
    if (jump && this.jumpSeconds !== null) {
      jump.sample(this.jumpSeconds, false, extras[2]);
      // The figure goes on as it is steered; of the jump's own way only the height is taken.
      extras[2].speed.fill(0);
      extras[2].hips[0] = extras[2].hips[2] = 0;
      const [from, to] = this.jumpSpan;
      const ramp = Math.min(1, (this.jumpSeconds - from) / 0.15, (to - this.jumpSeconds) / 0.2);
      this.jumped = Math.max(0, ramp);
      this.jumpSeconds += time;
      if (this.jumpSeconds >= to) this.jumpSeconds = null;
    } else this.jumped = 0;
    const left = 1 - this.jumped;
    // Going, one crouches half as deep: the legs must step.
    const crouch = this.crouched * left * (1 - 0.5 * Math.min(1, Math.hypot(...this.speed) / 0.5));
    return [spin ? this.turning * (left - crouch) : 0, crouch, this.jumped];
  }

  private move(time: number, spinning: number): void {
    // On the spot the steps say how far it comes round, else whoever steers.
    const rate = spinning > 0 ? this.pose.speed[2] : this.turn;
    this.heading += rate * time;
    const [sine, cosine] = [Math.sin(this.heading), Math.cos(this.heading)];
    const flying = this.jumped;
    const side = this.pose.speed[0] + this.speed[0] * this.legsPerMetre * flying;
    const ahead = this.pose.speed[1] + this.speed[1] * this.legsPerMetre * flying;
    this.place[0] += (side * cosine + ahead * sine) * time;
    this.place[1] += (ahead * cosine - side * sine) * time;
  }
}

/** Moment at which the hips are lowest. */
function deepest({ motion }: LiveSource): number {
  let best = 0;
  for (let frame = 1; frame < motion.frameCount; frame++)
    if (motion.hips[frame * 3 + 1] < motion.hips[best * 3 + 1]) best = frame;
  return best / motion.framesPerSecond;
}

/** From shortly before both feet leave the floor to shortly after they are back. */
function flightOf({ motion }: LiveSource): [number, number] {
  const { contacts, framesPerSecond, frameCount } = motion;
  const bears = (frame: number): boolean => contacts.some(({ from, to }) => frame >= from && frame <= to);
  let [up, down] = [0, frameCount - 1];
  for (let frame = 0; frame < frameCount; frame++)
    if (!bears(frame)) {
      up = frame;
      break;
    }
  for (let frame = frameCount - 1; frame >= 0; frame--)
    if (!bears(frame)) {
      down = frame;
      break;
    }
  const last = (frameCount - 1) / framesPerSecond;
  return [Math.max(0, up / framesPerSecond - JUMP_AROUND), Math.min(last, down / framesPerSecond + JUMP_AROUND)];
}
