import type { Rig } from '../rig/rig';
import { translationOf } from '../math/mat4';
import { toBody, type Normalisation } from './normalise';

/** Where a file's origin lies on the figure, where it does not lie under it. */
export interface RaisedOrigin {
  /** How far the soles lie below it; negative: above. Metres. */
  readonly solesBelowMetres: number;
  /** Whether it lies at the hips, as many programs put it. */
  readonly isAtHips: boolean;
}

/** Of the figure's height: nearer to the soles than this the origin counts as on the floor. */
const ON_FLOOR_SHARE = 0.02;
const AT_HIPS_SHARE = 0.06;

/** @returns null where the origin lies on the floor under the figure. */
export function findRaisedOrigin(
  rig: Rig,
  normalisation: Normalisation,
  roleBones: ReadonlyMap<string, number>,
): RaisedOrigin | null {
  const { floorMetres, heightMetres } = normalisation;
  if (heightMetres <= 0 || Math.abs(floorMetres) <= ON_FLOOR_SHARE * heightMetres) return null;
  const hips = roleBones.get('hips');
  const world = hips === undefined ? null : rig.bones[hips].restWorld;
  const height = world && toBody(normalisation, translationOf(world))[1];
  return {
    solesBelowMetres: -floorMetres,
    isAtHips: height !== null && Math.abs(height) <= AT_HIPS_SHARE * heightMetres,
  };
}
