import type { Definition } from '@/core/definition/definition';
import { YarvoError } from '@/core/errors/yarvo-error';
import { initialFit, roleBonesOf } from '@/core/fit/fit';
import { withoutResidualTurn } from '@/core/frame/residual-turn';
import { NO_DECISIONS, type PoseSource } from '@/core/intake/decisions';
import type { FirstPass } from '@/core/match/first-pass';
import type { FittedRig } from '@/core/motion/fitted-rig';
import { alignPosture } from '@/core/posture/align-posture';
import { findUnevenScale } from '@/core/posture/uneven-scale';
import { poseFromWorlds } from '@/core/rig/local-pose';
import { computeWorlds, REST_POSE } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { applyDecisions } from '@/document/apply-decisions';
import { rigFromDocument } from '@/document/read-rig';
import { runFirstPass } from './match';
import { motionOf, type CanonicalReading } from './read-files';

/** A figure matched and aligned by itself, as a command does it. */
export interface AutoFit extends FirstPass {
  readonly fitted: FittedRig;
  /** The rig whose rest is the reference pose. */
  readonly rig: Rig;
}

/**
 * Matches a figure and turns it onto the definition's reference pose. Where the reference is another pose than the rest
 * the document's rest becomes that pose.
 *
 * @throws {YarvoError} `no-figure` where no humanoid is found; `uneven-scale` where aligning would stretch it.
 */
export function fitByItself(
  reading: CanonicalReading,
  definition: Definition,
  reference: PoseSource,
  place: string,
): AutoFit {
  const motion = motionOf(reading);
  if (reference.kind !== 'rest')
    applyDecisions(reading.document, reading.rig, { ...NO_DECISIONS, pose: reference }, place);
  const rig = reference.kind === 'rest' ? reading.rig : rigFromDocument(reading.document, place);
  const first = runFirstPass(rig, definition, { motion });
  const { creature } = first.match;
  const roleBones = roleBonesOf(initialFit(first.match, definition));
  if (!creature.isHumanoid || !roleBones.has('hips'))
    throw new YarvoError({
      code: 'no-figure',
      message: `No humanoid was found: ${creature.reasons[0] ?? 'nothing in the file looks like a body'}.`,
      place,
      remedy: 'Give a file of a figure with hips, head, two arms and two legs.',
    });
  const normalisation = withoutResidualTurn(rig, first.normalisation, roleBones);
  const input = { rig, definition, roleBones, normalisation };
  const uneven = findUnevenScale(input, null);
  if (uneven)
    throw new YarvoError({
      code: 'uneven-scale',
      message: uneven.message,
      place: `${place}, bone ${rig.bones[uneven.boneIndex].name}`,
      remedy: 'Apply the scale in the source and export it again.',
    });
  const flatFeet = reading.rig.bones.map(({ restWorld }) => restWorld);
  const aligned = alignPosture(input, REST_POSE, { flatFeet });
  // What a clip does not key stands as in the file's rest, whatever pose the reference was taken from.
  const fitted: FittedRig =
    reference.kind === 'bind'
      ? {
          ...input,
          rig: reading.rig,
          pose: poseFromWorlds(reading.rig, computeWorlds(rig, aligned), roleBones.get('hips') ?? null),
        }
      : { ...input, pose: aligned };
  return { ...first, normalisation, fitted, rig };
}
