import { SIDES, type Definition, type Side } from '../definition/definition';
import { HOUSE_PLACES, HOUSE_ROLES, SOLE } from '../house/house-body';
import { houseFrames } from '../house/play-motion';
import type { Quat } from '../math/quat';
import { add, subtract, type Vec3 } from '../math/vec3';
import type { Motion } from '../motion/motion';
import type { SolePoint, Soles } from './sole-points';

function pointsOf(side: Side): SolePoint[] {
  const point = (kind: SolePoint['kind'], part: string, offset: Vec3): SolePoint => ({
    kind,
    bone: HOUSE_ROLES.indexOf(side + part),
    offset,
    standing: add(HOUSE_PLACES[side + part], offset),
  });
  return [
    point('heel', 'Foot', SOLE.heel),
    point('ball', 'Foot', SOLE.ball),
    point('tip', 'Toes', subtract(SOLE.toe, SOLE.toeJoint)),
  ];
}

/** Soles of the house figure; its bones are counted as HOUSE_ROLES. */
export const HOUSE_SOLES: Soles = {
  points: Object.fromEntries(SIDES.map((side) => [side, pointsOf(side)])),
  palms: {},
  floor: 0,
  isFromMesh: true,
};

/** Plays a motion on the house figure, a person of usual proportions. */
export function houseTrack(motion: Motion, definition: Definition) {
  const frames = houseFrames(motion, definition);
  return {
    frameCount: motion.frameCount,
    placeOf: (bone: number, frame: number): Vec3 => frames[frame].places[HOUSE_ROLES[bone]],
    turnOf: (bone: number, frame: number): Quat => frames[frame].turns[HOUSE_ROLES[bone]],
  };
}
