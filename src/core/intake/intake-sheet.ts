import { z } from 'zod';
import { ClipSchema, ExtraSchema, PoseComparisonSchema } from '../rig/rig';

/**
 * What a person needs to decide about a file: everything in it before any decision is carried out. Node and clip
 * indices are those that decisions use.
 */
export const IntakeSheetSchema = z.strictObject({
  extras: z.array(ExtraSchema.extend({
    /** What leaving it out takes away. */
    vertexCount: z.int().nonnegative(),
    boneCount: z.int().nonnegative(),
    /** False where meshes of the figure are bound to it. */
    canLeaveOut: z.boolean(),
  })),
  clips: z.array(ClipSchema),
  poses: z.array(PoseComparisonSchema),
  boneCount: z.int().nonnegative(),
  /** Names of bones by index, for the worst bone of a pose. */
  worstBones: z.record(z.string(), z.string()),
  /** Bones of copied skeletons with their originals: node indices and names. */
  copies: z.array(z.strictObject({ from: z.int().nonnegative(), into: z.int().nonnegative(), fromName: z.string(), intoName: z.string() })),
  parts: z.array(z.strictObject({ path: z.string(), folded: z.int().nonnegative(), added: z.array(z.string()) })),
  /** Largest extent of the skeleton, file units: what distances are judged by. */
  size: z.number().nonnegative(),
});
export type IntakeSheet = z.infer<typeof IntakeSheetSchema>;
