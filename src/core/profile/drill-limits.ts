import { z } from 'zod';

/** How far a carried motion may go before it is flagged; lengths in % of the leg. */
export const DrillLimitsSchema = z.strictObject({
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

export const USUAL_DRILL: DrillLimits = {
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
