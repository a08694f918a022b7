import type { CharacterView } from '@/contract/character-view';
import { mirrorRole, roleOf, type Definition } from '@/core/definition/definition';
import type { AxisName } from '@/core/frame/normalise';
import type { IntakeDecisions } from '@/core/intake/decisions';
import { PROPOSED_THRESHOLD } from '@/core/match/verdict/confidence';

/** One way to tell the sides: which way the figure faces then, and which bone is a left one. */
interface SidesReading {
  readonly facing: AxisName;
  /** "left hand", in words. */
  readonly part: string;
  readonly bone: string;
}

export interface SidesQuestion {
  readonly reason: string;
  /** As the first pass reads it, then the other way round. */
  readonly readings: readonly [SidesReading, SidesReading];
}

/** Roles that show a person best which side is which, the first that has a bone on both sides. */
const SHOWN = ['leftHand', 'leftLowerArm', 'leftUpperArm', 'leftFoot', 'leftLowerLeg', 'leftUpperLeg'];

/**
 * Both readings of a figure whose left and right are in question: nothing shows its front, or the names say the
 * opposite of the body. Null where the sides are clear, or a person has set the front.
 */
export function sidesQuestion(
  { rig, match, normalisation }: Pick<CharacterView, 'rig' | 'match' | 'normalisation'>,
  definition: Definition,
  { facing }: Pick<IntakeDecisions, 'facing'>,
): SidesQuestion | null {
  const { frame, creature, assignments } = match;
  if (!creature.isHumanoid || facing !== null) return null;
  if (!frame.namesAreSwapped && frame.confidence >= PROPOSED_THRESHOLD) return null;
  const role = SHOWN.find((id) => assignments[id] && assignments[mirrorRole(definition, id)]);
  if (!role) return null;
  const reading = (axis: AxisName, of: string): SidesReading => ({
    facing: axis,
    part: roleOf(definition, role).label.toLowerCase(),
    bone: rig.bones[assignments[of].boneIndex].name,
  });
  return {
    reason: frame.namesAreSwapped
      ? 'The names say left where the body shows right'
      : `Hardly anything shows the front: left and right are ${Math.round(frame.confidence * 100)} % sure`,
    readings: [
      reading(normalisation.facing, role),
      reading(opposite(normalisation.facing), mirrorRole(definition, role)),
    ],
  };
}

const opposite = (axis: AxisName): AxisName => `${axis[0] === '+' ? '-' : '+'}${axis[1]}` as AxisName;
