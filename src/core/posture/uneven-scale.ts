import { decompose } from '../math/mat4';
import type { AlignInput } from './align-order';

/** Rounding in files stays below this; above it a turn would change the length of what hangs on the bone. */
const UNEVEN_RATIO = 1e-4;

/**
 * A bone with an uneven scale in or above the roles that are to be turned: turning below it would stretch segments.
 * @param roles null for all.
 * @returns null where lengths will be kept.
 */
export function findUnevenScale(
  { rig, definition, roleBones }: AlignInput,
  roles: readonly string[] | null,
): { readonly boneIndex: number; readonly message: string } | null {
  const wanted = roles ?? definition.roles.filter(({ alignment }) => alignment !== 'leave').map(({ id }) => id);
  for (const role of wanted) {
    for (let bone = roleBones.get(role) ?? -1; bone >= 0; bone = rig.bones[bone].parent) {
      const { scale } = decompose(rig.bones[bone].restWorld);
      const sizes = scale.map(Math.abs);
      const [low, high] = [Math.min(...sizes), Math.max(...sizes)];
      if (low > 0 && high / low <= 1 + UNEVEN_RATIO) continue;
      const { name } = rig.bones[bone];
      const text = scale.map((value) => value.toFixed(3)).join(' × ');
      return {
        boneIndex: bone,
        message: `Bone ${name} is scaled unevenly (${text}); turning what hangs on it would stretch it. Apply the scale to mesh and joints in the source and take the file in again.`,
      };
    }
  }
  return null;
}
