import { YarvoError } from '../errors/yarvo-error';
import { compose, decompose, invertAffine, multiply, transformPoint, IDENTITY, type Mat4 } from '../math/mat4';
import { conjugate, multiply as multiplyQuat, IDENTITY as IDENTITY_TURN, type Quat } from '../math/quat';
import { ZERO, type Vec3 } from '../math/vec3';
import type { Normalisation } from '../frame/normalise';
import { computeCarriers, computeWorlds, type RigPose } from '../rig/pose';
import type { Rig, Transform } from '../rig/rig';

/** How a bone's own keyed values map into the handed-off file. Linear parts, so that spline tangents map alike. */
export interface ClipMapping {
  /** Keyed rotation r becomes `rotation` * r * `after`. */
  readonly rotation: Quat;
  readonly after: Quat;
  /** Keyed translation t becomes `linear` t + `offset`. */
  readonly linear: Mat4;
  readonly offset: Vec3;
  /** Keyed scale s becomes s / `restScale`, per axis. */
  readonly restScale: Vec3;
}

/** The skeleton as it will be written: metres, Y up, facing +Z, joints without scale, standing in the posture. */
export interface SkeletonPlan {
  /** Similarity from file space, 4 x 4. */
  readonly similarity: Mat4;
  /** File-space worlds in the posture. */
  readonly posedWorlds: readonly Mat4[];
  /** New joint worlds in the posture, rigid. */
  readonly worlds: readonly Mat4[];
  /** New local transforms in the posture. */
  readonly locals: readonly Transform[];
  /** New local transforms of the file's own rest: the constant keys of joints that a clip does not key. */
  readonly restLocals: readonly Transform[];
  readonly clipMappings: readonly ClipMapping[];
}

/** Written in the file's own unit and axes. */
export const AS_IT_IS: Pick<Normalisation, 'scale' | 'rotation'> = { scale: 1, rotation: IDENTITY_TURN };

/**
 * @param lift how much higher everything is written, metres.
 * @param turns how joints are to stand in the posture, by bone; those that are not named stay as they are.
 * @throws {YarvoError} `zero-scale`; `uneven-scale` where a joint under an uneven scale would be turned.
 */
export function planSkeleton(
  rig: Rig,
  pose: RigPose,
  normalisation: Pick<Normalisation, 'scale' | 'rotation'>,
  lift = 0,
  turns: ReadonlyMap<number, Quat> = new Map(),
): SkeletonPlan {
  const s = normalisation.scale;
  const similarity = compose([0, lift, 0], normalisation.rotation as Quat, [s, s, s]);
  const carriers = computeCarriers(rig);
  const posedWorlds = computeWorlds(rig, pose, carriers);
  // A joint that is turned by q about itself carries the turn into every pose: W' = W q.
  const after = rig.bones.map((bone, index): Quat => {
    const wanted = turns.get(index);
    if (!wanted) return [0, 0, 0, 1];
    assertEven(multiply(similarity, posedWorlds[index]), bone.name);
    return multiplyQuat(conjugate(decompose(multiply(similarity, posedWorlds[index])).rotation), wanted);
  });
  const turned = (world: Mat4, bone: number): Mat4 =>
    turns.has(bone) ? multiply(world, compose(ZERO, after[bone], [1, 1, 1])) : world;
  const worlds = posedWorlds.map((world, bone) =>
    turned(rigid(multiply(similarity, world), rig.bones[bone].name), bone),
  );
  const restWorlds = rig.bones.map((bone, index) =>
    turned(rigid(multiply(similarity, bone.restWorld), bone.name), index),
  );
  return {
    similarity,
    posedWorlds,
    worlds,
    locals: localsOf(rig, worlds),
    restLocals: localsOf(rig, restWorlds),
    clipMappings: rig.bones.map((bone, index) => clipMapping(rig, index, carriers[index], similarity, after)),
  };
}

/** How far from each other the scales of a joint may be that is turned. */
const EVEN = 1e-3;

/** A turn under an uneven scale would shear. @throws {YarvoError} */
function assertEven(matrix: Mat4, name: string): void {
  const { scale, shear } = decompose(matrix);
  const sizes = scale.map(Math.abs);
  if (Math.max(...sizes) <= Math.min(...sizes) * (1 + EVEN) && shear <= EVEN) return;
  throw new YarvoError({
    code: 'uneven-scale',
    message: 'The joint has an uneven scale, so it cannot be turned to other axes.',
    place: `bone ${name}`,
    remedy: 'Give the bone one scale for all axes in the source file and take it in again, or keep its axes.',
  });
}

/** Rotation and place of a matrix, its scale taken off. @throws {YarvoError} for a joint without extent. */
function rigid(matrix: Mat4, name: string): Mat4 {
  const { translation, rotation, scale } = decompose(matrix);
  if (Math.min(...scale.map(Math.abs)) < 1e-9) {
    throw new YarvoError({
      code: 'zero-scale',
      message: 'The joint is scaled to nothing, so the mesh cannot be bound to it again.',
      place: `bone ${name}`,
      remedy: 'Give the bone a scale in the source file and take it in again.',
    });
  }
  return compose(translation, rotation, [1, 1, 1]);
}

function localsOf(rig: Rig, worlds: readonly Mat4[]): Transform[] {
  return rig.bones.map((bone, index) => {
    const parentInverse = bone.parent >= 0 ? (invertAffine(worlds[bone.parent]) as Mat4) : IDENTITY;
    const { translation, rotation } = decompose(multiply(parentInverse, worlds[index]));
    return { translation, rotation, scale: [1, 1, 1] };
  });
}

function clipMapping(rig: Rig, index: number, carrier: Mat4, similarity: Mat4, after: readonly Quat[]): ClipMapping {
  const bone = rig.bones[index];
  // Below another bone only the rest scale of what is above remains; a top bone takes the whole similarity.
  const parentScale =
    bone.parent >= 0 ? decompose(rig.bones[bone.parent].restWorld).scale[0] * decompose(similarity).scale[0] : 1;
  const before = bone.parent >= 0 ? conjugate(after[bone.parent]) : IDENTITY_TURN;
  const unturned =
    bone.parent >= 0
      ? multiply(compose(ZERO, [0, 0, 0, 1], [parentScale, parentScale, parentScale]), carrier)
      : multiply(similarity, carrier);
  const above = multiply(compose(ZERO, before, [1, 1, 1]), unturned);
  const linear = [...above];
  [linear[12], linear[13], linear[14]] = [0, 0, 0];
  return {
    rotation: decompose(above).rotation,
    after: after[index],
    linear,
    offset: [above[12], above[13], above[14]],
    restScale: bone.rest.scale,
  };
}

export const mapRotation = (mapping: ClipMapping, rotation: Quat): Quat =>
  multiplyQuat(multiplyQuat(mapping.rotation, rotation), mapping.after);

/** @param isTangent spline tangents take the linear part only. */
export function mapTranslation(mapping: ClipMapping, translation: Vec3, isTangent: boolean): Vec3 {
  const mapped = transformPoint(mapping.linear, translation);
  return isTangent
    ? mapped
    : [mapped[0] + mapping.offset[0], mapped[1] + mapping.offset[1], mapped[2] + mapping.offset[2]];
}
