import { z } from 'zod';
import { ContactSchema } from '../motion';
import { boundedArray } from '../../schema/bounded-array';

const frame = z.int().nonnegative().max(10_000_000);
/** Frames over which one movement goes over into the other. */
const blend = z.int().nonnegative().max(10_000);

/** One step of editing a motion; frames count in what the steps before it made. */
const MotionEditSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('trim'), from: frame, to: frame }),
  /** Keeps a cycle and leads its end over into its start. */
  z.strictObject({ kind: z.literal('loop'), from: frame, to: frame, blend }),
  /** Another motion of the shelf after this one, turned and moved to go on from it. */
  z.strictObject({
    kind: z.literal('append'),
    motionId: z.string().min(1).max(60),
    blend,
    /** Joined where both stand most alike, the same feet down. */
    isMatching: z.boolean(),
  }),
  /** Stands still at a frame for some more. */
  z.strictObject({ kind: z.literal('hold'), at: frame, frames: z.int().min(1).max(100_000) }),
  z.strictObject({ kind: z.literal('mirror') }),
  z.strictObject({ kind: z.literal('reverse') }),
  /** Twice as fast takes half the frames. */
  z.strictObject({ kind: z.literal('speed'), factor: z.number().min(0.05).max(20) }),
  z.strictObject({ kind: z.literal('rate'), framesPerSecond: z.number().min(1).max(1000) }),
  /** Contacts as a person set them. */
  z.strictObject({ kind: z.literal('contacts'), contacts: boundedArray(ContactSchema, 20_000) }),
]);
export type MotionEdit = z.infer<typeof MotionEditSchema>;

/** More steps than these on one motion are a fault, not a wish. */
export const MotionEditsSchema = boundedArray(MotionEditSchema, 50);

/** Other motions that some steps need. */
export const appendedBy = (edits: readonly MotionEdit[]): string[] =>
  edits.flatMap((edit) => (edit.kind === 'append' ? [edit.motionId] : []));
