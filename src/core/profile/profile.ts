import { contradictionsOf } from './contradictions';
import { USUAL_DRILL, type DrillLimits } from './drill-limits';
import { EngineProfileShape, type EngineProfile } from './profile-shape';

export type { BoneAxes, EngineProfile, Helper, ShippedSkeleton } from './profile-shape';

/** What one engine target accepts, in the engine's space after its import of the handed-off file. */
export const EngineProfileSchema = EngineProfileShape.superRefine((profile, context) => {
  for (const { message, path } of contradictionsOf(profile)) context.addIssue({ code: 'custom', message, path });
});

/**
 * A profile that is kept: its fields are what they must be, and what contradicts itself is for the checks to say. A rule
 * that came later must not make it unreadable.
 */
export const KeptProfileSchema = EngineProfileShape;

export const drillLimitsOf = ({ drill }: EngineProfile): DrillLimits => drill ?? USUAL_DRILL;
