import { z } from 'zod';
import { boundedArray } from '../schema/bounded-array';

/** A part of the body that touches something. */
export const CONTACT_PARTS = ['leftFoot', 'rightFoot', 'leftHand', 'rightHand'] as const;
export type ContactPart = (typeof CONTACT_PARTS)[number];

export const ContactSchema = z.strictObject({
  part: z.enum(CONTACT_PARTS),
  /** First and last frame of the span. */
  from: z.int().nonnegative(),
  to: z.int().nonnegative(),
  /** The floor there above that of the reference posture, as a stair's; legs of the source. 0 where it is left out. */
  height: z.number().min(-10).max(10).optional(),
});
export type Contact = z.infer<typeof ContactSchema>;

const SlotSchema = z.strictObject({
  line: z.string(),
  /** Role anchored here; null for a member of the run between two roles. */
  role: z.string().nullable(),
  /** Place along the line: distance to the joint over the distance to the line's last joint, from the joint it starts at. */
  u: z.number().min(0).max(1),
});
/** A joint of the source that takes part in a motion: a role, or a member of a run. */
export type Slot = z.infer<typeof SlotSchema>;

/** What a motion says of itself in plain data. */
export const MotionHeadSchema = z.strictObject({
  name: z.string(),
  /** Roles and reference pose that it is told against. */
  definition: z.strictObject({ id: z.string(), version: z.int().positive() }),
  framesPerSecond: z.number().min(0.01).max(10_000),
  frameCount: z.int().positive().max(10_000_000),
  slots: boundedArray(SlotSchema, 4_000),
  /** Leg of the source, thigh joint to ankle along the bones; all lengths of the motion are counted in it. */
  legMetres: z.number().positive().max(1e6),
  /** Length from the joint of the role above to the role's own, in legs of the source. */
  limbs: z.record(z.string(), z.number().nonnegative()),
  contacts: boundedArray(ContactSchema, 20_000),
});
type MotionHead = z.infer<typeof MotionHeadSchema>;

/** Joint of a role that moves against the role above it, as sliding joints do. */
export interface Shift {
  readonly role: string;
  /** [frameCount x 3] from its reference place, in the frame of the role above in the reference posture; legs. */
  readonly values: Float32Array;
}

/** A bone of the source that stands for no role, or moves in other ways than roles do: for characters of the same skeleton. */
export interface OwnBone {
  /** Names from the top: "/hips/skirt". */
  readonly path: string;
  /** Local transforms, file units; [frameCount x 4], or x 3. Null where the clip does not key them. */
  readonly rotations: Float32Array | null;
  readonly translations: Float32Array | null;
  readonly scales: Float32Array | null;
}

/**
 * A motion in role space, free of any rig. Body frame: x left, y up, z ahead. Arrays are frame-major.
 *
 * For every frame and slot the rotation that takes the source's reference posture to the frame, D = S S0^-1.
 */
export interface Motion extends MotionHead {
  /** [frameCount x slotCount x 4], x y z w, signs continuous over frames. */
  readonly rotations: Float32Array;
  /** [frameCount x 3] displacement of the hips from the reference; legs. */
  readonly hips: Float32Array;
  /** What the source's own root does; null for a root that stands still, or none. */
  readonly root: {
    /** [frameCount x 3] from where it stands in the reference; legs. */
    readonly places: Float32Array;
    /** [frameCount x 4] D of the root. */
    readonly rotations: Float32Array;
  } | null;
  readonly shifts: readonly Shift[];
  readonly morphs: readonly { readonly name: string; readonly weights: Float32Array }[];
  /** What a character of the very same skeleton takes over; null where the source is not known any more. */
  readonly own: {
    /** Names the skeleton (`skeletonSignature`). */
    readonly signature: string;
    readonly bones: readonly OwnBone[];
    /** How much higher the source's clip stands than its reference posture, metres; taken off `hips`. */
    readonly groundMetres: number;
    readonly morphs: readonly { readonly nodeIndex: number; readonly count: number; readonly weights: Float32Array }[];
  } | null;
}

/** The contact that a part of the body has at a moment, in frames; null where it has none. */
export const contactAt = (contacts: readonly Contact[], part: ContactPart, frame: number): Contact | null =>
  contacts.find((contact) => contact.part === part && frame >= contact.from && frame <= contact.to) ?? null;

/** Slots of the motion on a line, in order. */
export const slotsOfLine = (slots: readonly Slot[], line: string): number[] =>
  slots.flatMap((slot, index) => (slot.line === line ? [index] : []));

/** Slot of a role; -1 where the motion has none. */
export const slotOfRole = (slots: readonly Slot[], role: string): number =>
  slots.findIndex((slot) => slot.role === role);
