import { z } from 'zod';

/** Role ids are built from these, as in the open VRM 1.0 humanoid. Source: VRMC_vrm-1.0, humanoid. */
export const SIDES = ['left', 'right'] as const;
export type Side = (typeof SIDES)[number];
export const LEG_PARTS = ['UpperLeg', 'LowerLeg', 'Foot', 'Toes'] as const;
export const ARM_PARTS = ['Shoulder', 'UpperArm', 'LowerArm', 'Hand'] as const;
export const DIGITS = ['Thumb', 'Index', 'Middle', 'Ring', 'Little'] as const;
export type Digit = (typeof DIGITS)[number];
const THUMB_SEGMENTS = ['Metacarpal', 'Proximal', 'Distal'] as const;
export const FINGER_SEGMENTS = ['Proximal', 'Intermediate', 'Distal'] as const;

export const segmentsOf = (digit: Digit): readonly string[] => (digit === 'Thumb' ? THUMB_SEGMENTS : FINGER_SEGMENTS);
export const digitRoles = (side: Side, digit: Digit): string[] =>
  segmentsOf(digit).map((segment) => `${side}${digit}${segment}`);

const Direction = z.tuple([z.number(), z.number(), z.number()]).readonly();

const RoleSchema = z.strictObject({
  id: z.string(),
  /** Plain anatomy, as people read it: "Left forearm". */
  label: z.string(),
  required: z.boolean(),
  /** The role above, or null for the hips. */
  parent: z.string().nullable(),
  side: z.enum(['left', 'right', 'centre']),
  /** The same role on the other side; null where there is none. */
  mirror: z.string().nullable(),
  line: z.string(),
  /** Name of the bone in exports. */
  exportName: z.string(),
  /** Reference direction of the segment in the body frame (x left, y up, z forward), unit; null: none stated. */
  direction: Direction.nullable(),
  /** Reference hinge axis in the body frame, unit; used where a straight limb does not show its own. */
  hinge: Direction.nullable(),
  /** align: turn the segment onto the reference. yaw: turn about the up axis only. leave: measure, never turn. */
  alignment: z.enum(['align', 'yaw', 'leave']),
  /** Largest deviation from the reference that passes, radians. */
  toleranceRad: z.number().positive(),
});
export type Role = z.infer<typeof RoleSchema>;

const LineSchema = z.strictObject({
  id: z.string(),
  label: z.string(),
  side: z.enum(['left', 'right', 'centre']),
  roles: z.array(z.string()).min(1),
  /** Most bones a run on this line may have, members between the roles included. */
  maxBones: z.int().positive(),
});
export type Line = z.infer<typeof LineSchema>;

export const DefinitionSchema = z.strictObject({
  id: z.string(),
  label: z.string(),
  version: z.int().positive(),
  root: z.strictObject({ exportName: z.string(), required: z.boolean() }),
  pose: z.enum(['T', 'A']),
  /** How far straight elbows and knees are bent where that is wanted, so that an engine sees which way they fold. */
  smallBend: z
    .strictObject({ elbowRad: z.number().nonnegative(), kneeRad: z.number().nonnegative() })
    .default({ elbowRad: 0, kneeRad: 0 }),
  roles: z.array(RoleSchema),
  lines: z.array(LineSchema),
});
export type Definition = z.infer<typeof DefinitionSchema>;

/** The role of that id. @throws {RangeError} for an id the definition does not have. */
export function roleOf(definition: Definition, id: string): Role {
  const role = definition.roles.find((candidate) => candidate.id === id);
  if (!role) throw new RangeError(`roleOf: ${definition.id} has no role "${id}"`);
  return role;
}

/** The same role on the other side, or the role itself where it has no mirror image. */
export const mirrorRole = (definition: Definition, id: string): string =>
  definition.roles.find((role) => role.id === id)?.mirror ?? id;

/** Side of a role; null on the centre line, and for a role the definition does not have. */
export function sideOfRole(definition: Definition, id: string): Side | null {
  const side = definition.roles.find((role) => role.id === id)?.side;
  return side === undefined || side === 'centre' ? null : side;
}

/** Line of a role; null for a role the definition does not have. */
export const lineOfRole = (definition: Definition, id: string): string | null =>
  definition.roles.find((role) => role.id === id)?.line ?? null;
