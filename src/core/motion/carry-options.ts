import { z } from 'zod';
import { TURN_AXES } from '../posture/turn-roles';
import { LayerSchema, layersOn } from './layer';

/**
 * What a joint's own movement against the role above does: keep: the character's own length stays. ratio: the source's
 * movement by the ratio of the two limbs. copy: the source's movement in metres.
 */
export const SHIFT_POLICIES = ['keep', 'ratio', 'copy'] as const;
const ShiftPolicySchema = z.enum(SHIFT_POLICIES);
export type ShiftPolicy = z.infer<typeof ShiftPolicySchema>;

/** Ratio by which the hips travel: of the legs, or as many metres as the source. */
const TRAVEL_RATIOS = ['legs', 'metres'] as const;
const TravelRatioSchema = z.enum(TRAVEL_RATIOS);

/** A constant turn of one role on top of what is carried. */
const OffsetLayerSchema = z.strictObject({
  id: z.string().min(1).max(40),
  role: z.string().min(1).max(60),
  about: z.enum(TURN_AXES),
  degrees: z.number().min(-180).max(180),
  isOn: z.boolean(),
});
export type OffsetLayer = z.infer<typeof OffsetLayerSchema>;

/** A morph target that follows the bend of a joint, as a muscle or a fold of cloth does. Documented in docs/formats.md. */
export const CorrectiveSchema = z.strictObject({
  id: z.string().min(1).max(40),
  role: z.string().min(1).max(60),
  about: z.enum(TURN_AXES),
  /** Turn of the role against what it hangs on, from the reference pose, degrees: where the morph starts and is whole. */
  fromDeg: z.number().min(-180).max(180),
  toDeg: z.number().min(-180).max(180),
  morph: z.string().min(1).max(200),
  /** Weight at `toDeg` and beyond. */
  weight: z.number().min(0).max(1),
  isOn: z.boolean(),
});
export type Corrective = z.infer<typeof CorrectiveSchema>;

/**
 * How feet, and hands that bear, stand. leave: by rotations alone. likeness: the same where the limbs are like the source's,
 * otherwise as they stand in the source. plant: where they bear they stay where they are.
 */
export const GROUNDINGS = ['leave', 'likeness', 'plant'] as const;
const GroundingSchema = z.enum(GROUNDINGS);
export type Grounding = z.infer<typeof GroundingSchema>;

const CARRYING_FIELDS = {
  /** What all roles do that are not named below. */
  shifts: ShiftPolicySchema,
  roleShifts: z.record(z.string(), ShiftPolicySchema),
  hipsVertical: TravelRatioSchema,
  hipsHorizontal: TravelRatioSchema,
  grounding: GroundingSchema,
  /** Points of the feet that bear, where a person moved them: "left heel" -> from the bone's joint, in its axes, metres. */
  contactPoints: z.record(z.string().max(20), z.tuple([z.number(), z.number(), z.number()]).readonly()),
  /** What a game moves the character by, metres; null for as large as its body. */
  capsule: z.strictObject({ radius: z.number().min(0.01).max(50), height: z.number().min(0.02).max(200) }).nullable(),
  /** Whether twist bones turn along with the segment they lie on. */
  hasTwist: z.boolean(),
  /** Share along its segment of a twist bone, by bone; others as they lie. */
  twistShares: z.record(z.string(), z.number().min(0).max(1)),
  offsets: z.array(OffsetLayerSchema).max(200),
  /** On top of motion, in order. */
  layers: z.array(LayerSchema).max(200),
  correctives: z.array(CorrectiveSchema).max(200),
};

/** How motions are carried to one character. Fits from before a field was there have what was done then. */
export const CarryingSchema = z.strictObject({
  ...CARRYING_FIELDS,
  grounding: GroundingSchema.default('leave'),
  contactPoints: CARRYING_FIELDS.contactPoints.default({}),
  capsule: CARRYING_FIELDS.capsule.default(null),
  layers: CARRYING_FIELDS.layers.default([]),
  correctives: CARRYING_FIELDS.correctives.default([]),
});
export type Carrying = z.infer<typeof CarryingSchema>;

/** Some of it changed; what is left out stays, so nothing has a default. */
export const CarryingChangeSchema = z.strictObject(CARRYING_FIELDS).partial();

export const CARRYING: Carrying = {
  shifts: 'keep',
  roleShifts: {},
  hipsVertical: 'legs',
  hipsHorizontal: 'legs',
  grounding: 'leave',
  contactPoints: {},
  capsule: null,
  hasTwist: true,
  twistShares: {},
  offsets: [],
  layers: [],
  correctives: [],
};

/** What counts when one motion is carried: of the layers those that are on and lie on it. @param key null for none. */
export const forMotion = (carrying: Carrying, key: string | null): Carrying => ({
  ...carrying,
  layers: layersOn(carrying.layers, key),
});

/** Starting points by kind of body; whatever they set can be changed role by role. */
export const CARRYING_PRESETS: readonly {
  readonly id: string;
  readonly label: string;
  readonly note: string;
  readonly sets: Pick<Carrying, 'shifts' | 'roleShifts' | 'hipsVertical' | 'hipsHorizontal'>;
}[] = [
  {
    id: 'person',
    label: 'Person',
    note: 'Joints keep their own lengths; strides by the legs.',
    sets: { shifts: 'keep', roleShifts: {}, hipsVertical: 'legs', hipsHorizontal: 'legs' },
  },
  {
    id: 'in-step',
    label: 'Small or tall, in step with the others',
    note: 'As a person, but travels as many metres as the source.',
    sets: { shifts: 'keep', roleShifts: {}, hipsVertical: 'legs', hipsHorizontal: 'metres' },
  },
  {
    id: 'sliding',
    label: 'Machine with sliding joints',
    note: 'Joints that slide in the source slide here, by the ratio of the limbs.',
    sets: { shifts: 'ratio', roleShifts: {}, hipsVertical: 'legs', hipsHorizontal: 'legs' },
  },
  {
    id: 'loose-shoulders',
    label: 'Loose shoulders',
    note: 'Collars and upper arms move as far as in the source, by the ratio of the limbs.',
    sets: {
      shifts: 'keep',
      roleShifts: { leftShoulder: 'ratio', rightShoulder: 'ratio', leftUpperArm: 'ratio', rightUpperArm: 'ratio' },
      hipsVertical: 'legs',
      hipsHorizontal: 'legs',
    },
  },
];

export const ROOT_COMPONENTS = ['horizontal', 'vertical', 'turn'] as const;
export type RootComponent = (typeof ROOT_COMPONENTS)[number];

/** What of the hips' travel the root takes over; chosen for each motion. */
export const RootTravelSchema = z.strictObject({
  components: z.array(z.enum(ROOT_COMPONENTS)).max(3),
  /** Cut-off of the low-pass that smooths the root's path, Hz; null for as it is. */
  cutoffHz: z.number().min(0.1).max(60).nullable(),
  /** What else hangs on the root: follows it, or stays where it is. */
  others: z.enum(['follow', 'stay']),
});
export type RootTravel = z.infer<typeof RootTravelSchema>;

export const NO_ROOT_TRAVEL: RootTravel = { components: [], cutoffHz: null, others: 'follow' };
