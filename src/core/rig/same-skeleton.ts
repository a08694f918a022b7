import { distance, type Vec3 } from '../math/vec3';
import type { Rig } from './rig';
import { largestExtent } from './rig-shape';

/** How well one file's bones stand on another's. */
export interface SkeletonAgreement {
  readonly shared: number;
  readonly total: number;
  readonly isPart: boolean;
}

const PLACE_TOLERANCE = 5e-3;
const FEWEST = 3;
const AGREEING_SHARE = 0.8;

/**
 * Whether `part` (hair, a coat, a level of detail) was made on the skeleton of `body`: most of the bones that move its
 * mesh have a namesake there at the same place.
 */
export function compareSkeletons(body: Rig, part: Rig): SkeletonAgreement {
  const place = (bone: Rig['bones'][number]): Vec3 => [bone.restWorld[12], bone.restWorld[13], bone.restWorld[14]];
  const tolerance = largestExtent(body.bones.map(place)) * PLACE_TOLERANCE;
  const byName = new Map(body.bones.map((bone) => [bone.name, bone]));
  const moving = part.bones.filter((bone) => bone.isNamed && (part.skinCount === 0 || bone.skinWeight > 0));
  const shared = moving.filter((bone) => {
    const namesake = byName.get(bone.name);
    return namesake !== undefined && distance(place(namesake), place(bone)) <= tolerance;
  }).length;
  return { shared, total: moving.length, isPart: shared >= FEWEST && shared >= moving.length * AGREEING_SHARE };
}
