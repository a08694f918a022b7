import { conjugate, fromAxisAngle, IDENTITY, multiply, rotate, slerp, twistAngle, type Quat } from '../math/quat';
import { add, subtract, type Vec3 } from '../math/vec3';
import { LEG } from '../house/house-body';
import { placeFigure, stackTurns } from '../layers/layer-stack';
import { MotionCarrier, type CarriedFrames } from '../motion/carry-frames';
import type { Carrying } from '../motion/carry-options';
import type { CarryPlan } from '../motion/carry-plan';
import { BLOCK_FRAMES } from '../motion/clip-poses';
import { legLength } from '../motion/fitted-rig';
import { WorldEdit } from '../motion/world-edit';
import type { Contact } from '../motion/motion';
import { HOUSE_SOLES, houseTrack } from './house-soles';
import { ALIKE, limbsOf, rollShare, unlikeness, type Limb } from './limbs';
import { plantOffsets, smoothDrop } from './plant-limbs';
import { leadLimbs } from './lead-limbs';
import { leadLimb } from './limb-writer';
import { findSoles, pointPlace, type Soles } from './sole-points';
import { lackOf } from './two-bone';

/** How the feet of a carried motion stand, as a person is told. */
export interface GroundReport {
  /** What was asked for came to this. */
  readonly kind: 'rotations' | 'as-source' | 'planted';
  /** Largest difference of the legs to the source's, shares of the leg. */
  readonly unlikeness: number;
  /** Furthest that the hips go down so that legs reach, metres. */
  readonly dropMetres: number;
  /** Why limbs that bear are left alone; null where none is. */
  readonly reason: string | null;
}

export interface Grounded {
  readonly carrier: MotionCarrier;
  readonly report: GroundReport;
}

/** Lower than the floor's own tolerance: points of a sole that are as low bear together; shares of the leg. */
const SLACK_SHARE = 0.003;
/** A motion whose last pose is within this of its first goes over into itself, as a cosine of half the turn. */
const LOOP_COSINE = Math.cos((1 * Math.PI) / 360);

/**
 * Carries a motion and stands its feet as the character's choice says.
 * @param soles what of the feet bears; null to take it from their joints.
 */
export function groundedCarrier(plan: CarryPlan, carrying: Carrying, soles: Soles | null): Grounded {
  const { target, motion } = plan;
  const leg = legLength(target, plan.standing);
  const known = soles ?? findSoles(target, plan.standing, null);
  const off = unlikeness(motion, plan, known, leg);
  const layers = carrying.layers.filter(({ isOn }) => isOn);
  const layered = stackTurns(plan, layers);
  const placed = placeFigure(plan, layers);
  const led = leadLimbs(plan, limbsOf(plan, known), layers);
  const bare = (reason: string | null): Grounded => ({
    carrier: new MotionCarrier(plan, inTurn([layered, placed, led])),
    report: { kind: 'rotations', unlikeness: off, dropMetres: 0, reason },
  });
  if (carrying.grounding === 'leave' || motion.contacts.length === 0) return bare(null);
  // A character of the source's own skeleton does what its clip does.
  if (carrying.grounding === 'likeness' && (off <= ALIKE || plan.isSameSkeleton)) return bare(null);
  const limbs = limbsOf(plan, known).filter(({ part }) => motion.contacts.some((contact) => contact.part === part));
  if (limbs.length === 0)
    return bare('No whole limb bears: thigh, shin and foot must be assigned, and hang on each other.');
  const isPlanted = carrying.grounding === 'plant';
  const ground = layOut(plan, limbs, layered, { leg, floor: known.floor, keepsSource: !isPlanted });
  const carrier = new MotionCarrier(plan, inTurn([layered, adjusterOf(plan, ground), placed, led]));
  return {
    carrier,
    report: {
      kind: isPlanted ? 'planted' : 'as-source',
      unlikeness: off,
      dropMetres: ground.drop.reduce((most, value) => Math.max(most, value), 0),
      reason: null,
    },
  };
}

