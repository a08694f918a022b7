import type { CharacterView, FitView } from '@/contract/character-view';
import type { MotionView } from '@/contract/motions';
import type { Definition } from '@/core/definition/definition';
import { roleBonesOf, sparesOf, type FitState } from '@/core/fit/fit';
import { CARRYING, NO_ROOT_TRAVEL, type RootTravel } from '@/core/motion/carry-options';
import type { CarryTarget } from '@/core/motion/carry-plan';
import type { FittedRig } from '@/core/motion/fitted-rig';
import { FILE_REST, withAligned } from '@/core/posture/posture';
import type { RigPose } from '@/core/rig/pose';
import { parentsOf, topBoneAbove } from '@/core/rig/bone-tree';
import type { DrillSource, DrillTarget } from '@/workers/browser/drill.worker';

/** A character as motion is carried to it. */
export function targetOf(
  character: CharacterView,
  definition: Definition,
  { state }: FitView,
  travel: RootTravel,
): DrillTarget {
  const { rig, normalisation, match } = character;
  const roleBones = roleBonesOf(state);
  const hips = roleBones.get('hips');
  const target: CarryTarget = {
    rig,
    definition,
    normalisation,
    roleBones,
    pose: plain(state.posture),
    spares: sparesOf(match, state),
    rootBone: hips === undefined ? null : topBoneAbove(parentsOf(rig), hips),
    armOffsetDeg: state.layers.armOffsetDeg,
  };
  return { target, carrying: state.carrying, travel };
}

/** A character's own clip, as it stands in its file: nothing is carried, nothing is laid on it. */
export function ownSource(
  character: CharacterView,
  definition: Definition,
  fit: FitView,
  clip: number,
  mostFrames: number,
) {
  const { target } = targetOf(character, definition, fit, NO_ROOT_TRAVEL);
  const source: DrillSource = {
    fitted: fittedOf(target),
    tracksUrl: tracksUrl(character, definition.id),
    clip,
    framesPerSecond: null,
    contacts: null,
    mostFrames,
  };
  const asItIs: DrillTarget = {
    target: { ...target, armOffsetDeg: null },
    carrying: { ...CARRYING, hasTwist: false },
    travel: NO_ROOT_TRAVEL,
  };
  return { source, asItIs };
}

/**
 * A motion of the shelf as a source. Its fit may be another character's, of the same skeleton; and it may be to another
 * definition than the one that is asked for: then its roles are aligned to that one here.
 *
 * @param clipOf the character that the clip came with. @param fitOf the one whose fit counts.
 */
export function shelfSource(
  motion: MotionView,
  clipOf: CharacterView,
  fitOf: CharacterView,
  definition: Definition,
  mostFrames: number,
): DrillSource {
  const { rig } = clipOf;
  const { normalisation, fit } = fitOf;
  const input = { rig, definition, normalisation, roleBones: roleBonesOf(fit.state) };
  return {
    fitted: { ...input, pose: postureFor(input, fit.state, definition) },
    tracksUrl: tracksUrl(clipOf, clipOf.definition.id),
    clip: motion.clipIndex,
    framesPerSecond: motion.framesPerSecond,
    contacts: motion.contacts,
    mostFrames,
  };
}

/** The source's posture, where it is to that definition; else the same pose aligned to it. */
function postureFor(
  input: Omit<FittedRig, 'pose'>,
  { posture, definitionId }: FitState,
  definition: Definition,
): RigPose {
  if (definitionId === definition.id) return plain(posture);
  return plain(withAligned(input, { ...FILE_REST, taken: posture.taken, start: posture.start }, null));
}

/** A posture says more than its pose, and all of it would be copied to the worker. */
const plain = ({ rotations, shift }: RigPose): RigPose => ({ rotations, shift });

const fittedOf = ({ rig, definition, normalisation, roleBones, pose }: CarryTarget): FittedRig => ({
  rig,
  definition,
  normalisation,
  roleBones,
  pose,
});

const tracksUrl = ({ id, modelHash }: CharacterView, definitionId: string): string =>
  `/api/characters/${id}/tracks?definition=${definitionId}&of=${modelHash}`;
