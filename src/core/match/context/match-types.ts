import { z } from 'zod';
import { BodyFrameSchema } from '../../frame/body-frame';

export const SPARE_KINDS = [
  'twist',
  'tip',
  'helper',
  'control',
  'face',
  'dangling',
  'prop',
  'leftover',
  'unknown',
] as const;
export type SpareKind = (typeof SPARE_KINDS)[number];

const RunnerUpSchema = z.strictObject({
  boneIndex: z.int().nonnegative(),
  confidence: z.number().min(0).max(1),
  evidence: z.array(z.string()),
});

const RoleMatchSchema = z.strictObject({
  role: z.string(),
  /** Index into `rig.bones`. */
  boneIndex: z.int().nonnegative(),
  confidence: z.number().min(0).max(1),
  state: z.enum(['proposed', 'doubtful']),
  evidence: z.array(z.string()),
  runnersUp: z.array(RunnerUpSchema),
});
export type RoleMatch = z.infer<typeof RoleMatchSchema>;

/** The ordered bones of a rig on one line; `anchors` maps a role to its place in `bones`. */
const LineFitSchema = z.strictObject({
  lineId: z.string(),
  bones: z.array(z.int().nonnegative()),
  anchors: z.record(z.string(), z.int().nonnegative()),
});
export type LineFit = z.infer<typeof LineFitSchema>;

const SpareSchema = z.strictObject({
  boneIndex: z.int().nonnegative(),
  kind: z.enum(SPARE_KINDS),
  reason: z.string(),
  /** Mapped bone that it moves with, or -1. */
  ridesOn: z.int().min(-1),
});
export type Spare = z.infer<typeof SpareSchema>;

export const MatchSchema = z.strictObject({
  creature: z.strictObject({ kind: z.string(), isHumanoid: z.boolean(), reasons: z.array(z.string()) }),
  frame: BodyFrameSchema,
  assignments: z.record(z.string(), RoleMatchSchema),
  lines: z.array(LineFitSchema),
  spares: z.array(SpareSchema),
  /** Bone above the hips that leads the skeleton, or -1. */
  rootBone: z.int().min(-1),
  /** Characters of the learned prefix at the start of each bone's name. */
  prefixLengths: z.array(z.int().nonnegative()),
  /** Mirror partner per bone, itself on the centre line, -1 for none. */
  partners: z.array(z.int().min(-1)),
  search: z.strictObject({ examined: z.int(), possible: z.int() }),
});
export type Match = z.infer<typeof MatchSchema>;
