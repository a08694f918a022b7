import { problemOf, type Problem } from '../errors/yarvo-error';
import { roleBonesOf, type FitState } from '../fit/fit';
import type { Definition } from '../definition/definition';
import type { FirstPass } from '../match/first-pass';
import type { AlignInput } from '../posture/align-posture';
import { bendStraightLimbs } from '../posture/fold-limb';
import { classifyPosture, type PostureSummary } from '../posture/classify-posture';
import { measurePosture, type PostureMeasure } from '../posture/measure-posture';
import type { EngineProfile } from '../profile/profile';
import { filePoses } from '../rig/local-pose';
import { computeWorlds, type RigPose } from '../rig/pose';
import type { Rig } from '../rig/rig';
import { planNames, type NamePlan } from './plan-names';
import { planSkeleton, type SkeletonPlan } from './plan-skeleton';

/** What is chosen for one handoff, beside the fit. Repairs change these, never the fit. */
interface HandoffOptions {
  /** Whether a root bone is put above a skeleton that has none where the definition wants one. */
  readonly addsRoot: boolean;
}

const USUAL_OPTIONS: HandoffOptions = { addsRoot: true };

export interface PlanInput extends FirstPass {
  readonly rig: Rig;
  readonly fit: FitState;
  readonly definition: Definition;
  readonly profile: EngineProfile;
  readonly options?: HandoffOptions;
}

/** Everything that would be written for a fit, a profile and options. Checks judge it, the writer carries it out. */
export interface HandoffPlan extends PlanInput {
  readonly options: HandoffOptions;
  /** The pose that is written: the fit's posture, with the small bend where the fit wants it. */
  readonly pose: RigPose;
  readonly posture: PostureMeasure;
  readonly summary: PostureSummary;
  readonly names: NamePlan;
  /** The skeleton as it would be written, or why it cannot be. */
  readonly skeleton: { readonly plan: SkeletonPlan } | { readonly problem: Problem };
}

export function planHandoff(input: PlanInput): HandoffPlan {
  const { rig, fit, normalisation, options = USUAL_OPTIONS } = input;
  const subject = { ...input, roleBones: roleBonesOf(fit) };
  const pose = handoffPose(subject, fit);
  const posture = measurePosture({ ...subject, worlds: computeWorlds(rig, pose) });
  return {
    ...input,
    options,
    pose,
    posture,
    summary: classifyPosture(posture.frames),
    names: planNames({ ...input, options }),
    skeleton: skeletonOrProblem(() => planSkeleton(rig, pose, normalisation, handoffLift(normalisation, fit))),
  };
}

/** The pose that a fit is handed off in. */
function handoffPose(input: AlignInput, { posture, hasSmallBend }: FitState): RigPose {
  const { rotations, shift } = posture;
  if (!hasSmallBend) return { rotations, shift };
  return bendStraightLimbs(input, { rotations, shift }, filePoses(input.rig));
}

/** How much higher everything is handed off than the file has it, metres. */
export const handoffLift = ({ floorMetres }: FirstPass['normalisation'], { origin }: FitState): number =>
  origin === 'floor' ? -floorMetres : 0;

function skeletonOrProblem(plan: () => SkeletonPlan): HandoffPlan['skeleton'] {
  try {
    return { plan: plan() };
  } catch (error) {
    return { problem: problemOf(error, 'skeleton') };
  }
}
