import { z } from 'zod';
import { boundedArray } from '../schema/bounded-array';

const NodeIndex = z.int().nonnegative();
const Pair = z.strictObject({ from: NodeIndex, to: NodeIndex });

/**
 * What is mended of a file's meshes, skins, clips and pictures. Carried out in one fixed order, whatever the order of
 * choosing; doing it twice changes nothing more. Node indices of the file as read.
 */
export const MendingSchema = z.strictObject({
  /** Triangles of vertices without a finite place are dropped. */
  dropsVertices: z.boolean(),
  /** Vertices without weight get those of the nearest one that has some. */
  bindsLoose: z.boolean(),
  /** Whole weights that go to another bone: from the root to the hips. */
  moves: boundedArray(Pair, 50),
  /** Weights on the wrong side of the body's middle go to the bone that mirrors it; file units. */
  strays: z
    .strictObject({
      pairs: boundedArray(Pair, 2_000),
      axis: z.int().min(0).max(2),
      middle: z.number(),
      slack: z.number().nonnegative(),
      /** 1 where the bones' own side lies above the middle, by pair. */
      signs: boundedArray(z.union([z.literal(1), z.literal(-1)]), 2_000),
    })
    .nullable(),
  /** Weights below this are dropped. */
  leastWeight: z.number().positive().max(0.5).nullable(),
  influences: z.int().min(1).max(64).nullable(),
  normalises: z.boolean(),
  /** Parts that no bone moves hang on the nearest one. */
  hangsParts: z.boolean().default(false),
  /** Bones that get one more at the far end of the skin that they carry. */
  ends: boundedArray(NodeIndex, 200).default([]),
  /** Joints lose their scales, and the mesh keeps its shape. */
  appliesScale: z.boolean().default(false),
  mendsBinds: z.boolean(),
  mergesSkins: z.boolean(),
  /** Most that one draw may have. */
  split: z
    .strictObject({
      bones: z.int().min(3).nullable(),
      vertices: z.int().min(3).nullable(),
      triangles: z.int().min(1).nullable(),
    })
    .nullable(),
  /** Morph targets that move no vertex further, file units, are dropped. */
  leastMorph: z.number().nonnegative().nullable(),
  sortsKeys: z.boolean(),
  clipRate: z.number().positive().max(1000).nullable(),
  textures: z.strictObject({ largest: z.int().min(1).nullable(), isPowerOfTwo: z.boolean() }).nullable(),
  singleSided: z.boolean(),
});
export type Mending = z.infer<typeof MendingSchema>;

export const NO_MENDING: Mending = {
  dropsVertices: false,
  bindsLoose: false,
  moves: [],
  strays: null,
  leastWeight: null,
  influences: null,
  normalises: false,
  hangsParts: false,
  ends: [],
  appliesScale: false,
  mendsBinds: false,
  mergesSkins: false,
  split: null,
  leastMorph: null,
  sortsKeys: false,
  clipRate: null,
  textures: null,
  singleSided: false,
};

const TEXT: Readonly<Record<keyof Mending, string>> = {
  dropsVertices: 'vertices without a place dropped',
  bindsLoose: 'loose vertices bound',
  moves: 'weights of the root moved to the hips or the bones nearby',
  strays: 'weights moved to their own side',
  leastWeight: 'small weights pruned',
  influences: 'influences reduced',
  normalises: 'weights normalised',
  hangsParts: 'unbound parts hung on bones',
  ends: 'end bones added',
  appliesScale: 'scales applied to mesh and joints',
  mendsBinds: 'bind matrices mended',
  mergesSkins: 'skins merged',
  split: 'parts split',
  leastMorph: 'morph targets that move nothing dropped',
  sortsKeys: 'keys sorted',
  clipRate: 'clips resampled',
  textures: 'textures resized',
  singleSided: 'materials drawn from one side',
};

/** What changed, for the history a person reads. */
export const describeMending = (before: Mending, after: Mending): string =>
  (Object.keys(TEXT) as (keyof Mending)[])
    .filter((key) => JSON.stringify(before[key]) !== JSON.stringify(after[key]))
    .map((key) => (isUnset(after[key]) ? `${TEXT[key]} taken back` : TEXT[key]))
    .join(', ');

const isUnset = (value: Mending[keyof Mending]): boolean =>
  value === null || value === false || (Array.isArray(value) && value.length === 0);
