import { leadLimb } from '../ground/limb-writer';
import { limbsOf, type Limb } from '../ground/limbs';
import { groundedCarrier } from '../ground/grounded-carrier';
import { pointPlace, type Soles } from '../ground/sole-points';
import { lackOf } from '../ground/two-bone';
import { fromAxisAngle, IDENTITY, multiply, rotate } from '../math/quat';
import { quatAt } from '../math/quat-arrays';
import { add, type Vec3 } from '../math/vec3';
import type { CarriedFrames, MotionCarrier } from '../motion/carry-frames';
import { NO_ROOT_TRAVEL, type Carrying } from '../motion/carry-options';
import { planCarry, twistAngles, type CarryPlan, type CarryTarget } from '../motion/carry-plan';
import { legLength } from '../motion/fitted-rig';
import { fileSpaces } from '../motion/joint-spaces';
import { WorldEdit } from '../motion/world-edit';
import type { Motion, Slot } from '../motion/motion';
import type { LiveState } from './live-walker';

/** A steered figure as it stands now. */
export interface LiveFrame {
  readonly frames: CarriedFrames;
  /** Joints, body axes, metres: [boneCount x 3]. */
  readonly points: Float64Array;
  /** Which feet bear, and how far each has slid since it came down, shares of the leg. */
  readonly feet: readonly { readonly part: Limb['part']; readonly bears: boolean; readonly slide: number }[];
}

interface Lock {
  readonly limb: Limb;
  /** How far the end is held from where the blend has it, metres. */
  offset: Vec3;
  bears: boolean;
  /** Points that bear, in the last step: before they were held, and after. */
  before: readonly Vec3[] | null;
  held: readonly Vec3[] | null;
  bearing: number;
  slide: number;
  /** Taken up early, as it was left too far behind; until it comes down anew. */
  isTakenUp: boolean;
}

/** A foot that left the floor comes back to its way in about this time; seconds. */
const RELEASE_SECONDS = 0.12;
/** A foot that is held further away than this share of a leg is taken up: it would be dragged. And so high. */
const MOST_HELD = 0.3;
const TAKEN_UP = 0.04;
const UP: Vec3 = [0, 1, 0];

/** Carries a steered pose to a character, one moment at a time, and holds the feet that bear where they came down. */
export class LiveFigure {
  readonly plan: CarryPlan;
  readonly carrier: MotionCarrier;
  readonly leg: number;
  private readonly motion: Motion;
  private readonly edit: WorldEdit;
  private readonly locks: readonly Lock[];
  private readonly floor: number;
  private readonly twists: Map<number, number> = new Map();

  constructor(target: CarryTarget, carrying: Carrying, soles: Soles, slots: readonly Slot[], like: Motion) {
    this.motion = {
      ...like,
      name: 'live',
      slots: [...slots],
      frameCount: 1,
      contacts: [],
      rotations: new Float32Array(slots.length * 4).fill(0).map((_, at) => (at % 4 === 3 ? 1 : 0)),
      hips: new Float32Array(3),
      root: null,
      shifts: [],
      morphs: [],
      own: null,
    };
    const spaces = fileSpaces(target);
    this.plan = planCarry(this.motion, target, { carrying, travel: NO_ROOT_TRAVEL, spaces, fileSpaces: spaces });
    this.carrier = groundedCarrier(this.plan, { ...carrying, grounding: 'leave' }, soles).carrier;
    this.edit = new WorldEdit(this.plan, this.carrier.placedBones);
    this.leg = legLength(target, this.plan.standing);
    this.floor = soles.floor;
    const limbs = limbsOf(this.plan, soles);
    this.locks = limbs
      .filter(({ part }) => part.endsWith('Foot'))
      .map((limb) => ({
        limb,
        offset: [0, 0, 0],
        bears: false,
        before: null,
        held: null,
        bearing: 0,
        slide: 0,
        isTakenUp: false,
      }));
  }

