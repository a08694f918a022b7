import { add, cross, normalise, scale, subtract, type Vec3 } from '@/core/math/vec3';
import { fromAxes, fromAxisAngle, rotate, IDENTITY, type Quat } from '@/core/math/quat';

/** One joint of a made-up figure. Positions are world, metres, Y up, facing +Z. */
export interface Joint {
  readonly name: string;
  readonly parent: string | null;
  readonly position: Vec3;
  /** Role id where the joint has one, else the kind of spare it is, `member` inside a run, or `root`. */
  readonly truth: string;
  /** World rotation of the joint. */
  readonly rotation: Quat;
}

/** Places of a grown figure of 1.78 m in T-pose; left side only, by role id. */
const PLACES: Record<string, Vec3> = {
  hips: [0, 0.96, 0],
  spine: [0, 1.06, 0.004],
  chest: [0, 1.19, -0.006],
  upperChest: [0, 1.32, -0.016],
  neck: [0, 1.48, -0.018],
  head: [0, 1.575, 0.004],
  leftUpperLeg: [0.093, 0.925, 0],
  leftLowerLeg: [0.098, 0.51, 0.012],
  leftFoot: [0.1, 0.09, -0.018],
  leftToes: [0.104, 0.024, 0.105],
  leftShoulder: [0.035, 1.435, 0.008],
  leftUpperArm: [0.175, 1.44, -0.018],
  leftLowerArm: [0.445, 1.44, -0.028],
  leftHand: [0.69, 1.44, -0.018],
  leftThumbMetacarpal: [0.715, 1.428, 0.012],
  leftThumbProximal: [0.747, 1.42, 0.04],
  leftThumbDistal: [0.772, 1.416, 0.06],
  leftIndexProximal: [0.782, 1.446, 0.018],
  leftIndexIntermediate: [0.822, 1.445, 0.022],
  leftIndexDistal: [0.847, 1.444, 0.024],
  leftMiddleProximal: [0.785, 1.448, -0.006],
  leftMiddleIntermediate: [0.829, 1.447, -0.006],
  leftMiddleDistal: [0.857, 1.446, -0.006],
  leftRingProximal: [0.78, 1.446, -0.03],
  leftRingIntermediate: [0.82, 1.445, -0.033],
  leftRingDistal: [0.845, 1.444, -0.035],
  leftLittleProximal: [0.77, 1.441, -0.052],
  leftLittleIntermediate: [0.8, 1.44, -0.058],
  leftLittleDistal: [0.819, 1.439, -0.061],
};

const DEGREE = Math.PI / 180;

export interface BodyOptions {
  /** Factor on heights and lengths. */
  readonly size: number;
  /** Factor on widths of shoulders and hips. */
  readonly breadth: number;
  /** Arms below the horizontal, degrees. */
  readonly armsDownDegrees: number;
  /** Extra bend of the elbow forward, degrees. */
  readonly elbowDegrees: number;
  /** Feet turned out, degrees. */
  readonly feetOutDegrees: number;
}

const BODY_DEFAULTS: BodyOptions = { size: 1, breadth: 1, armsDownDegrees: 0, elbowDegrees: 0, feetOutDegrees: 0 };

/** World places of all roles on both sides, posed. */
export function bodyPlaces(options: Partial<BodyOptions> = {}): Record<string, Vec3> {
  const { size, breadth, armsDownDegrees, elbowDegrees, feetOutDegrees } = { ...BODY_DEFAULTS, ...options };
  const places: Record<string, Vec3> = {};
  for (const [role, [x, y, z]] of Object.entries(PLACES)) {
    const isArm = x > 0.17;
    places[role] = [isArm ? 0.175 * breadth * size + (x - 0.175) * size : x * breadth * size, y * size, z * size];
  }
  const turn = (roles: readonly string[], pivot: string, rotation: Quat) => {
    for (const role of roles)
      places[role] = add(places[pivot], rotate(rotation, subtract(places[role], places[pivot])));
  };
  const arm = Object.keys(PLACES).filter((role) => /left(LowerArm|Hand|Thumb|Index|Middle|Ring|Little)/.test(role));
  turn(
    arm.filter((role) => role !== 'leftLowerArm'),
    'leftLowerArm',
    fromAxisAngle([0, 1, 0], -elbowDegrees * DEGREE),
  );
  turn(arm, 'leftUpperArm', fromAxisAngle([0, 0, 1], -armsDownDegrees * DEGREE));
  turn(['leftToes'], 'leftFoot', fromAxisAngle([0, 1, 0], feetOutDegrees * DEGREE));
  for (const [role, [x, y, z]] of Object.entries(places)) {
    if (role.startsWith('left')) places[`right${role.slice(4)}`] = [-x, y, z];
  }
  return places;
}

/** Rotation whose Y axis points along `direction`, its Z axis near `front`. */
export function alongBone(direction: Vec3, front: Vec3): Quat {
  const y = normalise(direction);
  if (!y) return IDENTITY;
  const x = normalise(cross(y, front)) ?? normalise(cross(y, [1, 0, 0.1])) ?? [1, 0, 0];
  return fromAxes(x, y, cross(x, y));
}

export const between = (a: Vec3, b: Vec3, share: number): Vec3 => add(scale(a, 1 - share), scale(b, share));

/** Builds joints in parent-before-child order; refuses a parent that does not exist yet. */
export class SkeletonBuilder {
  readonly joints: Joint[] = [];
  private readonly byName = new Map<string, Joint>();

  add(name: string, parent: string | null, position: Vec3, truth: string, rotation: Quat = IDENTITY): string {
    if (parent !== null && !this.byName.has(parent))
      throw new RangeError(`SkeletonBuilder: ${name} names the unknown parent ${parent}`);
    if (this.byName.has(name)) throw new RangeError(`SkeletonBuilder: ${name} exists already`);
    const joint = { name, parent, position, truth, rotation };
    this.joints.push(joint);
    this.byName.set(name, joint);
    return name;
  }

  place(name: string): Vec3 {
    const joint = this.byName.get(name);
    if (!joint) throw new RangeError(`SkeletonBuilder: no joint ${name}`);
    return joint.position;
  }
}
