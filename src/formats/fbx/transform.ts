import { compose, decompose, invertAffine, multiply, transformPoint, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { conjugate, fromAxisAngle, multiply as times, normalise, type Quat } from '@/core/math/quat';
import { add, X_AXIS, Y_AXIS, Z_AXIS, type Vec3 } from '@/core/math/vec3';
import type { Transform } from '@/core/rig/rig';
import type { Properties } from './properties';

const ORDERS = ['xyz', 'xzy', 'yzx', 'yxz', 'zxy', 'zyx', 'xyz'] as const;
type Order = (typeof ORDERS)[number];
const AXES = { x: X_AXIS, y: Y_AXIS, z: Z_AXIS };
const ONE: Vec3 = [1, 1, 1];
const NONE: Vec3 = [0, 0, 0];

/** How a parent's scale reaches a node. */
export type Inheritance = 'RrSs' | 'RSrs' | 'Rrs';
const INHERITANCES: readonly Inheritance[] = ['RrSs', 'RSrs', 'Rrs'];

/** The transform stack of a model, as the file writes it; degrees and file units. */
export interface TransformStack {
  readonly translation: Vec3;
  readonly rotationDeg: Vec3;
  readonly scaling: Vec3;
  readonly order: Order;
  readonly pre: Quat;
  readonly post: Quat;
  readonly rotationOffset: Vec3;
  readonly rotationPivot: Vec3;
  readonly scalingOffset: Vec3;
  readonly scalingPivot: Vec3;
  readonly inheritance: Inheritance;
}

/** Rotation by Euler angles in degrees; "xyz" turns about x first. */
function eulerRotation(degrees: Vec3, order: Order = 'xyz'): Quat {
  const angle = { x: degrees[0], y: degrees[1], z: degrees[2] };
  const [first, second, third] = ([...order] as ('x' | 'y' | 'z')[]).map((axis) =>
    fromAxisAngle(AXES[axis], (angle[axis] * Math.PI) / 180),
  );
  return normalise(times(third, times(second, first)));
}

export function readStack(properties: Properties): TransformStack {
  // The format's documentation: order, pre- and post-rotation count only while RotationActive is set.
  const isActive = properties.number('RotationActive', 0) !== 0;
  const turn = (name: string) => (isActive ? eulerRotation(properties.vector(name, NONE)) : eulerRotation(NONE));
  return {
    translation: properties.vector('Lcl Translation', NONE),
    rotationDeg: properties.vector('Lcl Rotation', NONE),
    scaling: properties.vector('Lcl Scaling', ONE),
    order: isActive ? (ORDERS[properties.number('RotationOrder', 0)] ?? 'xyz') : 'xyz',
    pre: turn('PreRotation'),
    post: turn('PostRotation'),
    rotationOffset: properties.vector('RotationOffset', NONE),
    rotationPivot: properties.vector('RotationPivot', NONE),
    scalingOffset: properties.vector('ScalingOffset', NONE),
    scalingPivot: properties.vector('ScalingPivot', NONE),
    inheritance: INHERITANCES[properties.number('InheritType', 0)] ?? 'RrSs',
  };
}

export type Animated = Partial<Pick<TransformStack, 'translation' | 'rotationDeg' | 'scaling'>>;

/**
 * Local transform: T * Roff * Rp * Rpre * R * Rpost^-1 * Rp^-1 * Soff * Sp * S * Sp^-1. Scale comes last of all, so
 * this is always a translation, a rotation and a scale.
 * Source: the format's published transform formula.
 */
export function localTransform(stack: TransformStack, animated: Animated = {}): Transform {
  const { translation, rotationDeg, scaling } = { ...stack, ...animated };
  const rotation = normalise(times(times(stack.pre, eulerRotation(rotationDeg, stack.order)), conjugate(stack.post)));
  const turn = compose(NONE, rotation, ONE);
  const scaled: Vec3 = [0, 1, 2].map(
    (axis) => stack.scalingOffset[axis] + stack.scalingPivot[axis] * (1 - scaling[axis]),
  ) as unknown as Vec3;
  const pivoted = transformPoint(
    turn,
    scaled.map((value, axis) => value - stack.rotationPivot[axis]) as unknown as Vec3,
  );
  return {
    translation: add(add(translation, stack.rotationOffset), add(stack.rotationPivot, pivoted)),
    rotation,
    scale: scaling,
  };
}

/** A node's place in the world, with rotation and scale kept apart for the inheritance rules. */
export interface World {
  readonly matrix: Mat4;
  readonly rotation: Quat;
  readonly scaling: Vec3;
}

export const ROOT_WORLD: World = { matrix: IDENTITY, rotation: [0, 0, 0, 1], scaling: ONE };

/**
 * World of a node below `parent`: RSrs multiplies through, RrSs lets the parent's scale act after the node's own
 * rotation, Rrs leaves out the scale that the parent itself adds.
 * Source: the format's published rules for inherit types.
 */
export function worldBelow(parent: World, local: Transform, inheritance: Inheritance): World {
  const place = transformPoint(parent.matrix, local.translation);
  const rotation = normalise(times(parent.rotation, local.rotation));
  const turn = (q: Quat) => compose(NONE, q, ONE);
  const shape = (m: Mat4): Mat4 =>
    multiply(invertAffine(turn(parent.rotation)) ?? IDENTITY, [...m.slice(0, 12), 0, 0, 0, 1]);
  const own = compose(NONE, [0, 0, 0, 1], local.scale);
  const inherited =
    inheritance === 'Rrs'
      ? multiply(shape(parent.matrix), invertAffine(compose(NONE, [0, 0, 0, 1], parent.scaling)) ?? IDENTITY)
      : shape(parent.matrix);
  const linear =
    inheritance === 'RSrs'
      ? multiply(multiply(turn(parent.rotation), inherited), multiply(turn(local.rotation), own))
      : multiply(multiply(turn(parent.rotation), turn(local.rotation)), multiply(inherited, own));
  const matrix = [...linear];
  [matrix[12], matrix[13], matrix[14]] = place;
  return { matrix, rotation, scaling: local.scale };
}

/** Local transform that gives `world` below `parent` by plain multiplication; `shear` says what it cannot hold. */
export function localFrom(parent: Mat4, world: Mat4): { rest: Transform; shear: number } {
  const { translation, rotation, scale, shear } = decompose(multiply(invertAffine(parent) ?? IDENTITY, world));
  return { rest: { translation, rotation, scale }, shear };
}

/** The transform that moves a model's vertices only, never its children. */
export function geometricMatrix(properties: Properties): Mat4 {
  return compose(
    properties.vector('GeometricTranslation', NONE),
    eulerRotation(properties.vector('GeometricRotation', NONE)),
    properties.vector('GeometricScaling', ONE),
  );
}