  /** @param dt seconds since the last step. */
  step({ pose, place, heading }: LiveState, dt: number): LiveFrame {
    const { motion, plan, edit, leg } = this;
    const turn = fromAxisAngle(UP, heading);
    for (let slot = 0; slot < motion.slots.length; slot++)
      motion.rotations.set(multiply(turn, quatAt(pose.rotations, slot * 4)), slot * 4);
    const [x, y, z] = rotate(turn, pose.hips);
    const stands = plan.standing.places[plan.hips];
    plan.hipsAt.set([stands[0] + (place[0] + x) * leg, stands[1] + y * leg, stands[2] + (place[1] + z) * leg]);
    this.turnTwists();
    const frames = this.carrier.carry(0, 1);
    edit.begin(frames, 0);
    const feet = this.locks.map((lock) => {
      const isDown = pose.bears[lock.limb.part as 'leftFoot' | 'rightFoot'];
      if (!isDown) lock.isTakenUp = false;
      const bears = isDown && !lock.isTakenUp;
      this.hold(lock, bears, dt);
      return { part: lock.limb.part, bears, slide: lock.slide / leg };
    });
    this.lower(frames);
    return { frames, points: edit.walk.places, feet };
  }

  /** Twist bones share turns that change under the carrier's feet. */
  private turnTwists(): void {
    const { plan, motion, twists } = this;
    plan.driven.forEach(({ drive }, at) => {
      if (drive.kind !== 'twist') return;
      const [angle] = twistAngles(motion, plan.target, drive.twist);
      const before = twists.get(at) ?? angle;
      const next = angle - 2 * Math.PI * Math.round((angle - before) / (2 * Math.PI));
      twists.set(at, next);
      drive.angles[0] = next;
    });
  }

  /** How far a foot is held from where the blend has it. */
  private hold(lock: Lock, bears: boolean, dt: number): void {
    const { edit, leg, floor } = this;
    const now = lock.limb.points.map((point) => pointPlace(point, edit.placeOf(point.bone), edit.turnOf(point.bone)));
    const low = now.reduce((best, [, y], at) => (y < now[best][1] ? at : best), 0);
    const decay = Math.exp(-dt / RELEASE_SECONDS);
    const [ox, oy, oz] = lock.offset;
    if (!bears) {
      const up = lock.isTakenUp ? TAKEN_UP * leg : 0;
      lock.offset = [ox * decay, up + (oy - up) * decay, oz * decay];
      lock.slide = 0;
    } else {
      let [x, z] = [ox, oz];
      if (lock.bears && lock.before) {
        x += lock.before[lock.bearing][0] - now[lock.bearing][0];
        z += lock.before[lock.bearing][2] - now[lock.bearing][2];
      }
      if (Math.hypot(x, z) > MOST_HELD * leg) lock.isTakenUp = true;
      // Down within the same time as it is let go, so that nothing jumps.
      const down = floor - now[low][1];
      lock.offset = [x, down + (oy - down) * (lock.bears ? decay * decay : decay), z];
    }
    const held = now.map((place) => add(place, lock.offset));
    if (bears && lock.bears && lock.held)
      lock.slide += Math.min(
        ...held.map(([hx, , hz], at) => {
          const last = (lock.held as readonly Vec3[])[at];
          return Math.hypot(hx - last[0], hz - last[2]);
        }),
      );
    lock.before = now;
    lock.held = held;
    lock.bearing = low;
    lock.bears = bears;
  }

  /** Lowers the hips where a held foot would be out of reach, and leads the legs. */
  private lower(frames: CarriedFrames): void {
    const { plan, edit, locks } = this;
    let drop = 0;
    for (const { limb, offset, bears } of locks) {
      if (!bears) continue;
      const [top, middle, end] = [limb.upper, limb.lower, limb.end].map((bone) => edit.placeOf(bone));
      drop = Math.max(drop, lackOf({ top, middle, end }, add(end, offset)));
    }
    this.dropped += (drop - this.dropped) * (drop > this.dropped ? 1 : 0.15);
    const moved: Vec3 = [0, -this.dropped, 0];
    edit.setPlace(plan.hips, add(edit.placeOf(plan.hips), moved));
    for (const { limb, offset } of locks)
      leadLimb(edit, plan, limb, { wanted: add(edit.placeOf(limb.end), offset), moved, endTurn: IDENTITY });
    edit.commit();
    edit.walk.walk(frames, 0);
  }
  private dropped = 0;
}
