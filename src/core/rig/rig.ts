import { z } from 'zod';
import { FileFactsSchema } from './file-facts';
import { SourceFactsSchema } from './source-facts';

const Vec3Schema = z.tuple([z.number(), z.number(), z.number()]).readonly();
const QuatSchema = z.tuple([z.number(), z.number(), z.number(), z.number()]).readonly();
const Mat4Schema = z.array(z.number()).length(16).readonly();

const TransformSchema = z.strictObject({ translation: Vec3Schema, rotation: QuatSchema, scale: Vec3Schema });
export type Transform = z.infer<typeof TransformSchema>;

/**
 * One bone of a file. All spaces are the file's own (file units, file axes); nothing is normalised here.
 * `bones` lists are in parent-before-child order, so `parent < index` always holds.
 */
const BoneSchema = z.strictObject({
  index: z.int().nonnegative(),
  /** The file's own name, exactly; a stand-in (`node 12`) when the file gives none, see `isNamed`. */
  name: z.string(),
  isNamed: z.boolean(),
  /** Index of the node in the file's own node list. */
  nodeIndex: z.int().nonnegative(),
  /** Bone index of the nearest ancestor that is a bone, or -1. */
  parent: z.int().min(-1),
  /** Local rest transform relative to the node's parent in the file (bone or not). */
  rest: TransformSchema,
  /** File-space rest world matrix, all ancestors applied. */
  restWorld: Mat4Schema,
  /** File-space bind world matrix (inverse of the inverse bind matrix), null for a bone that no skin lists. */
  bindWorld: Mat4Schema.nullable(),
  isJoint: z.boolean(),
  /** Sum of the normalised skin weights over all vertices; 0 for a bone that moves nothing. */
  skinWeight: z.number().nonnegative(),
  skinVertexCount: z.int().nonnegative(),
  /** Mean file-space position of the skinned vertices, weighted; null without any. */
  skinCentre: Vec3Schema.nullable(),
});
export type Bone = z.infer<typeof BoneSchema>;

const ExtraSchema = z.strictObject({
  kind: z.enum(['camera', 'light', 'empty', 'container', 'rigid-mesh', 'static-mesh', 'further-root']),
  name: z.string(),
  nodeIndex: z.int().nonnegative(),
  /** Bone the extra hangs on, or -1. */
  parentBone: z.int().min(-1),
});
export type Extra = z.infer<typeof ExtraSchema>;

const ClipSchema = z.strictObject({
  name: z.string(),
  durationSeconds: z.number().nonnegative(),
  keyCount: z.int().nonnegative(),
  framesPerSecond: z.number().nonnegative(),
  boneCount: z.int().nonnegative(),
  /** Where its first frame lies in the file's own time. */
  startSeconds: z.number(),
});
export type Clip = z.infer<typeof ClipSchema>;

/** How far another pose in the file lies from its rest. */
const PoseComparisonSchema = z.strictObject({
  pose: z.enum(['bind', 'frame']),
  /** Clip whose first frame it is, or -1. */
  clip: z.int().min(-1),
  boneCount: z.int().nonnegative(),
  maxDegrees: z.number().nonnegative(),
  /** File units. */
  maxDistance: z.number().nonnegative(),
  worstBone: z.int().min(-1),
});
export type PoseComparison = z.infer<typeof PoseComparisonSchema>;

export const RigSchema = z.strictObject({
  /** What the file says about itself. */
  source: SourceFactsSchema,
  kind: z.enum(['character', 'skeleton', 'mesh', 'motion']),
  bones: z.array(BoneSchema),
  extras: z.array(ExtraSchema),
  clips: z.array(ClipSchema),
  poses: z.array(PoseComparisonSchema),
  /** Roles that the file itself states: role -> bone index. Evidence for the match. */
  statedRoles: z.record(z.string(), z.int().nonnegative()),
  mesh: z.strictObject({
    primitiveCount: z.int().nonnegative(),
    vertexCount: z.int().nonnegative(),
    triangleCount: z.int().nonnegative(),
    materialCount: z.int().nonnegative(),
    textureCount: z.int().nonnegative(),
    morphTargetCount: z.int().nonnegative(),
    maxInfluences: z.int().nonnegative(),
    /** File-space bounds of the mesh as it stands in the rest pose; null without a mesh. */
    bounds: z.strictObject({ min: Vec3Schema, max: Vec3Schema }).nullable(),
  }),
  skinCount: z.int().nonnegative(),
  /** What checks look at beside the bones; readings of older readers have none. */
  facts: FileFactsSchema.optional(),
  /** Things worth telling that are no errors: unnamed nodes, duplicate names, weights that had to be normalised. */
  remarks: z.array(z.string()),
});
export type Rig = z.infer<typeof RigSchema>;