type Adjust = (frames: CarriedFrames) => void;

/** One after another; null where there is none. */
function inTurn(steps: readonly (Adjust | null)[]): Adjust | null {
  const known = steps.filter((step) => step !== null);
  if (known.length === 0) return null;
  return (frames) => {
    for (const step of known) step(frames);
  };
}

interface LedLimb {
  readonly limb: Limb;
  readonly offsets: Float64Array;
  /** Of the pitch and roll of its end. */
  readonly roll: number;
}

interface Ground {
  readonly limbs: readonly LedLimb[];
  /** [frameCount] metres that the hips go down. */
  readonly drop: Float64Array;
}

interface GroundScale {
  readonly leg: number;
  readonly floor: number;
  /** Whether what the motion itself does wrong on the floor stays. */
  readonly keepsSource: boolean;
}

function layOut(
  plan: CarryPlan,
  limbs: readonly Limb[],
  layered: Adjust | null,
  { leg, floor, keepsSource }: GroundScale,
): Ground {
  const { motion, target } = plan;
  const { frameCount, framesPerSecond, contacts } = motion;
  const rolls = new Map(limbs.map((limb) => [limb, limb.part.endsWith('Foot') ? rollShare(plan, limb, leg) : 1]));
  const bare = playBare(plan, rolls, layered);
  const loops = isLoop(plan);
  const shared = { frameCount, framesPerSecond, loops };
  const house = keepsSource ? houseTrack(motion, target.definition) : null;
  const led = limbs.map((limb) => {
    const own = contacts.filter(({ part }) => part === limb.part);
    const isFoot = limb.part.endsWith('Foot');
    const offsets = plantOffsets({
      ...shared,
      contacts: own,
      places: bare.pointsOf(limb),
      floorOf: isFoot ? ({ height }: Contact) => floor + (height ?? 0) * leg : null,
      slack: SLACK_SHARE * leg,
    });
    const side = limb.part === 'leftFoot' ? 'left' : 'right';
    if (house && isFoot) {
      const points = HOUSE_SOLES.points[side] ?? [];
      const theirs = plantOffsets({
        ...shared,
        contacts: own,
        places: Array.from({ length: frameCount }, (_, frame) =>
          points.map((point) => pointPlace(point, house.placeOf(point.bone, frame), house.turnOf(point.bone, frame))),
        ),
        floorOf: ({ height }) => (height ?? 0) * LEG,
        slack: SLACK_SHARE * LEG,
      });
      for (let at = 0; at < offsets.length; at++) offsets[at] -= (theirs[at] / LEG) * leg;
    }
    return { limb, offsets, roll: rolls.get(limb) as number };
  });
  const needs = new Float64Array(frameCount);
  for (const { limb, offsets } of led) {
    if (!limb.part.endsWith('Foot')) continue;
    for (const contact of contacts)
      if (contact.part === limb.part)
        for (let frame = contact.from; frame <= Math.min(contact.to, frameCount - 1); frame++)
          needs[frame] = Math.max(needs[frame], bare.lackOf(limb, frame, offsets));
  }
  return { limbs: led, drop: smoothDrop(needs, framesPerSecond, loops) };
}

