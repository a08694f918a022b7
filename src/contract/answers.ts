import { z } from 'zod';
import { FindingSchema } from '@/core/checks/finding';
import { DefinitionSchema } from '@/core/definition/definition';
import { ProblemSchema } from '@/core/errors/yarvo-error';
import { FitStateSchema } from '@/core/fit/fit';
import { AXIS_NAMES, UNIT_EVIDENCE, type Normalisation } from '@/core/frame/normalise';
import { MatchSchema } from '@/core/match/context/match-types';
import type { IntakeSheet } from '@/core/intake/intake-sheet';
import type { RoleDeviation } from '@/core/posture/measure-posture';
import { SkeletonSchema } from '@/core/profile/profile-shape';
import { EngineProfileSchema } from '@/core/profile/profile';
import { RigSchema } from '@/core/rig/rig';
import type {
  Added,
  CharacterRemains,
  CharacterView,
  FitView,
  HandoffView,
  HistoryEntry,
  IntakeOutcome,
  JoinProposal,
  RosterRow,
} from './character-view';
import { JobViewSchema } from './jobs';
import { BoardSchema } from './board';
import { MotionListSchema, MotionViewSchema } from './motions';
import { WaiverSchema } from '@/core/waivers/waiver';
import { RepairPreviewSchema } from './repairs';
import { CheckRowSchema, ProfileEntrySchema, WaiverRowSchema } from './studio';
import { RenewalViewSchema } from './renewals';

const Count = z.int().nonnegative();
const Moment = z.iso.datetime();
const STATES = ['new', 'in work', 'needs a look', 'ready', 'handed off', 'reopened'] as const;

const RosterRowSchema: z.ZodType<RosterRow> = z
  .strictObject({
    id: z.uuid(),
    name: z.string(),
    fileName: z.string(),
    state: z.enum(STATES),
    kind: z.enum(['character', 'skeleton', 'mesh', 'motion']),
    /** Name of its drawing: /api/portraits/{portrait}. */
    portrait: z.string(),
    bones: Count,
    isHumanoid: z.boolean(),
    doubts: Count,
    blockers: Count,
    updatedAt: Moment,
    updatedBy: z.string(),
    isArchived: z.boolean(),
  })
  .meta({ id: 'RosterRow' });

const FoundSchema = FindingSchema.meta({ id: 'Finding' });
const WaivedSchema = z.strictObject({ finding: FoundSchema, waiver: WaiverSchema.meta({ id: 'Waiver' }) });
const ProfileSchema = EngineProfileSchema.meta({ id: 'EngineProfile' });

const HistoryEntrySchema: z.ZodType<HistoryEntry> = z
  .strictObject({
    revision: Count,
    kind: z.string(),
    description: z.string(),
    author: z.string(),
    at: Moment,
  })
  .meta({ id: 'HistoryEntry' });

const RoleDeviationSchema: z.ZodType<RoleDeviation> = z
  .strictObject({
    role: z.string(),
    boneIndex: Count,
    deviationRad: z.number(),
    rollRad: z.number().nullable(),
    toleranceRad: z.number(),
    isWithin: z.boolean(),
    isStopping: z.boolean(),
    alignment: z.enum(['align', 'yaw', 'leave']),
  })
  .meta({ id: 'RoleDeviation' });

const FitViewSchema: z.ZodType<FitView> = z
  .strictObject({
    revision: Count,
    readingKey: z.string(),
    state: FitStateSchema.meta({ id: 'FitState' }),
    canUndo: z.boolean(),
    canRedo: z.boolean(),
    history: z.array(HistoryEntrySchema),
    deviations: z.array(RoleDeviationSchema),
    posture: z.strictObject({
      class: z.enum(['T', 'A', 'other']),
      armsDownRad: z.number().nullable(),
      sentence: z.string(),
    }),
    findings: z.array(FoundSchema),
    waived: z.array(WaivedSchema),
    reopened: z.array(WaivedSchema),
  })
  .meta({ id: 'FitView' });

const NormalisationSchema: z.ZodType<Normalisation> = z
  .strictObject({
    scale: z.number(),
    unitFrom: z.enum(UNIT_EVIDENCE),
    rotation: z.tuple([z.number(), z.number(), z.number(), z.number()]).readonly(),
    up: z.enum(AXIS_NAMES),
    facing: z.enum(AXIS_NAMES),
    residualYawRad: z.number(),
    residualTiltRad: z.number(),
    heightFile: z.number(),
    heightMetres: z.number(),
    floorMetres: z.number(),
    notes: z.array(z.string()),
  })
  .meta({ id: 'Normalisation' });

const { extras, clips, poses } = RigSchema.shape;
const IntakeSheetSchema: z.ZodType<IntakeSheet> = z
  .strictObject({
    extras: z.array(extras.element.extend({ vertexCount: Count, boneCount: Count, canLeaveOut: z.boolean() })),
    clips,
    poses,
    boneCount: Count,
    worstBones: z.record(z.string(), z.string()),
    copies: z.array(z.strictObject({ from: z.int(), into: z.int(), fromName: z.string(), intoName: z.string() })),
    parts: z.array(z.strictObject({ path: z.string(), folded: Count, added: z.array(z.string()) })),
    size: z.number(),
  })
  .meta({ id: 'IntakeSheet' });

const HandoffViewSchema: z.ZodType<HandoffView> = z
  .strictObject({
    version: z.int().positive(),
    fileName: z.string(),
    author: z.string(),
    at: Moment,
    sizeBytes: Count,
    manifest: z.unknown(),
  })
  .meta({ id: 'HandoffView' });

