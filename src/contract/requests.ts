import { z } from 'zod';
import { SizeChangeSchema } from '@/core/frame/size-change';
import { FitActionSchema } from '@/core/fit/actions/fit-actions';
import { IntakeDecisionsSchema } from '@/core/intake/decisions';
import { ProvenanceSchema } from '@/core/rig/source-facts';
import { REPAIR_KINDS } from '@/core/repairs/repair-kinds';
import { boundedArray } from '@/core/schema/bounded-array';
import { JOB_KINDS, JOB_STATES } from './jobs';

/** Most rows of a page of the roster; how many there are where nobody says. */
export const ROSTER_SIZES = { usual: 100, most: 500 } as const;

/** Most files of one upload. */
export const MOST_FILES = 2_000;

const DefinitionId = z.string().min(1).max(80);
const Uuid = z.uuid();

/** Names characters that are looked at together: kept by what it holds, so that equal ones are one. */
export const SelectionId = z.string().regex(/^[0-9a-f]{32}$/);
export const SelectionBody = z.strictObject({ characterIds: boundedArray(Uuid, 5_000, 1) });

export const CharacterParams = z.object({ characterId: Uuid });
export const ModelParams = z.object({ characterId: Uuid, hash: z.string().regex(/^[0-9a-f]{64}$/) });
export const PortraitParams = z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) });
export const PackParams = z.object({ characterId: Uuid, version: z.coerce.number().int().positive() });
export const JobParams = z.object({ jobId: Uuid });

export const RosterQuery = z.object({
  /** Part of a name, a file's name or a state. */
  text: z.string().max(200).default(''),
  archived: z.enum(['true', 'false']).optional(),
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  size: z.coerce.number().int().min(1).max(ROSTER_SIZES.most).default(ROSTER_SIZES.usual),
});
export const UploadQuery = z.object({
  /** Names the upload and its job, so that it can be followed and cancelled. */
  upload: Uuid.optional(),
  /** Name of the file where the body is one; a form brings the names itself. */
  name: z.string().max(2_000).optional(),
  /** Whether the clips of what it holds go on the shelf as well. */
  shelf: z.enum(['true', 'false']).optional(),
});
export const DeleteQuery = z.object({ packs: z.enum(['keep', 'delete']).default('keep') });
export const FitQuery = z.object({ definition: DefinitionId.optional() });
export const HistoryQuery = FitQuery.extend({ before: z.coerce.number().int().nonnegative() });
export const HandoffQuery = FitQuery.extend({
  /** Names the job: asked for again after an answer got lost, the pack is made once. */
  job: Uuid.optional(),
});
export const JobsQuery = z.object({
  state: z.enum(JOB_STATES).optional(),
  kind: z.enum(JOB_KINDS).optional(),
  subject: z.string().max(150).optional(),
});

/** What every change of a fit says. */
export const ChangeBase = z.strictObject({
  /** Revision the sender has seen. */
  baseRevision: z.int().nonnegative(),
  /** Definition of the fit that is meant; the studio's own by default. */
  definitionId: DefinitionId.optional(),
  /** Names the change: sent again after an answer got lost, it is recognised and not made twice. */
  changeId: Uuid.optional(),
});
export const ActionBody = ChangeBase.extend({ action: FitActionSchema });
export const UndoBody = ChangeBase.extend({ whose: z.enum(['own', 'anyone']).default('own') });
const RepairKinds = z.union([z.literal('safe'), boundedArray(z.enum(REPAIR_KINDS), REPAIR_KINDS.length, 1)]);
export const RepairsBody = ChangeBase.extend({ repairs: RepairKinds });
export const RepairsQuery = FitQuery.extend({
  /** Kinds joined by commas, or "safe". */
  repairs: z
    .string()
    .max(2_000)
    .transform((text): unknown[] | 'safe' => (text === 'safe' ? text : text.split(',')))
    .pipe(RepairKinds),
  /** Whether it is worked out how far vertices go: it takes as long as all the rest. */
  movement: z.enum(['yes', 'no']).default('yes'),
});
const Day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/);
const WaiverSubject = { finding: z.string().min(1).max(2_000).optional(), check: z.string().min(1).max(60).optional() };
export const WaiveBody = ChangeBase.extend({
  ...WaiverSubject,
  reason: z.string().trim().min(3).max(2_000),
  until: Day.optional(),
}).refine(
  ({ finding, check }) => (finding === undefined) !== (check === undefined),
  'needs either a finding or a check',
);
export const UnwaiveBody = ChangeBase.extend(WaiverSubject);
export const CallQuery = z.object({
  /** Names the call: sent again after an answer got lost, it is recognised, and nothing is made twice. */
  callId: Uuid.optional(),
});
export const ProfileParams = z.object({ profileId: z.string().min(1).max(40) });
export const SkeletonQuery = z.object({
  /** Name of the file where the body is one; a form brings the names itself. */
  name: z.string().max(2_000).optional(),
  /** Whose roles its bones are matched to; the studio's where none is named. */
  definition: z.string().max(60).optional(),
});
export const ProfileQuery = z.object({ version: z.coerce.number().int().positive().optional() });
export const ChecksQuery = z.object({
  /** Ids joined by commas; for many, `selection`. The roster's first where both are left out. */
  characters: z
    .string()
    .max(8_000)
    .transform((text): unknown[] => text.split(','))
    .pipe(boundedArray(Uuid, 200, 1))
    .optional(),
  selection: SelectionId.optional(),
  profile: z.string().min(1).max(40).optional(),
});
export const RestoreBody = ChangeBase.extend({ revision: z.int().nonnegative() });
// Parts and supplied files come with their bytes, through calls of their own; here they can only name what is there.
export const IntakeBody = ChangeBase.extend({ change: IntakeDecisionsSchema.partial() });
export const PartsBody = ChangeBase.extend({ characterIds: boundedArray(Uuid, 50, 1) });
export const StartFitBody = z.strictObject({ definitionId: DefinitionId });
export const ArchiveBody = z.strictObject({ characterIds: boundedArray(Uuid, 500, 1), isArchived: z.boolean() });
export const JoinsBody = z.strictObject({ characterIds: boundedArray(Uuid, 200, 2) });
export const ProvenanceBody = z.strictObject({
  characterIds: boundedArray(Uuid, 500, 1),
  provenance: ProvenanceSchema.partial(),
});
export const SizesBody = z.strictObject({ characterIds: boundedArray(Uuid, 500, 1), size: SizeChangeSchema });
export const RenewalsBody = z.strictObject({
  fits: boundedArray(z.strictObject({ characterId: Uuid, definitionId: DefinitionId }), 1_000, 1),
});
