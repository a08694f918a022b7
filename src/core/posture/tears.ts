import { SIDES } from '../definition/definition';
import type { Normalisation } from '../frame/normalise';
import { transformPoint, translationOf, invertAffine, type Mat4 } from '../math/mat4';
import { distance, type Vec3 } from '../math/vec3';
import { isAbove, parentsOf } from '../rig/bone-tree';
import type { Rig } from '../rig/rig';
import type { AlignInput } from './align-order';

/** Two bones whose parts of the figure come apart in a pose. */
export interface Tear {
  readonly bones: readonly [number, number];
  /** How far apart, metres. */
  readonly metres: number;
  /** What shows it: the mesh between them, or the joint of the lower one. */
  readonly shownBy: 'mesh' | 'joint';
}

/** Of the figure's height: skin that is stretched by a bent joint or a wide collar stays below this. */
const TORN_SHARE = 0.05;

/** Parts further from one another are torn, metres. */
export const tornBeyond = ({ heightMetres }: Pick<Normalisation, 'heightMetres'>): number => TORN_SHARE * heightMetres;

/** Roles whose joint belongs at the end of another's segment. */
const JOINED: readonly (readonly [upper: string, lower: string])[] = SIDES.flatMap(
  (side) =>
    [
      [`${side}Shoulder`, `${side}UpperArm`],
      [`${side}UpperArm`, `${side}LowerArm`],
      [`${side}LowerArm`, `${side}Hand`],
      [`${side}UpperLeg`, `${side}LowerLeg`],
      [`${side}LowerLeg`, `${side}Foot`],
      ['hips', `${side}UpperLeg`],
    ] as const,
);

/**
 * Where a pose tears the figure: along the seams of its mesh, and at joints of limbs that do not hang on the bone above
 * them. The worst first, one for each pair of bones.
 * @param worlds file-space worlds of the pose.
 */
export function findTears(input: AlignInput, worlds: readonly Mat4[]): Tear[] {
  const { rig, normalisation } = input;
  const least = tornBeyond(normalisation);
  const worst = new Map<string, Tear>();
  for (const tear of [...tornSeams(rig, worlds, normalisation.scale), ...tornJoints(input, worlds)]) {
    if (!(tear.metres > least)) continue;
    const key = [...tear.bones].sort((a, b) => a - b).join(' ');
    if (tear.metres > (worst.get(key)?.metres ?? 0)) worst.set(key, tear);
  }
  return [...worst.values()].sort((a, b) => b.metres - a.metres);
}

function tornSeams({ facts }: Rig, worlds: readonly Mat4[], scale: number): Tear[] {
  return (facts?.seams ?? []).flatMap(({ bones, places }): Tear[] => {
    const [a, b] = bones.map((bone, at) => worlds[bone] && transformPoint(worlds[bone], places[at] as Vec3));
    return a && b ? [{ bones, metres: distance(a, b) * scale, shownBy: 'mesh' }] : [];
  });
}

function tornJoints({ rig, roleBones, normalisation }: AlignInput, worlds: readonly Mat4[]): Tear[] {
  const parents = parentsOf(rig);
  return JOINED.flatMap(([upper, lower]): Tear[] => {
    const [above, below] = [roleBones.get(upper), roleBones.get(lower)];
    if (above === undefined || below === undefined || isAbove(parents, above, below)) return [];
    const inverse = invertAffine(rig.bones[above].restWorld);
    if (!inverse) return [];
    // Where the upper segment takes the joint, against where it is.
    const atRest = transformPoint(inverse, translationOf(rig.bones[below].restWorld));
    const taken = transformPoint(worlds[above], atRest);
    const metres = distance(taken, translationOf(worlds[below])) * normalisation.scale;
    return [{ bones: [above, below], metres, shownBy: 'joint' }];
  });
}
