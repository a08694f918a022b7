import { leastReach } from '../rig/morph-reach';
import type { IntakeDecisions } from '../intake/decisions';
import type { Mending } from '../intake/mending';
import { roleOf, type Definition } from '../definition/definition';
import type { FitAction } from '../fit/actions/fit-actions';
import { boneRolesOf, rootAboveHips, type FitState } from '../fit/fit';
import { isBodyRole } from '../posture/straighten-body';
import type { HandoffOptions } from '../fit/handoff-options';
import type { HandoffPlan } from '../plan/handoff-plan';
import { conformTree, extraBones } from '../plan/conform-tree';
import { openEnds } from '../plan/open-ends';
import { leftAxis, strayBones } from '../plan/stray-bones';
import { findCopiedBones } from '../rig/copied-bones';
import { lightBones } from './light-bones';
import { leftoverBones } from './leftover-bones';
import { REPAIR_KINDS, type RepairKind } from './repair-kinds';

/** What repairs come to: other decisions on the file, other options of the plan. */
export interface ChosenRepairs {
  readonly intake: IntakeDecisions;
  readonly handoff: HandoffOptions;
  /** Whether the posture is aligned to the reference pose. */
  readonly aligns: boolean;
  /** Whether a bent body is straightened as well. */
  readonly straightens: boolean;
}

/**
 * The decisions and options with some repairs made. Changes nothing itself; the order of choosing does not matter, and
 * choosing one again changes nothing more.
 * @param originOf index in the file as read of a node of the plan's rig.
 */
export function chooseRepairs(
  plan: HandoffPlan,
  kinds: ReadonlySet<RepairKind>,
  originOf: (node: number) => number,
): ChosenRepairs {
  const start: ChosenRepairs = { intake: plan.fit.intake, handoff: plan.options, aligns: false, straightens: false };
  return REPAIR_KINDS.filter((kind) => kinds.has(kind)).reduce(
    (chosen, kind) => ({ ...chosen, ...REPAIRS[kind](plan, chosen, originOf) }),
    start,
  );
}

/** What is done to the posture, one after another. */
export function postureActions(
  { aligns, straightens }: Pick<ChosenRepairs, 'aligns' | 'straightens'>,
  fit: Pick<FitState, 'posture' | 'assignments'>,
  definition: Definition,
): Extract<FitAction, { kind: 'align-posture' }>[] {
  const body = definition.roles.filter((role) => isBodyRole(role) && fit.assignments[role.id]).map(({ id }) => id);
  const choices = { ...fit.posture.choices, body: 'straighten' as const };
  return [
    ...(straightens && body.length > 0 ? [{ kind: 'align-posture' as const, roles: body, choices }] : []),
    ...(aligns ? [{ kind: 'align-posture' as const }] : []),
  ];
}

type Repair = (plan: HandoffPlan, chosen: ChosenRepairs, originOf: (node: number) => number) => Partial<ChosenRepairs>;

/** Adds to what is mended of the file. */
const mending =
  (change: (plan: HandoffPlan, originOf: (node: number) => number) => Partial<Mending>): Repair =>
  (plan, { intake }, originOf) => ({
    intake: { ...intake, mending: { ...intake.mending, ...change(plan, originOf) } },
  });
const always = (change: Partial<Mending>): Repair => mending(() => change);
const option =
  (change: Partial<HandoffOptions>): Repair =>
  (_plan, { handoff }) => ({ handoff: { ...handoff, ...change } });

const nodesOf =
  (kind: 'further-root' | 'static-mesh'): Repair =>
  ({ rig }, { intake }, originOf) => {
    const nodes = rig.extras.filter((extra) => extra.kind === kind).map(({ nodeIndex }) => originOf(nodeIndex));
    return { intake: { ...intake, leftOut: united(intake.leftOut, nodes) } };
  };

const united = (known: readonly number[], more: readonly number[]): number[] =>
  [...new Set([...known, ...more.filter((each) => each >= 0)])].sort((a, b) => a - b);

/** Clips are counted as the file has them, those that are left out among them. */
const clipsWhere =
  (
    isMeant: (
      clip: NonNullable<HandoffPlan['rig']['facts']>['clips'][number],
      at: number,
      plan: HandoffPlan,
    ) => boolean,
  ): Repair =>
  (plan, { intake }) => {
    const clips = plan.rig.facts?.clips ?? [];
    const gone = new Set(plan.fit.intake.clipsLeftOut);
    const own = Array.from({ length: clips.length + gone.size }, (_, at) => at).filter((at) => !gone.has(at));
    const meant = clips.flatMap((clip, at) => (isMeant(clip, at, plan) ? [own[at]] : []));
    return { intake: { ...intake, clipsLeftOut: united(intake.clipsLeftOut, meant) } };
  };

/** Bones go, what they move goes to their parents. */
function collapsing(bonesOf: (plan: HandoffPlan) => readonly number[]): Repair {
  return (plan, { intake }, originOf) => {
    const { rig } = plan;
    const known = new Set(intake.tree.map(({ node }) => node));
    const fresh = bonesOf(plan)
      .map((bone) => ({
        kind: 'collapse' as const,
        node: originOf(rig.bones[bone].nodeIndex),
        name: rig.bones[bone].name.slice(0, 200) || 'bone',
      }))
      .filter(({ node }) => node !== -1 && !known.has(node));
    return { intake: { ...intake, tree: [...intake.tree, ...fresh] } };
  };
}

/** Bones are hung as in the shipped skeleton, and written onto it. */
function conforming(lengths: 'own' | 'skeleton'): Repair {
  return (plan, { intake, handoff }, originOf) => ({
    intake: { ...intake, tree: [...intake.tree, ...conformTree(plan, originOf)] },
    handoff: { ...handoff, conform: { lengths } },
  });
}

