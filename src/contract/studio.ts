import { z } from 'zod';
import { SEVERITIES } from '@/core/checks/finding';
import { REPAIR_KINDS } from '@/core/repairs/repair-kinds';
import { WaiverSchema } from '@/core/waivers/waiver';

/** An engine profile of the studio, by its versions. */
export const ProfileEntrySchema = z.strictObject({
  id: z.string(),
  label: z.string(),
  versions: z.array(
    z.strictObject({ version: z.int().positive(), createdBy: z.string(), createdAt: z.iso.datetime() }),
  ),
  /** How many fits are judged by it. */
  fits: z.int().nonnegative(),
  /** What is wrong with its newest version, which an older Yarvo kept; null for nothing. */
  fault: z.string().nullable(),
});
export type ProfileEntry = z.infer<typeof ProfileEntrySchema>;

/** Somebody's word on a character, as the Studio lists it. */
export const WaiverRowSchema = z.strictObject({
  characterId: z.uuid(),
  character: z.string(),
  definition: z.string(),
  /** Of the fit. */
  revision: z.int().nonnegative(),
  isClosed: z.boolean(),
  waiver: WaiverSchema,
  hasRunOut: z.boolean(),
});
export type WaiverRow = z.infer<typeof WaiverRowSchema>;

/** What the checks found on one character: a line of the board of checks. */
export const CheckRowSchema = z.strictObject({
  id: z.uuid(),
  name: z.string(),
  /** Of the fit. */
  revision: z.int().nonnegative(),
  profile: z.string(),
  cells: z.array(
    z.strictObject({
      check: z.string(),
      severity: z.enum(SEVERITIES),
      count: z.int().positive(),
      /** The first of them, as a person reads it. */
      sentence: z.string(),
      repairs: z.array(z.enum(REPAIR_KINDS)),
    }),
  ),
  waived: z.int().nonnegative(),
  /** Why it could not be checked; null where it was. */
  refused: z.string().nullable(),
});
export type CheckRow = z.infer<typeof CheckRowSchema>;
