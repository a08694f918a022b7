import { z } from 'zod';
import { RootTravelSchema } from '@/core/motion/carry-options';
import { GaitSettingsSchema } from '@/core/house/gait-settings';
import { MotionEditsSchema } from '@/core/motion/edits/motion-edit';
import { ContactSchema } from '@/core/motion/motion';
import { boundedArray } from '@/core/schema/bounded-array';

const MotionNameSchema = z.string().trim().min(1).max(200);

/** What every motion of the shelf has. */
const SHELVED = {
  id: z.uuid(),
  name: z.string(),
  /** Length and rate before it was edited; rate 0 where a file states none. */
  durationSeconds: z.number().nonnegative(),
  clipFramesPerSecond: z.number().nonnegative(),
  /** Rate that was chosen; null for its own. */
  framesPerSecond: z.number().positive().nullable(),
  travel: RootTravelSchema,
  /** Contacts as a person set them before any editing; null for those that are found. */
  contacts: z.array(ContactSchema).nullable(),
  /** What is done to it, step by step; the source stays as it is. */
  edits: MotionEditsSchema,
  createdBy: z.string(),
  createdAt: z.iso.datetime(),
  isRemoved: z.boolean(),
  revision: z.int().nonnegative(),
};

/** A clip of a character. */
const ClipMotionSchema = z.strictObject({
  kind: z.literal('clip'),
  ...SHELVED,
  /** The character that the clip came with. */
  characterId: z.uuid(),
  characterName: z.string(),
  fileName: z.string(),
  clipIndex: z.int().nonnegative(),
  clipName: z.string(),
  /** What the source's rest was taken from. */
  reference: z.string(),
  /** The character whose fit counts: another file of the same skeleton may have been fitted first. */
  fitCharacterId: z.uuid(),
  fitCharacterName: z.string(),
  /** Doubtful roles of that fit. */
  doubts: z.int().nonnegative(),
});
export type ClipMotion = z.infer<typeof ClipMotionSchema>;

/** A motion of the house set with settings of the studio's own. */
export const HouseChoiceSchema = z.strictObject({
  entry: z.string().min(1).max(40),
  /** Null for an entry that takes none. */
  settings: GaitSettingsSchema.nullable(),
});
export type HouseChoice = z.infer<typeof HouseChoiceSchema>;
const HouseShelvedSchema = z.strictObject({ kind: z.literal('house'), ...SHELVED, house: HouseChoiceSchema });

/** A motion that was kept as a motion file, or came as one. */
const KeptMotionSchema = z.strictObject({ kind: z.literal('kept'), ...SHELVED, hash: z.string() });

/** A motion of the shelf, and what was chosen about it. */
export const MotionViewSchema = z
  .discriminatedUnion('kind', [ClipMotionSchema, HouseShelvedSchema, KeptMotionSchema])
  .meta({ id: 'Motion' });
export type MotionView = z.infer<typeof MotionViewSchema>;

export const MotionListSchema = z.strictObject({
  motions: z.array(MotionViewSchema),
  /** Longest motion that is taken, frames. */
  mostFrames: z.int().positive(),
});
export type MotionList = z.infer<typeof MotionListSchema>;

export const MotionParams = z.object({ motionId: z.uuid() });

/** Names the call: sent again after an answer got lost, it is recognised, and nothing is made twice. */
const callId = z.uuid().optional();

/** What is put on the shelf: clips of a character (all that move where none is named), a house motion, or a copy. */
export const ShelveBody = z.union([
  z.strictObject({ characterId: z.uuid(), clips: boundedArray(z.int().nonnegative(), 5_000, 1).optional(), callId }),
  z.strictObject({ house: HouseChoiceSchema, name: MotionNameSchema, callId }),
  z.strictObject({ copyOf: z.uuid(), callId }),
]);

/** The name of a motion file that is put on the shelf. */
export const KeptQuery = z.strictObject({ name: MotionNameSchema, callId });

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
      name: MotionNameSchema,
      framesPerSecond: z.number().min(1).max(1000).nullable(),
      travel: RootTravelSchema,
      contacts: boundedArray(ContactSchema, 20_000).nullable(),
      edits: MotionEditsSchema,
      /** Other settings of a house motion. */
      house: HouseChoiceSchema,
      reference: ReferenceSchema,
      isRemoved: z.boolean(),
    })
    .partial(),
});
export type MotionChange = z.infer<typeof MotionChangeBody>['change'];