/** Bones that the file may have, beside a root that handoff adds. */
const spareRoom = ({ profile, names, helpers }: HandoffPlan): number =>
  (profile.limits.bonesPerSkeleton ?? Infinity) - (names.addsRoot ? 1 : 0) - helpers.length;

const REPAIRS: Readonly<Record<RepairKind, Repair>> = {
  'fold-copies': ({ rig }, { intake }, originOf) => {
    const node = (bone: number): number => originOf(rig.bones[bone].nodeIndex);
    const folds = findCopiedBones(rig).map(({ copy, original }) => ({ from: node(copy), into: node(original) }));
    const known = new Set(intake.folds.map(({ from }) => from));
    return { intake: { ...intake, folds: [...intake.folds, ...folds.filter(({ from }) => !known.has(from))] } };
  },
  'drop-extras': nodesOf('further-root'),
  'hang-static-parts': always({ hangsParts: true }),
  'drop-vertices': always({ dropsVertices: true }),
  'bind-loose-vertices': always({ bindsLoose: true, normalises: true }),
  'move-root-weights': mending(({ rig, fit }, originOf) => {
    const hips = fit.assignments.hips?.boneIndex;
    const root = rootAboveHips(rig, fit);
    if (hips === undefined || root === null) return {};
    return { moves: [{ from: originOf(rig.bones[root].nodeIndex), to: originOf(rig.bones[hips].nodeIndex) }] };
  }),
  'move-stray-weights': mending(straysOf),
  'prune-weights': mending(({ profile }) => ({ leastWeight: profile.limits.leastWeight || null })),
  'reduce-influences': mending(({ profile }) => ({ influences: profile.limits.influences })),
  'normalise-weights': always({ normalises: true }),
  'mend-binds': always({ mendsBinds: true }),
  'add-end-bones': mending((plan, originOf) => ({
    ends: united(
      plan.fit.intake.mending.ends,
      openEnds(plan).map(({ bone }) => originOf(plan.rig.bones[bone].nodeIndex)),
    ),
  })),
  'merge-skins': always({ mergesSkins: true }),
  'split-parts': mending(({ profile: { limits } }) => ({
    split: { bones: limits.bonesPerDraw, vertices: limits.verticesPerMesh, triangles: limits.trianglesPerMesh },
  })),
  'drop-empty-morphs': mending(({ normalisation }) => ({ leastMorph: leastReach(normalisation.heightFile) })),
  'sort-keys': always({ sortsKeys: true }),
  'drop-rest-keys': clipsWhere(
    ({ channels, foreign, resting }, at, { rig }) =>
      foreign < channels && resting.length > 0 && resting.length === rig.clips[at]?.boneCount,
  ),
  'drop-foreign-clips': clipsWhere(({ channels, foreign }) => channels > 0 && foreign === channels),
  'resample-clips': mending(({ profile }) => ({ clipRate: profile.clips.framesPerSecond })),
  'resize-textures': mending(({ profile }) => ({
    textures: { largest: profile.limits.textureSize, isPowerOfTwo: profile.textures.isPowerOfTwo },
  })),
  'single-sided': always({ singleSided: true }),
  'drop-leftover-bones': collapsing(leftoverBones),
  'merge-light-bones': collapsing((plan) => lightBones(plan, spareRoom(plan))),
  'merge-extra-bones': collapsing(extraBones),
  conform: conforming('own'),
  'take-lengths': conforming('skeleton'),
  'scale-to-height': ({ profile, normalisation }, { intake }) => {
    const { heightMetres: range } = profile;
    const { heightMetres: height, scale } = normalisation;
    if (!range || height <= 0) return {};
    const wanted = Math.max(range.least, Math.min(range.most, height));
    return { intake: { ...intake, unitMetres: (scale * wanted) / height } };
  },
  'apply-scale': always({ appliesScale: true }),
  'add-root': option({ addsRoot: true }),
  'add-helpers': option({ addsHelpers: true }),
  're-orient': option({ reorients: true }),
  'straighten-body': () => ({ straightens: true }),
  'align-posture': () => ({ aligns: true }),
};

/** Bones with weights on the other side, each with the bone that mirrors it. */
function straysOf(plan: HandoffPlan, originOf: (node: number) => number): Partial<Mending> {
  const { rig, fit, definition, normalisation } = plan;
  const facts = rig.facts;
  if (!facts) return {};
  const roles = boneRolesOf(fit);
  const roleAbove = (bone: number): string | null => {
    for (let at = bone; at >= 0; at = rig.bones[at].parent) if (roles.has(at)) return roles.get(at) ?? null;
    return null;
  };
  const { axis, sign } = leftAxis({ normalisation });
  const strays = strayBones(plan).flatMap(({ bone, side }) => {
    const role = roleAbove(bone);
    const mirror = role ? roleOf(definition, role).mirror : null;
    const partner = mirror ? fit.assignments[mirror]?.boneIndex : undefined;
    if (partner === undefined) return [];
    const own: 1 | -1 = (side === 'left') === sign > 0 ? 1 : -1;
    return [{ from: originOf(rig.bones[bone].nodeIndex), to: originOf(rig.bones[partner].nodeIndex), own }];
  });
  if (strays.length === 0) return {};
  return {
    strays: {
      pairs: strays.map(({ from, to }) => ({ from, to })),
      signs: strays.map(({ own }) => own),
      axis,
      middle: facts.middle.at[axis],
      slack: facts.middle.slack,
    },
  };
}
