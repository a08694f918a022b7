import { lengthOf } from '../math/vec3';
import type { Rig } from '../rig/rig';
import { toBody, type Normalisation } from './normalise';

/** How far a bone stands from the floor origin at rest, metres. */
export function distanceFromOrigin(rig: Rig, bone: number, normalisation: Normalisation): number {
  const world = rig.bones[bone].restWorld;
  return lengthOf(toBody(normalisation, [world[12], world[13], world[14]]));
}
