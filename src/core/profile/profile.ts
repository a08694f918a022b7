import { z } from 'zod';
import { AXIS_NAMES } from '../frame/normalise';

/** How far a carried motion may go before it is flagged; lengths in % of the leg. */
const DrillLimitsSchema = z.strictObject({
  /** A sole that bears may float, and any sole may sink, by so much. */
  solePercent: z.number().positive(),
  /** Way of the bearing point over one contact. */
  slidePercent: z.number().positive(),
  /** Knees and elbows: how far past straight, and how far folded. */
  pastStraightDeg: z.number().nonnegative(),
  foldDeg: z.number().positive(),
  /** Turn about their own length, to either side. */
  upperArmTwistDeg: z.number().positive(),
  forearmTwistDeg: z.number().positive(),
  thighTwistDeg: z.number().positive(),
  shinTwistDeg: z.number().positive(),
  /** How unlike neighbouring frames may stray from the middle of the two beside them, at 60 a second; how fast a joint may turn. */
  jumpDeg: z.number().positive(),
  speedDegPerSecond: z.number().positive(),
  /** Hands, forearms and knees may be so deep in the body. */
  clearancePercent: z.number().nonnegative(),
  /** Way of the hips against the source's, scaled by the legs. */
  pathPercent: z.number().positive(),
  /** A joint at the end of a segment against where the segment points. */
  lineDeg: z.number().positive(),
});
export type DrillLimits = z.infer<typeof DrillLimitsSchema>;

const USUAL_DRILL: DrillLimits = {
  solePercent: 4,
  slidePercent: 3,
  pastStraightDeg: 5,
  foldDeg: 165,
  // Overhead by way of the front a ball joint comes out half a turn from where it comes by way of the side (Codman).
  upperArmTwistDeg: 190,
  forearmTwistDeg: 120,
  thighTwistDeg: 75,
  shinTwistDeg: 60,
  jumpDeg: 13,
  speedDegPerSecond: 2500,
  clearancePercent: 3,
  pathPercent: 5,
  lineDeg: 10,
};

/** What one engine target accepts, in the engine's space after its import of the handed-off file. */
export const EngineProfileSchema = z.strictObject({
  id: z.string(),
  label: z.string(),
  version: z.int().positive(),
  up: z.enum(AXIS_NAMES),
  facing: z.enum(AXIS_NAMES),
  metresPerUnit: z.number().positive(),
  rootBone: z.enum(['required', 'optional']),
  /** How far the root may stand from the floor origin, metres. */
  rootOffsetMetres: z.number().nonnegative(),
  names: z.strictObject({ allowed: z.string(), allowedInWords: z.string(), maxLength: z.int().positive() }),
  /** Scales within 1 ± this pass. */
  boneScaleTolerance: z.number().positive(),
  /** Left out: the usual ones. */
  drill: DrillLimitsSchema.optional(),
});
export type EngineProfile = z.infer<typeof EngineProfileSchema>;

export const drillLimitsOf = ({ drill }: EngineProfile): DrillLimits => drill ?? USUAL_DRILL;

/** The shipped engine target of *Low Tide Lanterns*. */
export const TIDEWATER: EngineProfile = EngineProfileSchema.parse({
  id: 'tidewater',
  label: 'Tidewater',
  version: 1,
  up: '+Y',
  facing: '+Z',
  metresPerUnit: 1,
  rootBone: 'required',
  rootOffsetMetres: 0.01,
  names: { allowed: '^[A-Za-z_][A-Za-z0-9_]*$', allowedInWords: 'letters, digits and underscores', maxLength: 60 },
  boneScaleTolerance: 0.001,
});
