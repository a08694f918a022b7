import { roleOf, type Definition } from '../definition/definition';
import type { PostureMeasure } from './measure-posture';

/** A limb whose two sides are turned about themselves unlike one another. */
export interface UnevenRoll {
  readonly left: string;
  readonly right: string;
  /** Turn of each about itself against the reference, radians, signed. */
  readonly leftRad: number;
  readonly rightRad: number;
  /** By how much they differ once one is mirrored, radians. */
  readonly differRad: number;
}

/** Arms and legs that were posed by hand differ by less. */
export const UNLIKE_RAD = (30 * Math.PI) / 180;

/** Limbs, without digits, whose sides are rolled unlike one another; the worst first. Equal sides have opposite signs. */
export function unevenRolls({ deviations }: PostureMeasure, definition: Definition): UnevenRoll[] {
  const rollOf = new Map(deviations.map(({ role, rollRad }) => [role, rollRad]));
  return deviations
    .flatMap(({ role, rollRad }): UnevenRoll[] => {
      const { side, mirror, line } = roleOf(definition, role);
      const other = mirror ? (rollOf.get(mirror) ?? null) : null;
      if (side !== 'left' || !mirror || !/(Arm|Leg)$/.test(line) || rollRad === null || other === null) return [];
      const sum = rollRad + other;
      const differRad = Math.abs(Math.atan2(Math.sin(sum), Math.cos(sum)));
      return differRad > UNLIKE_RAD
        ? [{ left: role, right: mirror, leftRad: rollRad, rightRad: other, differRad }]
        : [];
    })
    .sort((a, b) => b.differRad - a.differRad);
}
