import { morphReaches } from '../rig/morph-reach';
import { mapMorphs, type MorphMatch } from '../morphs/map-morphs';
import { problemOf, type Problem } from '../errors/yarvo-error';
import { roleBonesOf, rootAboveHips, sparesOf, type FitState } from '../fit/fit';
import type { Definition } from '../definition/definition';
import type { FirstPass } from '../match/first-pass';
import type { AlignInput } from '../posture/align-order';
import { bendStraightLimbs } from '../posture/fold-limb';
import { classifyPosture, type PostureSummary } from '../posture/classify-posture';
import { measurePosture, type PostureMeasure } from '../posture/measure-posture';
import type { EngineProfile, ShippedSkeleton } from '../profile/profile';
import { filePoses } from '../rig/local-pose';
import { computeWorlds, type RigPose } from '../rig/pose';
import type { Rig } from '../rig/rig';
import { IDENTITY, type Quat } from '../math/quat';
import { statedTurns } from './bone-axes';
import type { HandoffOptions } from '../fit/handoff-options';
import type { DrillResult } from './drill-result';
import { conformPose } from './conform-pose';
import { conformSkeleton, shippedTurns } from './conform-skeleton';
import { pairedWith } from './pair-bones';
import { planHelpers, type PlannedBone } from './plan-helpers';
import { conformedNames, planNames, type NamePlan } from './plan-names';
import { planSkeleton, type SkeletonPlan } from './plan-skeleton';
import { shippedRoot } from './shipped-tree';

export interface PlanInput extends FirstPass {
  readonly rig: Rig;
  readonly fit: FitState;
  readonly definition: Definition;
  readonly profile: EngineProfile;
  /** In place of those of the fit. */
  readonly options?: HandoffOptions;
  /** What the drill found on it, where motions were carried. */
  readonly drill?: readonly DrillResult[];
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
  /** The figure's own morph targets, and which of the profile's they stand for. */
  readonly morphs: { readonly own: readonly string[]; readonly mapped: readonly MorphMatch[] };
  /** Bones that are added beside the root. */
  readonly helpers: readonly PlannedBone[];
  /** The character's bones that hang on added ones, by index: place in `helpers`. */
  readonly hung: ReadonlyMap<number, number>;
}

export function planHandoff(input: PlanInput): HandoffPlan {
  const { fit, profile, options = input.fit.handoff } = input;
  const { skeleton: shipped } = profile;
  const plan = planByItself(input, options);
  // A figure without hips has no place in a skeleton.
  if (!options.conform || !shipped || !fit.assignments.hips) return plan;
  return planConformed(plan, shipped, options.conform.lengths);
}

/** On the character's own skeleton. */
function planByItself(input: PlanInput, options: HandoffOptions): HandoffPlan {
  const { rig, fit, normalisation, profile } = input;
  const subject = { ...input, roleBones: roleBonesOf(fit) };
  const pose = handoffPose(subject, fit);
  const posture = measurePosture({ ...subject, worlds: computeWorlds(rig, pose) });
  const names = planNames({ ...input, options });
  const turns = options.reorients && profile.axes ? statedTurns({ ...input, posture }, profile.axes) : NO_TURNS;
  const lift = handoffLift(normalisation, fit);
  const skeleton = skeletonOrProblem(() => planSkeleton(rig, pose, normalisation, lift, withRiders(input, turns)));
  const worlds = 'plan' in skeleton ? skeleton.plan.worlds : null;
  return {
    ...input,
    options,
    pose,
    posture,
    summary: classifyPosture(posture, input.definition),
    names,
    skeleton,
    helpers: options.addsHelpers && worlds ? planHelpers({ fit, profile, names: names.names, worlds }) : [],
    hung: NONE_HUNG,
    morphs: morphsOf(input),
  };
}

/** Whether handoff adds the root, by itself or with a skeleton that the studio ships. */
export const addsRoot = ({ names, helpers }: Pick<HandoffPlan, 'names' | 'helpers'>): boolean =>
  names.addsRoot || helpers.some(({ name }) => name === names.rootName);

function morphsOf({ rig, fit, profile }: PlanInput): HandoffPlan['morphs'] {
  const own = [...morphReaches(rig.facts).keys()];
  return { own, mapped: mapMorphs(own, profile.morphs, fit.morphs) };
}

const NONE_HUNG: ReadonlyMap<number, number> = new Map();

/** The same on a skeleton that the studio ships: its pose, names, axes and bones. */
function planConformed(own: HandoffPlan, skeleton: ShippedSkeleton, lengths: 'own' | 'skeleton'): HandoffPlan {
  const { rig, fit, normalisation } = own;
  const { shipped, pairs } = pairedWith(own, skeleton);
  const subject = { ...own, roleBones: roleBonesOf(fit) };
  const pose = conformPose(subject, own.pose, shipped);
  const posture = measurePosture({ ...subject, worlds: computeWorlds(rig, pose) });
  const root = shippedRoot(shipped);
  const names = conformedNames(own, shipped, pairs, root === undefined ? '' : shipped.bones[root].name);
  const conformed = skeletonOrProblem(() => {
    const turned = planSkeleton(
      rig,
      pose,
      normalisation,
      handoffLift(normalisation, fit),
      shippedTurns(shipped, pairs),
    );
    return conformSkeleton(turned, { ...own, shipped, pairs, lengths });
  });
  const shared = { ...own, pose, posture, summary: classifyPosture(posture, own.definition), names };
  if ('problem' in conformed) return { ...shared, skeleton: conformed, helpers: [], hung: NONE_HUNG };
  const { plan, added, hung } = conformed.plan;
  // What the profile wants beside its skeleton is hung on it.
  const taken = [...names.names, ...added.map(({ name }) => name)];
  const more = own.options.addsHelpers ? planHelpers({ ...own, names: taken, worlds: plan.worlds }) : [];
  const onRoot = added.findIndex(({ parent }) => parent.kind === 'none');
  const helpers = more.map((each) =>
    each.parent.kind === 'root' && onRoot >= 0 ? { ...each, parent: { kind: 'added' as const, at: onRoot } } : each,
  );
  return { ...shared, skeleton: { plan }, helpers: [...added, ...helpers], hung };
}

const NO_TURNS: ReadonlyMap<number, Quat> = new Map();

/** Twist bones ride on their segment, so they get its axes; the root stands as the world does; others stay as they are. */
function withRiders({ rig, match, fit }: PlanInput, turns: ReadonlyMap<number, Quat>): ReadonlyMap<number, Quat> {
  if (turns.size === 0) return turns;
  const all = new Map(turns);
  const root = rootAboveHips(rig, fit);
  if (root !== null) all.set(root, IDENTITY);
  for (const { boneIndex, kind, ridesOn } of sparesOf(match, fit)) {
    const turn = all.get(ridesOn);
    if (kind === 'twist' && turn && !all.has(boneIndex)) all.set(boneIndex, turn);
  }
  return all;
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

function skeletonOrProblem<Plan>(plan: () => Plan): { readonly plan: Plan } | { readonly problem: Problem } {
  try {
    return { plan: plan() };
  } catch (error) {
    return { problem: problemOf(error, 'skeleton') };
  }
}
