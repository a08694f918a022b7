import { sideOfRole, SIDES, type Side } from '../definition/definition';
import { decompose, type Mat4 } from '../math/mat4';
import { conjugate, multiply, rotate, type Quat } from '../math/quat';
import { normalise, reject, type Vec3 } from '../math/vec3';
import { computeWorlds, type RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';
import { computeRoleFrames, STRAIGHT_RAD, type RoleFrame } from './role-frames';
import { angleBetween, cross } from '../math/vec3';

/** A limb that folds in the middle. */
export interface Limb {
  readonly side: Side;
  readonly part: 'Arm' | 'Leg';
}

export const LIMBS: readonly Limb[] = (['Arm', 'Leg'] as const).flatMap((part) =>
  SIDES.map((side) => ({ side, part })),
);
export const upperRole = ({ side, part }: Limb): string => `${side}Upper${part}`;
export const lowerRole = ({ side, part }: Limb): string => `${side}Lower${part}`;
export const endRole = ({ side, part }: Limb): string => `${side}${part === 'Arm' ? 'Hand' : 'Foot'}`;

/** How a limb folds. */
export interface LimbHinge {
  readonly limb: Limb;
  /** Fold in the pose, radians; positive about the hinge. */
  readonly bendRad: number;
  /** Axis in the body frame, unit; a positive turn of the lower segment about it folds the limb. */
  readonly hinge: Vec3;
  /**
   * pose: the pose itself shows it. elsewhere: another pose of the file does, and the bone carries it. assumed: no pose
   * bends the limb, so it is the definition's.
   */
  readonly shownBy: 'pose' | 'elsewhere' | 'assumed';
}

/**
 * Elbows and knees: how far they are bent in a pose and about what. The hinge is measured in the most bent of the given
 * poses and carried along with the upper bone; the definition's counts where none bends the limb by 2 degrees.
 *
 * @param others file-space worlds of other poses of the file: its rest, its bind pose, moments of clips.
 */
export function limbHinges(input: AlignInput, pose: RigPose, others: readonly (readonly Mat4[])[]): LimbHinge[] {
  const worlds = computeWorlds(input.rig, pose);
  const shown = [worlds, ...others].map((each) => ({
    worlds: each,
    frames: computeRoleFrames({ ...input, worlds: each }),
  }));
  return LIMBS.flatMap((limb) => {
    const [upper, lower] = [shown[0].frames.get(upperRole(limb)), shown[0].frames.get(lowerRole(limb))];
    if (!upper || !lower) return [];
    const bends = shown.map(({ frames }) => bendOf(frames, limb));
    // The pose itself counts wherever it shows a fold: a hand's width of difference must not turn its axis.
    const best = bends[0] >= STRAIGHT_RAD ? 0 : bends.indexOf(Math.max(...bends));
    const hinge =
      bends[best] >= STRAIGHT_RAD ? carried(input, limb, shown[best], worlds, upper) : statedHinge(input, limb, upper);
    if (!hinge) return [];
    const across = cross(upper.direction, lower.direction);
    const sign = across[0] * hinge[0] + across[1] * hinge[1] + across[2] * hinge[2] < 0 ? -1 : 1;
    const shownBy = bends[best] < STRAIGHT_RAD ? 'assumed' : best === 0 ? 'pose' : 'elsewhere';
    return [{ limb, bendRad: bends[0] * sign, hinge, shownBy }];
  });
}

function bendOf(frames: ReadonlyMap<string, RoleFrame>, limb: Limb): number {
  const [upper, lower] = [frames.get(upperRole(limb)), frames.get(lowerRole(limb))];
  return upper && lower ? angleBetween(upper.direction, lower.direction) : 0;
}

/** The axis of a pose that shows it, as it stands where the upper bone is now. */
function carried(
  { normalisation }: AlignInput,
  limb: Limb,
  from: { readonly worlds: readonly Mat4[]; readonly frames: ReadonlyMap<string, RoleFrame> },
  worlds: readonly Mat4[],
  upper: RoleFrame,
): Vec3 | null {
  const [a, b] = [from.frames.get(upperRole(limb)), from.frames.get(lowerRole(limb))];
  if (!a || !b) return null;
  const toBody = normalisation.rotation as Quat;
  const turn = multiply(
    decompose(worlds[upper.boneIndex]).rotation,
    conjugate(decompose(from.worlds[upper.boneIndex]).rotation),
  );
  const inBody = multiply(toBody, multiply(turn, conjugate(toBody)));
  return normalise(reject(rotate(inBody, cross(a.direction, b.direction)), upper.direction));
}

function statedHinge({ definition }: AlignInput, limb: Limb, upper: RoleFrame): Vec3 | null {
  const stated = definition.roles.find(({ id }) => id === lowerRole(limb));
  if (!stated?.hinge || !sideOfRole(definition, stated.id)) return null;
  return normalise(reject(stated.hinge, upper.direction));
}