/** Plays the motion as it is carried by rotations and layers alone and keeps what the limbs ask for. */
function playBare(plan: CarryPlan, rolls: ReadonlyMap<Limb, number>, layered: Adjust | null) {
  const limbs = [...rolls.keys()];
  const carrier = new MotionCarrier(plan, layered);
  const edit = new WorldEdit(plan, carrier.placedBones);
  const { frameCount } = plan.motion;
  const points = new Map(limbs.map((limb) => [limb, [] as Vec3[][]]));
  const joints = new Map(limbs.map((limb) => [limb, new Float64Array(frameCount * 9)]));
  for (let from = 0; from < frameCount; from += BLOCK_FRAMES) {
    const block = carrier.carry(from, Math.min(BLOCK_FRAMES, frameCount - from));
    for (let frame = 0; frame < block.count; frame++) {
      edit.begin(block, frame);
      for (const limb of limbs) {
        const ankle = edit.placeOf(limb.end);
        const more = rollChange(plan, limb, edit.turnOf(limb.end), rolls.get(limb) as number);
        points.get(limb)?.push(
          limb.points.map((point) => {
            const place = pointPlace(point, edit.placeOf(point.bone), edit.turnOf(point.bone));
            return add(ankle, rotate(more, subtract(place, ankle)));
          }),
        );
        [limb.upper, limb.lower, limb.end].forEach((bone, at) =>
          joints.get(limb)?.set(edit.placeOf(bone), (from + frame) * 9 + at * 3),
        );
      }
    }
  }
  return {
    pointsOf: (limb: Limb): Vec3[][] => points.get(limb) as Vec3[][],
    /** How far the limb's top has to go down so that its end reaches where it is led. */
    lackOf(limb: Limb, frame: number, offsets: Float64Array): number {
      const values = joints.get(limb) as Float64Array;
      const at = (joint: number): Vec3 => {
        const start = frame * 9 + joint * 3;
        return [values[start], values[start + 1], values[start + 2]];
      };
      const places = { top: at(0), middle: at(1), end: at(2) };
      return lackOf(places, add(places.end, offsetAt(offsets, frame)));
    },
  };
}

/** World turn that takes a foot back to so much of its pitch and roll; its heading stays. */
function rollChange(plan: CarryPlan, { end }: Limb, turn: Quat, share: number): Quat {
  if (share === 1) return IDENTITY;
  const change = multiply(turn, conjugate(plan.standing.rotations[end]));
  const heading = fromAxisAngle([0, 1, 0], twistAngle(change, [0, 1, 0]));
  const rest = multiply(conjugate(heading), change);
  const less = multiply(heading, slerp(IDENTITY, rest, share));
  return multiply(less, conjugate(change));
}

const offsetAt = (offsets: Float64Array, frame: number): Vec3 => [
  offsets[frame * 3],
  offsets[frame * 3 + 1],
  offsets[frame * 3 + 2],
];
/** Whether the last frame is the first one again, wherever it travelled. */
function isLoop({ motion }: CarryPlan): boolean {
  const { rotations, slots, frameCount, hips } = motion;
  const last = (frameCount - 1) * slots.length * 4;
  if (frameCount < 3 || Math.abs(hips[1] - hips[(frameCount - 1) * 3 + 1]) > 0.01) return false;
  for (let slot = 0; slot < slots.length; slot++) {
    let cosine = 0;
    for (let k = 0; k < 4; k++) cosine += rotations[slot * 4 + k] * rotations[last + slot * 4 + k];
    if (Math.abs(cosine) < LOOP_COSINE) return false;
  }
  return true;
}

/** Lowers the hips and leads the limbs of some carried frames. */
function adjusterOf(plan: CarryPlan, { limbs, drop }: Ground): Adjust {
  const edit = new WorldEdit(plan, new MotionCarrier(plan).placedBones);
  return (frames) => {
    for (let frame = 0; frame < frames.count; frame++) {
      const at = frames.from + frame;
      edit.begin(frames, frame);
      const moved: Vec3 = [0, -drop[at], 0];
      if (drop[at] !== 0) edit.setPlace(plan.hips, add(edit.placeOf(plan.hips), moved));
      for (const { limb, offsets, roll } of limbs) {
        const wanted = add(edit.placeOf(limb.end), offsetAt(offsets, at));
        leadLimb(edit, plan, limb, { wanted, moved, endTurn: rollChange(plan, limb, edit.turnOf(limb.end), roll) });
      }
      edit.commit();
    }
  };
}
