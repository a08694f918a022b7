import { z } from 'zod';
import { REPAIR_KINDS } from '@/core/repairs/repair-kinds';

const CountsSchema = z.strictObject({
  blockers: z.int(),
  cautions: z.int(),
  notes: z.int(),
  bones: z.int(),
  vertices: z.int(),
  influences: z.int(),
  clips: z.int(),
  heightMetres: z.number(),
});
export type RepairCounts = z.infer<typeof CountsSchema>;

/** What repairs would change. */
export const RepairPreviewSchema = z.strictObject({
  /** Why they cannot be made; null where they can. */
  refused: z.string().nullable(),
  repairs: z.array(z.enum(REPAIR_KINDS)),
  before: CountsSchema.nullable(),
  after: CountsSchema.nullable(),
  /** Findings that would be gone. */
  gone: z.array(z.string()),
  /** Bones that would be written under another name: from the one of today. */
  renamed: z.array(z.strictObject({ from: z.string(), to: z.string() })),
  /** Furthest that a vertex goes, millimetres; null where it could not be worked out. */
  movement: z
    .strictObject({
      /** As the written file rests. */
      restMm: z.number(),
      /** In frames of the house set; null for a figure that cannot be moved. */
      motionMm: z.number().nullable(),
      /** Part of the furthest; empty where nothing moves. */
      part: z.string(),
      /** Parts that are cut or joined anew, so that their vertices have no counterpart. */
      left: z.array(z.string()),
    })
    .nullable(),
});
export type RepairPreview = z.infer<typeof RepairPreviewSchema>;
