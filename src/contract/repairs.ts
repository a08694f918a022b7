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
});
export type RepairPreview = z.infer<typeof RepairPreviewSchema>;
