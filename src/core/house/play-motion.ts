import type { Definition } from '../definition/definition';
import { multiply } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import type { Motion } from '../motion/motion';
import { HOUSE_PLACES, HOUSE_ROLES, LEG } from './house-body';
import { referenceTurn, turnsAt } from './house-motion';
import { placesOf, type Turns } from './solve-stance';

/** The house figure at a frame of a motion. */
interface HouseFrame {
  /** How each role is turned against the T-pose, body frame. */
  readonly turns: Turns;
  /** Joint of each role, metres, floor at 0. */
  readonly places: Readonly<Record<string, Vec3>>;
}

/**
 * Plays any motion in role space on the house figure, which has every role that people have.
 * @param definition the one that the motion is told against.
 */
function houseFrame(motion: Motion, definition: Definition, frame: number): HouseFrame {
  return frameOf(motion, definition, new Set(definition.roles.map(({ id }) => id)), frame);
}

function frameOf(motion: Motion, definition: Definition, known: ReadonlySet<string>, frame: number): HouseFrame {
  const told = turnsAt(motion, frame);
  const turns: Turns = Object.fromEntries(
    HOUSE_ROLES.map((role) => [
      role,
      known.has(role) ? multiply(told[role], referenceTurn(definition, role)) : told[role],
    ]),
  );
  const hips = [0, 1, 2].map((k) => HOUSE_PLACES.hips[k] + motion.hips[frame * 3 + k] * LEG) as unknown as Vec3;
  return { turns, places: placesOf(turns, hips) };
}

/** All frames of a motion; kept as long as the motion is. */
export function houseFrames(motion: Motion, definition: Definition): readonly HouseFrame[] {
  const known = played.get(motion);
  if (known?.definition === definition) return known.frames;
  const roles = new Set(definition.roles.map(({ id }) => id));
  const frames = Array.from({ length: motion.frameCount }, (_, frame) => frameOf(motion, definition, roles, frame));
  played.set(motion, { definition, frames });
  return frames;
}

const played = new WeakMap<Motion, { readonly definition: Definition; readonly frames: readonly HouseFrame[] }>();

/** The joints alone, in the order of HOUSE_ROLES: [roleCount x 3]. */
export function houseJoints(motion: Motion, definition: Definition, frame: number): Float32Array {
  const { places } = houseFrame(motion, definition, frame);
  const out = new Float32Array(HOUSE_ROLES.length * 3);
  HOUSE_ROLES.forEach((role, at) => out.set(places[role], at * 3));
  return out;
}
