import { z } from 'zod';

const Count = z.int().nonnegative();
const Name = z.string();

/** One primitive where a node shows it. */
const PartFactsSchema = z.strictObject({
  /** Of the mesh's node, as people see it. */
  name: Name,
  nodeIndex: Count,
  /** Index into `materials`, or -1. */
  material: z.int().min(-1),
  /** Index into `skins`, or -1 for a part that moves as a whole. */
  skin: z.int().min(-1),
  vertices: Count,
  triangles: Count,
  /** Most bones that move one vertex. */
  influences: Count,
  /** Bones that move any of its vertices. */
  bones: Count,
  /** Vertices that no bone moves, and those whose weights do not add up to 1. */
  unweighted: Count,
  unnormalised: Count,
  /** The sum that is furthest from 1, as the file has it. */
  worstSum: z.number(),
  /** Least weight above 0; 0 without any. */
  leastWeight: z.number().nonnegative(),
  /** Vertices with a place that is no finite number. */
  infinite: Count,
  morphs: z.array(
    z.strictObject({
      name: Name,
      /** Furthest that it moves a vertex, file units. */
      reach: z.number().nonnegative(),
    }),
  ),
});

const SkinFactsSchema = z.strictObject({
  name: Name,
  /** Bone of each joint, -1 for one that is no bone. */
  bones: z.array(z.int().min(-1)),
  /** Inverse bind matrices that the file has for it; null where it has none. */
  matrices: Count.nullable(),
  /** Bones whose inverse bind matrix cannot be inverted or is not finite. */
  degenerate: z.array(Count),
  /** Whether a joint stands before its parent in the list. */
  isUnordered: z.boolean(),
});

const ClipFactsSchema = z.strictObject({
  name: Name,
  /** Channels, and those of them that drive no bone and no morph target. */
  channels: Count,
  foreign: Count,
  /** Bones whose keys are not in the order of time. */
  unordered: z.array(Count),
  /** Bones whose keys hold them where the rest pose has them, all along. */
  resting: z.array(Count),
  /** Bones whose keyed place moves, and how far between its ends, file units of what they hang on. */
  travels: z.array(z.strictObject({ bone: Count, reach: z.number().nonnegative() })),
  /** First key, seconds. */
  startSeconds: z.number(),
  /** Bones whose keyed rotations or scales are no such thing: zero length, not finite. */
  broken: z.array(Count),
});

const MaterialFactsSchema = z.strictObject({
  name: Name,
  isDoubleSided: z.boolean(),
  isTransparent: z.boolean(),
  extensions: z.array(Name),
});

const ImageFactsSchema = z.strictObject({
  name: Name,
  mimeType: z.string(),
  width: Count,
  height: Count,
  bytes: Count,
});

/** How many vertices a bone moves that lie beyond the middle of the skeleton, along each axis of the file: [below, above]. */
const SidesSchema = z
  .array(z.tuple([Count, Count]).readonly())
  .length(3)
  .readonly();

const Place = z.tuple([z.number(), z.number(), z.number()]);

/** Where the mesh goes over from one bone to another: one place, in the space of each of them, and how many edges cross. */
const SeamSchema = z.strictObject({
  bones: z.tuple([Count, Count]),
  places: z.tuple([Place, Place]),
  edges: Count,
});

/** What checks need to know of a file beside its bones. */
export const FileFactsSchema = z.strictObject({
  parts: z.array(PartFactsSchema),
  skins: z.array(SkinFactsSchema),
  clips: z.array(ClipFactsSchema),
  materials: z.array(MaterialFactsSchema),
  images: z.array(ImageFactsSchema),
  /** Middle of the skeleton along each axis, and how near to it counts as both sides; file units. */
  middle: z.strictObject({ at: z.array(z.number()).length(3), slack: z.number().nonnegative() }),
  /** By bone; null for a bone that moves nothing. */
  sides: z.array(SidesSchema.nullable()),
  /** Between bones that move neighbouring vertices. */
  seams: z.array(SeamSchema).default([]),
  /** Top nodes of the scene that hold neither bone nor mesh. */
  strayRoots: z.array(Name),
  /** Nodes that are shown in no scene. */
  unseen: z.array(Name),
});
export type FileFacts = z.infer<typeof FileFactsSchema>;
export type PartFacts = z.infer<typeof PartFactsSchema>;
export type ClipFacts = z.infer<typeof ClipFactsSchema>;
