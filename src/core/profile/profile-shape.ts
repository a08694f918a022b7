import { z } from 'zod';
import { AXIS_NAMES } from '../frame/normalise';
import { DrillLimitsSchema } from './drill-limits';

const Name = z.string().trim().min(1).max(200);
const Limit = z.int().positive().nullable().default(null);

/** Where a bone that the engine wants is put: at a role, on the floor under one, or midway between two. */
const PlaceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('at'), role: Name }),
  z.strictObject({ kind: z.literal('floor'), role: Name }),
  z.strictObject({ kind: z.literal('midway'), role: Name, other: Name }),
]);

/** A bone that the engine wants beside the figure's own. */
const HelperSchema = z.strictObject({
  name: Name,
  /** A role, or "root". */
  parent: Name,
  place: PlaceSchema,
});
export type Helper = z.infer<typeof HelperSchema>;

const AxesSchema = z.strictObject({
  /** Axis of a bone that points along it, to the next joint. */
  along: z.enum(AXIS_NAMES),
  /** Axis of a bone that its hinge turns about: elbow and knee, knuckles; the same for the bones between. */
  hinge: z.enum(AXIS_NAMES),
  /** Whether the right side's axes are the left side's seen in a mirror, so that equal turns give mirrored poses. */
  isMirrored: z.boolean(),
});
export type BoneAxes = z.infer<typeof AxesSchema>;

/** Nothing that is measured of a figure is larger. */
const MOST = 1e6;
const RangeSchema = z.strictObject({ least: z.number().min(-MOST).max(MOST), most: z.number().min(-MOST).max(MOST) });

const NamesSchema = z.strictObject({
  /** Regular expression that is found in every name that may stay, and the same in words. One that cannot be run is a fault. */
  allowed: z.string(),
  allowedInWords: z.string(),
  maxLength: z.int().positive(),
  letters: z.enum(['any', 'lower', 'upper']).default('any'),
  reserved: z.array(Name).max(500).default([]),
  /** Every name must start so; empty for none. */
  prefix: z.string().max(40).default(''),
});

/** A skeleton that the studio ships: bones by name, each as it stands against its parent; metres, quaternions x, y, z, w. */
export const SkeletonSchema = z.strictObject({
  label: Name,
  bones: z
    .array(
      z.strictObject({
        name: Name,
        /** Null for a top bone. */
        parent: Name.nullable(),
        translation: z.tuple([z.number(), z.number(), z.number()]).readonly(),
        rotation: z.tuple([z.number(), z.number(), z.number(), z.number()]).readonly(),
        /** Role that the bone stands for; null for none, or the one whose name in the definition it has. */
        role: Name.nullable().default(null),
      }),
    )
    .min(1)
    .max(2_000),
});
export type ShippedSkeleton = z.infer<typeof SkeletonSchema>;

const LimitsSchema = z.strictObject({
  bonesPerSkeleton: Limit,
  bonesPerDraw: Limit,
  influences: Limit,
  /** How far the weights of a vertex may be from 1 in sum. */
  weightSum: z.number().positive().default(0.01),
  /** Weights below this are not taken; 0 for any. */
  leastWeight: z.number().nonnegative().max(0.5).default(0),
  verticesPerMesh: Limit,
  trianglesPerMesh: Limit,
  materials: Limit,
  textureSize: Limit,
  morphTargets: Limit,
});

const NO_LIMITS = LimitsSchema.parse({});

/** The fields of an engine profile, each by itself. */
export const EngineProfileShape = z.strictObject({
  id: z.string().regex(/^[a-z0-9][a-z0-9-]{0,39}$/, 'must be lower-case letters, digits and hyphens'),
  label: Name,
  version: z.int().positive(),

  /** The engine's space after its import of the file. */
  up: z.enum(AXIS_NAMES),
  facing: z.enum(AXIS_NAMES),
  handedness: z.enum(['right', 'left']).default('right'),
  metresPerUnit: z.number().min(1e-5).max(1e5),

  /** The file that is handed off. */
  formats: z
    .array(z.enum(['glb', 'vrm', 'fbx', 'collada']))
    .min(1)
    .default(['glb']),
  /** Which pose of the file the engine takes for the reference. */
  reads: z.enum(['bind', 'rest']).default('bind'),
  /** Whether nodes that are neither bone nor mesh may stay. */
  extraNodes: z.boolean().default(true),
  cameras: z.boolean().default(true),
  lights: z.boolean().default(true),
  /** Whether a mesh may stand in the file that no bone moves. */
  staticMeshes: z.boolean().default(true),
  /** Whether digits, head and toes must end in a bone, so that the last segment has a length; left out: they need not. */
  endBones: z.boolean().optional(),

  rootBone: z.enum(['required', 'optional', 'forbidden']),
  /** Null for the definition's. */
  rootName: Name.nullable().default(null),
  /** How far the root may stand from the floor origin, metres, and be turned there, degrees. */
  rootOffsetMetres: z.number().nonnegative().max(1e5),
  rootTurnDegrees: z.number().nonnegative().max(180).default(180),
  helpers: z.array(HelperSchema).max(200).default([]),
  attachments: z.array(HelperSchema).max(200).default([]),
  /** Null where any will do. */
  axes: AxesSchema.nullable().default(null),

  /** What a character's skeleton is held against; null for none. */
  skeleton: SkeletonSchema.nullable().default(null),

  names: NamesSchema,
  limits: LimitsSchema.default(NO_LIMITS),
  /** Scales within 1 ± this pass. */
  boneScaleTolerance: z.number().positive().max(1e5),
  textures: z
    .strictObject({ isPowerOfTwo: z.boolean().default(false), types: z.array(Name).max(50).nullable().default(null) })
    .default({ isPowerOfTwo: false, types: null }),
  materials: z
    .strictObject({
      doubleSided: z.boolean().default(true),
      extensions: z.array(Name).max(200).nullable().default(null),
    })
    .default({ doubleSided: true, extensions: null }),

  /** Roles beyond those that the definition requires. */
  requiredRoles: z.array(Name).max(200).default([]),
  /** Widest deviation from the reference pose, degrees; null for the definition's own tolerances. */
  poseDegrees: z.number().positive().nullable().default(null),
  clips: z
    .strictObject({
      framesPerSecond: z.number().min(0.01).max(10_000).nullable().default(null),
      seconds: RangeSchema.nullable().default(null),
      /** Where travel belongs: in the root, in the hips, or nowhere. */
      travel: z.enum(['root', 'hips', 'none']).nullable().default(null),
    })
    .default({ framesPerSecond: null, seconds: null, travel: null }),
  heightMetres: RangeSchema.nullable().default(null),
  /** Arms' span and legs' length, of the height. */
  ratios: z
    .strictObject({ span: RangeSchema.nullable().default(null), legs: RangeSchema.nullable().default(null) })
    .default({ span: null, legs: null }),
  levels: z.strictObject({ sameSkeleton: z.boolean(), fallingCounts: z.boolean() }).nullable().default(null),
  /** Morph targets that the engine drives. */
  morphs: z.array(Name).max(500).default([]),
  /** Terms that a licence may name; null for any. */
  licences: z.array(Name).max(200).nullable().default(null),
  /** Checks whose findings count for more or less than usual; "off" for those that do not count at all. */
  severities: z.record(z.string(), z.enum(['blocker', 'caution', 'note', 'off'])).default({}),
  /** Left out: the usual ones. */
  drill: DrillLimitsSchema.optional(),
});

export type EngineProfile = z.infer<typeof EngineProfileShape>;
