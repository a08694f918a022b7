import { z } from 'zod';
import { RootTravelSchema } from '@/core/motion/carry-options';
import { ContactSchema } from '@/core/motion/motion';
import { boundedArray } from '@/core/schema/bounded-array';

/** A motion of the shelf: a clip of a character, and what was chosen about it. */
export const MotionViewSchema = z
  .strictObject({
    id: z.uuid(),
    name: z.string(),
    /** The character that the clip came with. */
    characterId: z.uuid(),
    characterName: z.string(),
    fileName: z.string(),
    /** Definition whose fit the source has; the studio's own. */
    clipIndex: z.int().nonnegative(),
    clipName: z.string(),
    durationSeconds: z.number().nonnegative(),
    /** Rate of the clip itself; 0 where the file states none. */
    clipFramesPerSecond: z.number().nonnegative(),
    /** Rate that was chosen; null for the clip's own. */
    framesPerSecond: z.number().positive().nullable(),
    /** What the source's rest was taken from. */
    reference: z.string(),
    travel: RootTravelSchema,
    /** Contacts as a person set them; null for those that are found. */
    contacts: z.array(ContactSchema).nullable(),
    /** The character whose fit counts: another file of the same skeleton may have been fitted first. */
    fitCharacterId: z.uuid(),
    fitCharacterName: z.string(),
    /** Doubtful roles of that fit. */
    doubts: z.int().nonnegative(),
    createdBy: z.string(),
    createdAt: z.iso.datetime(),
    isRemoved: z.boolean(),
    revision: z.int().nonnegative(),
  })
  .meta({ id: 'Motion' });
export type MotionView = z.infer<typeof MotionViewSchema>;

export const MotionListSchema = z.strictObject({
  motions: z.array(MotionViewSchema),
  /** Longest motion that is taken, frames. */
  mostFrames: z.int().positive(),
});
export type MotionList = z.infer<typeof MotionListSchema>;

export const MotionParams = z.object({ motionId: z.uuid() });

/** Clips of a character for the shelf; all that move where none is named. */
export const ShelveBody = z.strictObject({
  characterId: z.uuid(),
  clips: boundedArray(z.int().nonnegative(), 5_000, 1).optional(),
});

/** Which pose of the source is its reference. */
const ReferenceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('rest') }),
  z.strictObject({ kind: z.literal('bind') }),
  /** A frame of this motion's own clip, which is left out of it. */
  z.strictObject({ kind: z.literal('frame'), frame: z.int().nonnegative().max(1_000_000) }),
]);
export type ShelfReference = z.infer<typeof ReferenceSchema>;

export const MotionChangeBody = z.strictObject({
  /** Revision of the motion that the sender has seen. */
  baseRevision: z.int().nonnegative(),
  change: z
    .strictObject({
      name: z.string().trim().min(1).max(200),
      framesPerSecond: z.number().min(1).max(1000).nullable(),
      travel: RootTravelSchema,
      contacts: boundedArray(ContactSchema, 20_000).nullable(),
      reference: ReferenceSchema,
      isRemoved: z.boolean(),
    })
    .partial(),
});
export type MotionChange = z.infer<typeof MotionChangeBody>['change'];
