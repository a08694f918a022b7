import { z } from 'zod';
import { AXIS_NAMES } from '../frame/normalise';

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
});
export type EngineProfile = z.infer<typeof EngineProfileSchema>;

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
