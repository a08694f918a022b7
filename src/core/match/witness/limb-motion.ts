import { conjugate, multiply, rotate, type Quat } from '../../math/quat';
import { cross, dot, lengthOf, normalise, reject, scale, subtract, type Vec3 } from '../../math/vec3';
import { turnAt, type Moment, type MotionWitness } from './motion-witness';

/** Rotation vector of a turn, the shorter way: unit axis times the angle in radians. */
function turnVector(q: Quat): Vec3 {
  const sign = q[3] < 0 ? -1 : 1;
  const axis: Vec3 = [q[0] * sign, q[1] * sign, q[2] * sign];
  const sine = lengthOf(axis);
  return sine < 1e-9 ? [0, 0, 0] : scale(axis, (2 * Math.atan2(sine, q[3] * sign)) / sine);
}

/** How `lower` turns against `upper` at a moment, in the space in which both stand at rest. */
function bendOf(witness: MotionWitness, moment: Moment, upper: number, lower: number): Vec3 {
  const [above, below] = [turnAt(witness, moment, upper), turnAt(witness, moment, lower)];
  return turnVector(multiply(conjugate(above), below));
}

/** Bends smaller than this, radians, say nothing of how a joint folds. */
const LEAST_BEND = 0.12;

/**
 * Which way a hinge folds: mean amount by which its middle joint lies off the straight line, as a share of the limb's
 * length, along a direction that turns with `body`. With an end joint by places, else by how the lower bone turns.
 */
export function foldAlong(
  witness: MotionWitness,
  { upper, lower, end, body }: { upper: number; lower: number; end: number; body: number },
  direction: Vec3,
): number {
  let sum = 0;
  for (const moment of witness.moments) {
    const along = rotate(turnAt(witness, moment, body), direction);
    sum += end >= 0 ? offLine(moment, upper, lower, end, along) : tipped(witness, moment, upper, lower, direction);
  }
  return sum / witness.moments.length;
}

function offLine({ positions }: Moment, upper: number, lower: number, end: number, along: Vec3): number {
  const whole = subtract(positions[end], positions[upper]);
  const line = normalise(whole);
  if (!line) return 0;
  const reach =
    lengthOf(subtract(positions[lower], positions[upper])) + lengthOf(subtract(positions[end], positions[lower]));
  return reach > 0 ? dot(reject(subtract(positions[lower], positions[upper]), line), along) / reach : 0;
}

/** A lower bone that tips back lets its joint stand out ahead: half the sine of the bend, as two equal segments do. */
function tipped(witness: MotionWitness, moment: Moment, upper: number, lower: number, direction: Vec3): number {
  const bend = bendOf(witness, moment, upper, lower);
  const { positions } = witness.rest;
  const down = normalise(subtract(positions[lower], positions[upper]));
  if (!down || lengthOf(bend) < LEAST_BEND) return 0;
  return -dot(cross(bend, down), direction) / 4;
}

/** How a joint turns against the one above it, over all moments. */
export interface JointMotion {
  /** Largest turn, radians. */
  readonly most: number;
  /** Share of the turning that is about the segment's own direction: 1 for a twist, 0 for a hinge. */
  readonly twist: number;
}

/** @param to bone that the segment leads to. */
export function jointMotion(witness: MotionWitness, above: number, joint: number, to: number): JointMotion {
  const { positions } = witness.rest;
  const along = normalise(subtract(positions[to], positions[joint]));
  let [most, about, total] = [0, 0, 0];
  for (const moment of witness.moments) {
    const bend = bendOf(witness, moment, above, joint);
    const angle = lengthOf(bend);
    most = Math.max(most, angle);
    total += angle * angle;
    if (along) about += dot(bend, along) ** 2;
  }
  return { most, twist: total > 0 ? about / total : 0 };
}

/** The way a bone went in each clip, from its first moment to its last, summed over those that go anywhere; file space. */
export function travelOf(witness: MotionWitness, bone: number): Vec3 {
  let sum: Vec3 = [0, 0, 0];
  const clips = new Set(witness.moments.map(({ clip }) => clip));
  for (const clip of clips) {
    const moments = witness.moments.filter((moment) => moment.clip === clip);
    const way = subtract(moments[moments.length - 1].positions[bone], moments[0].positions[bone]);
    sum = [sum[0] + way[0], sum[1] + way[1], sum[2] + way[2]];
  }
  return sum;
}
