import { carrySubject, withSoles } from '@/core/drill/carry-subject';
import { makeMotion, type MotionRecipe } from '@/core/drill/make-motion';
import { YarvoError } from '@/core/errors/yarvo-error';
import { forMotion, type RootTravel } from '@/core/motion/carry-options';
import { addsRoot, handoffLift, type HandoffPlan } from '@/core/plan/handoff-plan';
import { slugOf } from '@/core/text/slug';
import { dropMeshes } from '@/document/drop-meshes';
import { readGeometry } from '@/document/read-geometry';
import { writeCarried } from './carry';
import { readGlb } from './read-files';
import { restated } from './restate-skeleton';

/** A motion that goes into a pack. */
export interface PackMotion {
  /** Its id on the shelf, or "house-walk": layers are chosen by it. */
  readonly key: string;
  readonly name: string;
  readonly recipe: MotionRecipe;
  readonly travel: RootTravel;
}

export interface WrittenPackMotion {
  readonly path: string;
  readonly motion: string;
  readonly frames: number;
  readonly framesPerSecond: number;
  readonly bytes: Uint8Array;
}

/**
 * Motions of a pack, each as a GLB of the skeleton that was handed off, under its names, with one clip. Each is read back:
 * it must hold the bones of the pack's own GLB and move nothing else.
 * @param canonical the character's own GLB. @param handedOff the GLB of the pack.
 * @throws {YarvoError} `read-back-failed`, and what making a motion throws.
 */
export async function writePackMotions(
  motions: readonly PackMotion[],
  plan: HandoffPlan,
  canonical: Uint8Array,
  handedOff: Uint8Array,
): Promise<WrittenPackMotion[]> {
  const { definition, fit, names, pose, normalisation } = plan;
  const known = new Set((await readGlb(handedOff, 'pack')).rig.bones.map(({ name }) => name));
  const { document } = await readGlb(canonical, 'character');
  const bare = carrySubject(plan, definition, fit);
  const { rig } = plan;
  const subject = withSoles(bare, rig.mesh.vertexCount > 0 ? readGeometry(document, rig, 'character') : null);
  dropMeshes(document);
  // A root that the shipped skeleton brings takes travel as any other that is added.
  const as = { names: { ...names, addsRoot: addsRoot(plan) }, pose, lift: handoffLift(normalisation, fit) };
  const taken = new Set<string>();
  const written: WrittenPackMotion[] = [];
  for (const { key, name, recipe, travel } of motions) {
    const { motion } = makeMotion(recipe);
    const carried = await writeCarried(
      motion,
      { ...subject, carrying: forMotion(subject.carrying, key), document },
      travel,
      as,
    );
    const glb = await restated(carried.glb, plan, name);
    const back = await readGlb(glb, name);
    const stranger = back.rig.bones.find((bone) => !known.has(bone.name));
    if (stranger || back.rig.clips.length !== 1)
      throw new YarvoError({
        code: 'read-back-failed',
        message: stranger
          ? `The clip "${name}" moves a bone "${stranger.name}" that the character does not have.`
          : `The clip "${name}" did not come back.`,
        place: name,
        remedy: 'Nothing was handed off. Take the motion out of the pack and try again.',
      });
    let path = slugOf(name);
    for (let count = 2; taken.has(path); count++) path = `${slugOf(name)}-${count}`;
    taken.add(path);
    const { frameCount: frames, framesPerSecond } = motion;
    written.push({ path: `motions/${path}.glb`, motion: name, frames, framesPerSecond, bytes: glb });
  }
  return written;
}
