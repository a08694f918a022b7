import { z } from 'zod';
import { ProblemSchema } from '@/core/errors/yarvo-error';
import { ROOT_COMPONENTS } from '@/core/motion/carry-options';
import { boundedArray } from '@/core/schema/bounded-array';
import { JobViewSchema } from './jobs';
import { SelectionId } from './requests';

/** Id of a motion of the shelf, or "house-walk". */
const MotionKeySchema = z.string().min(1).max(60);

/** carried: as everything stands. old: something that it hangs on changed since. */
const CELL_STATES = ['carried', 'old', 'failed'] as const;

/** What the drill found in a cell: how many flags, and the worst of them. */
const DrilledSchema = z.strictObject({
  count: z.int().nonnegative(),
  /** Of the worst; 0 without a flag. */
  harm: z.number().nonnegative(),
  worst: z.array(
    z.strictObject({ measure: z.string(), frame: z.int().nonnegative(), sentence: z.string(), harm: z.number() }),
  ),
});
export type Drilled = z.infer<typeof DrilledSchema>;

const CellSchema = z.strictObject({
  characterId: z.uuid(),
  motionKey: z.string(),
  state: z.enum(CELL_STATES),
  frames: z.int().nonnegative(),
  framesPerSecond: z.number().nonnegative(),
  /** The character of the same skeleton whose clip does for this one; null where it has its own. */
  sharesWith: z.uuid().nullable(),
  /** How far its own clip is from that one's, degrees; null for the first of its skeleton. */
  differsDeg: z.number().nullable(),
  /** Null where it failed, or was carried before cells were drilled. */
  drilled: DrilledSchema.nullable(),
  problem: ProblemSchema.nullable(),
  author: z.string(),
  at: z.iso.datetime(),
});
export type BoardCell = z.infer<typeof CellSchema>;

/** Characters and motions, and what carrying came to where it was tried. */
export const BoardSchema = z
  .strictObject({
    characters: z.array(z.strictObject({ id: z.uuid(), name: z.string(), canCarry: z.boolean() })),
    motions: z.array(z.strictObject({ key: z.string(), name: z.string(), isHouse: z.boolean() })),
    cells: z.array(CellSchema),
    /** Carrying and writing that is under way. */
    jobs: z.array(JobViewSchema),
    /** Rows that there are, of which `characters` is one page; how many of them motions can be carried to. */
    total: z.int().nonnegative(),
    able: z.int().nonnegative(),
    page: z.int().positive(),
    size: z.int().positive(),
    /** Cells of all rows. */
    counts: z.strictObject({
      flagged: z.int().nonnegative(),
      failed: z.int().nonnegative(),
      old: z.int().nonnegative(),
    }),
  })
  .meta({ id: 'Board' });
export type Board = z.infer<typeof BoardSchema>;

export const BOARD_ORDERS = ['name', 'harm'] as const;
export const BOARD_FILTERS = ['all', 'flagged', 'failed', 'old'] as const;
/** Most rows that are read at once, and how many where nobody says. */
const BOARD_SIZES = { usual: 100, most: 200 } as const;

export const BoardQuery = z.strictObject({
  /** Ids of characters, joined by commas; for many, `selection`. All humanoids where both are left out. */
  characters: z
    .string()
    .max(8_000)
    .transform((text): unknown[] => text.split(','))
    .pipe(boundedArray(z.uuid(), 200, 1))
    .optional(),
  /** Id of a kept selection. */
  selection: SelectionId.optional(),
  /** Of the rows: from 1. */
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  size: z.coerce.number().int().min(1).max(BOARD_SIZES.most).default(BOARD_SIZES.usual),
  order: z.enum(BOARD_ORDERS).default('name'),
  /** Only rows that have such a cell. */
  filter: z.enum(BOARD_FILTERS).default('all'),
});
export type BoardQuery = z.infer<typeof BoardQuery>;

/** Names the job: asked for again after an answer got lost, it is made once. */
const jobId = z.uuid().optional();

const Selection = {
  characterIds: boundedArray(z.uuid(), 500, 1).optional(),
  /** Id of a kept selection; all characters of the board where neither this nor ids are named. */
  selection: SelectionId.optional(),
  motionKeys: boundedArray(MotionKeySchema, 500, 1),
  jobId,
};

export const CarryManyBody = z.strictObject(Selection);

const MOTION_FILE_FORMATS = ['glb', 'bvh', 'yarvomotion'] as const;

/** How motions are written out. */
export const MotionOutBody = z.strictObject({
  ...Selection,
  formats: boundedArray(z.enum(MOTION_FILE_FORMATS), 3, 1),
  /** Whether a GLB holds the character's mesh, or its skeleton alone. */
  hasMesh: z.boolean(),
  /** Path of each file in the zip: {character}, {motion}, {version}; folders by "/". */
  template: z.string().trim().min(1).max(200),
  /** Frames a second; null for each motion's own. */
  framesPerSecond: z.number().min(1).max(1000).nullable(),
  /** What of the hips' travel goes to the root; null for what is chosen for each motion. */
  root: z.array(z.enum(ROOT_COMPONENTS)).max(3).nullable(),
});
export type MotionOut = z.infer<typeof MotionOutBody>;

/** What the zip says of itself; documented in docs/formats.md. */
export const MotionManifestSchema = z.strictObject({
  schema: z.literal('yarvo-motions-1'),
  createdAt: z.iso.datetime(),
  writtenBy: z.string(),
  files: z.array(
    z.strictObject({
      path: z.string(),
      character: z.string(),
      motion: z.string(),
      frames: z.int().positive(),
      framesPerSecond: z.number().positive(),
      root: z.array(z.enum(ROOT_COMPONENTS)),
      /** Characters of the same skeleton that this clip was found to do for as well. */
      alsoFor: z.array(z.string()),
    }),
  ),
  failed: z.array(z.strictObject({ character: z.string(), motion: z.string(), problem: ProblemSchema })),
});
export type MotionManifest = z.infer<typeof MotionManifestSchema>;

/** Result of a job that wrote motions out. */
export interface WrittenOut {
  readonly id: string;
  readonly fileName: string;
  readonly files: number;
  readonly failed: number;
}

/** Result of a job that carried motions. */
export interface CarriedBoard {
  readonly cells: number;
  readonly failed: number;
  /** Characters and motions that were deleted before it came to them, by name. */
  readonly gone: readonly string[];
}

export const OutParams = z.object({ outId: z.uuid() });
