import type { Definition, Side } from '../../definition/definition';
import { HOUSE_PLACES, HOUSE_ROLES, LEG, SOLE } from '../../house/house-body';
import { houseFrame } from '../../house/play-motion';
import { add, subtract, type Vec3 } from '../../math/vec3';
import type { Motion } from '../../motion/motion';
import type { DrillLimits } from '../../profile/profile';
import { measureFeet } from './foot-measures';
import type { Measure } from './measure';
import type { SolePoint, Soles } from './sole-points';

/**
 * The same motion on the house figure, a person of usual proportions: what its feet do there as well is the motion's own
 * doing, what they do not is the character's.
 */
export function measureHouseFeet(motion: Motion, definition: Definition, limits: DrillLimits): Measure[] {
  const frames = Array.from({ length: motion.frameCount }, (_, frame) => houseFrame(motion, definition, frame));
  const soles: Soles = {
    points: { left: pointsOf('left'), right: pointsOf('right') },
    floor: 0,
    isFromMesh: true,
  };
  const track = {
    frameCount: motion.frameCount,
    placeOf: (bone: number, frame: number) => frames[frame].places[HOUSE_ROLES[bone]],
    turnOf: (bone: number, frame: number) => frames[frame].turns[HOUSE_ROLES[bone]],
  };
  return measureFeet({ motion, track, soles, leg: LEG, limits, namesOf: () => [] });
}

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
