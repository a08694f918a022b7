import type { Definition } from '../definition/definition';
import { multiply } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import type { Motion } from '../motion/motion';
import { HOUSE_PLACES, HOUSE_ROLES, LEG } from './house-body';
import { referenceTurn, turnsAt } from './house-motion';
import { placesOf, type Turns } from './solve-stance';

/**
 * Plays any motion in role space on the house figure, which has every role that people have.
 * @param definition the one that the motion is told against.
 * @returns joints at a frame in the order of HOUSE_ROLES, metres, floor at 0: [roleCount x 3].
 */
export function houseJoints(motion: Motion, definition: Definition, frame: number): Float32Array {
  const told = turnsAt(motion, frame);
  const turns: Turns = Object.fromEntries(
    HOUSE_ROLES.map((role) => [
      role,
      definition.roles.some(({ id }) => id === role)
        ? multiply(told[role], referenceTurn(definition, role))
        : told[role],
    ]),
  );
  const hips = [0, 1, 2].map((k) => HOUSE_PLACES.hips[k] + motion.hips[frame * 3 + k] * LEG) as unknown as Vec3;
  const places = placesOf(turns, hips);
  const out = new Float32Array(HOUSE_ROLES.length * 3);
  HOUSE_ROLES.forEach((role, at) => out.set(places[role], at * 3));
  return out;
}
