import { z } from 'zod';
import { KeptDecisionsSchema, NO_DECISIONS, type IntakeDecisions } from '../intake/decisions';
import { CARRYING, CarryingSchema } from '../motion/carry-options';
import { parentsOf, topBoneAbove } from '../rig/bone-tree';
import type { Rig } from '../rig/rig';
import { FILE_REST, PostureSchema } from '../posture/posture';
import { KeptHandoffSchema, USUAL_OPTIONS } from './handoff-options';
import { WaiverSchema } from '../waivers/waiver';
import { SPARE_KINDS, type Match, type Spare } from '../match/context/match-types';

const AssignmentSchema = z.strictObject({
  boneIndex: z.int().nonnegative(),
  state: z.enum(['settled', 'proposed', 'doubtful']),
  origin: z.enum(['match', 'person']),
});
export type Assignment = z.infer<typeof AssignmentSchema>;

/** Which reader, matcher and dialect made the reading and the match that a fit speaks of. */
const BasisSchema = z.strictObject({
  reader: z.int().positive(),
  matcher: z.int().positive(),
  /** Id and version of the dialect: "shipped@1". */
  dialect: z.string(),
});
export type Basis = z.infer<typeof BasisSchema>;

/** What made all fits before these versions were written down. */
export const FIRST_BASIS: Basis = { reader: 1, matcher: 1, dialect: 'shipped@1' };

/** All decisions about one character against one definition. What can be computed from them is not kept here. */
export const FitStateSchema = z.strictObject({
  definitionId: z.string(),
  definitionVersion: z.int().positive(),
  basis: BasisSchema.default(FIRST_BASIS),
  /** How the file is to be understood; fits from before these decisions have none. */
  intake: KeptDecisionsSchema,
  assignments: z.record(z.string(), AssignmentSchema),
  /** Roles that a person left vacant on purpose. */
  leftVacant: z.array(z.string()).default([]),
  /** Bone index -> what a person said the spare is. */
  spareKinds: z.record(z.string(), z.enum(SPARE_KINDS)).default({}),
  /** A closed fit takes no change until it is reopened, with a reason. */
  isClosed: z.boolean().default(false),
  posture: PostureSchema,
  /** Adjustments on top of the reference pose, never part of it; null where there is none. */
  layers: z
    .strictObject({
      /** How far the arms of a heavy body are held away in every motion, degrees. */
      armOffsetDeg: z.strictObject({ left: z.number(), right: z.number() }).nullable(),
    })
    .default({ armOffsetDeg: null }),
  /** How motions are carried to the character. */
  carrying: CarryingSchema.default(CARRYING),
  /** Motions that go into the pack: ids of the shelf, or "house-walk". */
  packMotions: z.array(z.string().min(1).max(60)).max(200).default([]),
  /** Whether straight elbows and knees are handed off with the definition's small bend. */
  hasSmallBend: z.boolean().default(false),
  /** Morph targets that the engine drives, by what a person said stands for them; null for none. */
  morphs: z.record(z.string().max(200), z.string().max(200).nullable()).default({}),
  /** Engine profile that it is judged by; null for the studio's own. */
  profile: z.string().nullable().default(null),
  /** Findings that somebody accepted. */
  waivers: z.array(WaiverSchema).default([]),
  /** What handoff adds and turns. */
  handoff: KeptHandoffSchema,
  /** Whether handoff leaves the origin where the file has it, or puts the figure on the floor. */
  origin: z.enum(['file', 'floor']).default('file'),
});
export type FitState = z.infer<typeof FitStateSchema>;

/** The fit as the first pass leaves it: nothing settled, the file's own rest as posture. */
export function initialFit(
  match: Match,
  definition: { id: string; version: number },
  intake: IntakeDecisions = NO_DECISIONS,
  basis: Basis = FIRST_BASIS,
): FitState {
  return {
    definitionId: definition.id,
    definitionVersion: definition.version,
    basis,
    intake,
    assignments: Object.fromEntries(
      Object.values(match.assignments).map(({ role, boneIndex, state }) => [
        role,
        { boneIndex, state, origin: 'match' as const },
      ]),
    ),
    leftVacant: [],
    spareKinds: {},
    isClosed: false,
    posture: FILE_REST,
    layers: { armOffsetDeg: null },
    carrying: { ...CARRYING, grounding: 'likeness' },
    packMotions: [],
    hasSmallBend: false,
    morphs: {},
    profile: null,
    waivers: [],
    handoff: USUAL_OPTIONS,
    origin: 'file',
  };
}

/** Bones without a role and what they are: as a person said, else as the first pass explains them. */
export function sparesOf(match: Match, state: FitState): Spare[] {
  const explained = new Map(match.spares.map((spare) => [spare.boneIndex, spare]));
  for (const [bone, kind] of Object.entries(state.spareKinds)) {
    const boneIndex = Number(bone);
    explained.set(boneIndex, {
      boneIndex,
      kind,
      reason: 'set by hand',
      ridesOn: explained.get(boneIndex)?.ridesOn ?? -1,
    });
  }
  const mapped = new Set(roleBonesOf(state).values());
  return [...explained.values()]
    .filter(({ boneIndex }) => !mapped.has(boneIndex))
    .sort((a, b) => a.boneIndex - b.boneIndex);
}

/** Role -> bone index of a fit. */
export const roleBonesOf = ({ assignments }: Pick<FitState, 'assignments'>): Map<string, number> =>
  new Map(Object.entries(assignments).map(([role, assignment]) => [role, assignment.boneIndex]));

/** Bone index -> role of a fit. */
export const boneRolesOf = ({ assignments }: Pick<FitState, 'assignments'>): Map<number, string> =>
  new Map(Object.entries(assignments).map(([role, { boneIndex }]) => [boneIndex, role]));

/** The topmost bone above the hips; null where these lead the skeleton, or have no bone. */
export function rootAboveHips(rig: Rig, { assignments }: Pick<FitState, 'assignments'>): number | null {
  const hips = assignments.hips?.boneIndex;
  return hips === undefined ? null : topBoneAbove(parentsOf(rig), hips);
}

export const countDoubts = (state: FitState): number =>
  Object.values(state.assignments).filter((assignment) => assignment.state === 'doubtful').length;
