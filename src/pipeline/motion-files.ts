import type { MotionOut } from '@/contract/board';
import { carryMany, type CarriedCell, type Passenger } from '@/core/drill/carry-many';
import { withSoles } from '@/core/drill/carry-subject';
import { makeMotion, type MotionRecipe } from '@/core/drill/make-motion';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import { decodeGeometry } from '@/core/geometry/geometry';
import type { RootTravel } from '@/core/motion/carry-options';
import { encodeMotion } from '@/core/motion/motion-file';
import { dropMeshes } from '@/document/drop-meshes';
import { writeCarried } from './carry';
import { readGlb } from './read-files';

type MotionFormat = MotionOut['formats'][number];

/** A character with its canonical GLB, in which the clip is written. */
interface MotionFilesItem extends Passenger {
  readonly canonical: Uint8Array;
  /** Its mesh as a block; null where it has none. */
  readonly geometry: Uint8Array | null;
}

export interface MotionFilesInput {
  readonly recipe: MotionRecipe;
  readonly travel: RootTravel;
  readonly formats: readonly MotionFormat[];
  /** Whether a GLB holds the character's mesh, or its skeleton alone. */
  readonly hasMesh: boolean;
  readonly items: readonly MotionFilesItem[];
}

/** Files of one motion; `files` of a character that shares another's clip is empty. */
export interface MotionFiles {
  readonly frames: number;
  readonly framesPerSecond: number;
  readonly written: readonly {
    readonly id: string;
    readonly sharesWith: string | null;
    readonly files: Readonly<Partial<Record<MotionFormat, Uint8Array>>>;
    readonly problem: Problem | null;
  }[];
}

/**
 * Makes a motion and writes it for some characters. Without meshes, characters of one skeleton whose clips are the same
 * get one set of files.
 * @throws {YarvoError} where the motion cannot be made.
 */
export async function writeMotionFiles(input: MotionFilesInput): Promise<MotionFiles> {
  const { motion } = makeMotion(input.recipe);
  const { frameCount: frames, framesPerSecond } = motion;
  const items = input.items.map((item) => withSoles(item, item.geometry && decodeGeometry(item.geometry)));
  const leaders = input.hasMesh ? new Map<string, string>() : leadersOf(carryMany(motion, items, input.travel));
  const written: MotionFiles['written'][number][] = [];
  for (const { id, canonical, target, carrying, soles } of items) {
    const sharesWith = leaders.get(id) ?? null;
    if (sharesWith !== null) {
      written.push({ id, sharesWith, files: {}, problem: null });
      continue;
    }
    try {
      const { document } = await readGlb(canonical, id);
      if (!input.hasMesh) dropMeshes(document);
      const { glb, bvh } = await writeCarried(motion, { target, carrying, soles, document }, input.travel);
      const all = { glb, bvh: new TextEncoder().encode(bvh), yarvomotion: encodeMotion(motion) };
      const files = Object.fromEntries(input.formats.map((format) => [format, all[format]]));
      written.push({ id, sharesWith, files, problem: null });
    } catch (error) {
      written.push({ id, sharesWith, files: {}, problem: problemOf(error, motion.name) });
    }
  }
  return { frames, framesPerSecond, written };
}

/** Whose clip does for whom; a mesh is each one's own, so that nobody shares a file with one. */
const leadersOf = (cells: readonly CarriedCell[]): ReadonlyMap<string, string> =>
  new Map(cells.flatMap((cell) => (cell.ok && cell.sharesWith !== null ? [[cell.id, cell.sharesWith] as const] : [])));