const CharacterSchema: z.ZodType<CharacterView> = z
  .strictObject({
    id: z.uuid(),
    name: z.string(),
    fileName: z.string(),
    mainPath: z.string(),
    files: z.array(z.strictObject({ path: z.string(), purpose: z.enum(['given', 'supplied']) })),
    modelHash: z.string(),
    sheet: IntakeSheetSchema,
    origins: z.array(z.int()).nullable(),
    sizeBytes: Count,
    sha256: z.string(),
    state: z.enum(STATES),
    isArchived: z.boolean(),
    createdBy: z.string(),
    createdAt: Moment,
    rig: RigSchema.meta({ id: 'Rig' }),
    match: MatchSchema.meta({ id: 'Match' }),
    normalisation: NormalisationSchema,
    definition: DefinitionSchema.meta({ id: 'Definition' }),
    definitions: z.array(
      z.strictObject({ id: z.string(), label: z.string(), hasFit: z.boolean(), isStudios: z.boolean() }),
    ),
    profile: ProfileSchema,
    profiles: z.array(z.strictObject({ id: z.string(), label: z.string() })),
    fit: FitViewSchema,
    handoffs: z.array(HandoffViewSchema),
  })
  .meta({ id: 'Character' });

const AddedSchema: z.ZodType<Added> = z
  .strictObject({
    id: z.uuid(),
    name: z.string(),
    fileName: z.string(),
    path: z.string(),
    isAlreadyThere: z.boolean().optional(),
    sameAs: z.strictObject({ id: z.uuid(), name: z.string() }).optional(),
  })
  .meta({ id: 'Added' });

/** Result of an intake job. */
export const IntakeOutcomeSchema: z.ZodType<IntakeOutcome> = z
  .strictObject({
    characters: z.array(AddedSchema),
    refused: z.array(z.strictObject({ path: z.string(), problem: ProblemSchema })),
  })
  .meta({ id: 'IntakeOutcome' });

/** Result of a pack job. */
export const MadePackSchema = z.strictObject({ version: z.int().positive(), fileName: z.string() });

const RemainsSchema: z.ZodType<CharacterRemains> = z
  .strictObject({
    files: Count,
    fileBytes: Count,
    readings: Count,
    fits: Count,
    changes: Count,
    packs: Count,
    parts: Count,
  })
  .meta({ id: 'Remains' });

const JoinProposalSchema: z.ZodType<JoinProposal> = z
  .strictObject({
    bodyId: z.uuid(),
    bodyName: z.string(),
    parts: z.array(z.strictObject({ id: z.uuid(), name: z.string(), shared: Count, total: Count })),
  })
  .meta({ id: 'JoinProposal' });

const JobSchema = JobViewSchema.meta({ id: 'Job' });

/** What each call answers where it did what was asked. */
export const ANSWERS = {
  board: BoardSchema,
  shelf: MotionListSchema,
  shelved: z.strictObject({ motions: z.array(MotionViewSchema) }),
  motion: z.strictObject({ motion: MotionViewSchema }),
  roster: z.strictObject({
    characters: z.array(RosterRowSchema),
    total: Count,
    archived: Count,
    page: z.int().positive(),
    size: z.int().positive(),
  }),
  selection: z.strictObject({ selection: z.string() }),
  arrival: z.strictObject({
    job: JobSchema,
    /** It is the job of an earlier try, whose sender got no answer. */
    isRepeated: z.boolean(),
    /** What is said of files that were one too many: the first ones were taken. Null where all were. */
    excess: ProblemSchema.nullable(),
  }),
  character: CharacterSchema,
  remains: z.strictObject({ remains: RemainsSchema }),
  removed: z.strictObject({ removed: RemainsSchema }),
  fit: z.strictObject({ fit: FitViewSchema }),
  history: z.strictObject({ history: z.array(HistoryEntrySchema) }),
  startedFit: z.strictObject({ definitionId: z.string() }),
  job: z.strictObject({ job: JobSchema }),
  cancelledJob: z.strictObject({ job: JobSchema.nullable() }),
  jobs: z.strictObject({ jobs: z.array(JobSchema) }),
  archived: z.strictObject({ changed: Count }),
  provenance: z.strictObject({
    changed: Count,
    refused: z.array(z.strictObject({ id: z.uuid(), message: z.string() })),
  }),
  joins: z.strictObject({ proposals: z.array(JoinProposalSchema) }),
  repairPreview: RepairPreviewSchema.meta({ id: 'RepairPreview' }),
  profiles: z.strictObject({ profiles: z.array(ProfileEntrySchema) }),
  profile: z.strictObject({ profile: ProfileSchema }),
  skeleton: z.strictObject({ skeleton: SkeletonSchema.meta({ id: 'ShippedSkeleton' }) }),
  waivers: z.strictObject({ waivers: z.array(WaiverRowSchema.meta({ id: 'WaiverRow' })) }),
  checkRow: CheckRowSchema,
  renewals: z.strictObject({ renewals: z.array(RenewalViewSchema.meta({ id: 'Renewal' })) }),
  accepted: z.strictObject({ accepted: Count }),
  health: z.strictObject({
    database: z.enum(['there', 'away']),
    since: z.string().nullable().optional(),
    doing: z.string().optional(),
    lastWords: z.array(z.string()).optional(),
  }),
} as const;

/** Every failure. A change behind a newer fit brings that fit along. */
export const FailureSchema = z
  .object({ error: ProblemSchema.meta({ id: 'Problem' }), fit: FitViewSchema.optional() })
  .meta({ id: 'Failure' });
