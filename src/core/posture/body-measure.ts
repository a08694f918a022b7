import { SIDES, type Side } from '../definition/definition';
import { translationOf } from '../math/mat4';
import { distance, type Vec3 } from '../math/vec3';
import { yawBetween } from './measure-posture';
import type { FrameInput, RoleFrame } from './role-frames';
import { endRole, lowerRole, upperRole } from './hinges';

/** What is told of each side; radians and metres in the body frame. */
export interface SideMeasure {
  /** Upper arm and forearm below the horizontal, mean; null without an arm. */
  readonly armDownRad: number | null;
  /** Thigh away from straight down, outward; null without a leg. */
  readonly legOutRad: number | null;
  /** Foot away from straight ahead, outward; null without a foot. */
  readonly footOutRad: number | null;
  readonly armMetres: number | null;
  readonly legMetres: number | null;
}

/** Arms, legs and feet of both sides. */
export function measureSides(
  { roleBones, worlds, normalisation }: FrameInput,
  frames: ReadonlyMap<string, RoleFrame>,
): Readonly<Record<Side, SideMeasure>> {
  const place = (role: string): Vec3 | null => {
    const world = worlds[roleBones.get(role) ?? -1];
    return world ? translationOf(world) : null;
  };
  const measured = SIDES.map((side): [Side, SideMeasure] => {
    const out = side === 'left' ? 1 : -1;
    const lengthOf = (part: 'Arm' | 'Leg'): number | null => {
      const limb = { side, part };
      const [top, middle, end] = [place(upperRole(limb)), place(lowerRole(limb)), place(endRole(limb))];
      return top && middle && end ? (distance(top, middle) + distance(middle, end)) * normalisation.scale : null;
    };
    const arm = [frames.get(`${side}UpperArm`), frames.get(`${side}LowerArm`)].filter((frame) => frame !== undefined);
    const [thigh, foot] = [frames.get(`${side}UpperLeg`), frames.get(`${side}Foot`)];
    return [
      side,
      {
        armDownRad: arm.length > 0 ? arm.reduce((sum, { direction }) => sum + downOf(direction), 0) / arm.length : null,
        legOutRad: thigh ? Math.atan2(thigh.direction[0] * out, -thigh.direction[1]) : null,
        footOutRad: foot ? yawBetween([0, 0, 1], foot.direction) * out : null,
        armMetres: lengthOf('Arm'),
        legMetres: lengthOf('Leg'),
      },
    ];
  });
  return Object.fromEntries(measured) as Record<Side, SideMeasure>;
}

const downOf = (direction: Vec3): number => Math.atan2(-direction[1], Math.hypot(direction[0], direction[2]));
