import type { NameReadings } from '../../dialect/read-names';
import { dot, type Vec3 } from '../../math/vec3';
import type { RigShape } from '../../rig/rig-shape';
import { pairByPlace, pairDown, pairOffPlane } from './mirror-pairing';
import { pairsByName, pairsByTree, planeOf } from './mirror-plane';
import { CENTRE_SHARE } from './shape-pairs';

/** Which bones belong together as left and right, and the plane between them. The sides are not yet told apart. */
export interface Mirror {
  /** Partner of each bone; the bone itself on the centre line; -1 where no partner was found. */
  readonly partners: Int32Array;
  /** Unit normal of the symmetry plane, file space; its sign says nothing. */
  readonly normal: Vec3;
  /** Signed distance of each bone's head from the plane, file units. */
  readonly lateral: Float64Array;
  /** True when name marks or several tree pairs support the plane. */
  readonly isSupported: boolean;
}

/** True for a bone that has a partner other than itself. */
export const isPaired = ({ partners }: Mirror, bone: number): boolean => partners[bone] >= 0 && partners[bone] !== bone;

/** Pairs by name, and by shape where few names tell; then the plane between them; then partners for all bones. */
export function findMirror(shape: RigShape, names: NameReadings): Mirror {
  const named = pairsByName(shape, names);
  const grown = named.length >= 3 ? named : [...named, ...pairsByTree(shape)];
  const { normal, offset } = planeOf(grown, shape);
  const lateral = Float64Array.from(shape.positions, (position) => dot(position, normal) - offset);
  const partners = new Int32Array(shape.boneCount).fill(-1);
  for (const { a, b } of named) {
    if (partners[a] < 0 && partners[b] < 0) {
      partners[a] = b;
      partners[b] = a;
    }
  }
  pairDown(shape, names, normal, lateral, partners);
  pairOffPlane(shape, names, lateral, partners);
  pairDown(shape, names, normal, lateral, partners);
  pairByPlace(shape, names, normal, lateral, partners);
  pairDown(shape, names, normal, lateral, partners);
  for (let bone = 0; bone < shape.boneCount; bone++) {
    const isSided = names.bones[bone].side !== null;
    if (partners[bone] < 0 && !isSided && Math.abs(lateral[bone]) < CENTRE_SHARE * 2 * shape.size)
      partners[bone] = bone;
  }
  return { partners, normal, lateral, isSupported: grown.length >= 2 };
}
