import { Quaternion, Vector3, type Object3D } from 'three';
import { QUAY } from '@/core/definition/quay';
import { NO_ROOT_TRAVEL, type RootTravel } from '@/core/motion/carry-options';
import {
  readCarryCharacter,
  readMotionSource,
  writeCarried,
  type CarriedFiles,
  type Reference,
} from '@/pipeline/carry';
import { readSource } from '@/pipeline/read-files';
import { loadWithThree, playAt, type Loaded } from './three-oracle';
import { makeFigure, turnsAt, writeFigureGlb, type FigureSpec, type MadeMotion } from './moving-figure';

const open = (bytes: Uint8Array, name = 'figure.glb') => readSource({ path: name, bytes }, []);

export interface CarryCase {
  readonly reference?: Reference;
  readonly framesPerSecond?: number | null;
  readonly travel?: Partial<RootTravel>;
}

/** Carries the first clip of one file to another, as the command does. */
export async function carryBytes(
  motion: Uint8Array,
  character: Uint8Array,
  { reference = { kind: 'rest' }, framesPerSecond = null, travel = {} }: CarryCase = {},
): Promise<CarriedFiles & { readonly loaded: Loaded; readonly source: ReturnType<typeof readMotionSource> }> {
  const source = readMotionSource(
    await open(motion),
    0,
    { definition: QUAY, reference, framesPerSecond },
    'motion.glb',
  );
  const figure = readCarryCharacter(await open(character), QUAY, 'character.glb');
  const files = await writeCarried(source.motion, figure, { ...NO_ROOT_TRAVEL, ...travel });
  return { ...files, source, loaded: await loadWithThree(files.glb) };
}

export const carryFigures = async (from: FigureSpec, to: FigureSpec, motion: MadeMotion, options: CarryCase = {}) =>
  carryBytes(await writeFigureGlb(from, motion), await writeFigureGlb(to, null), options);

/** Objects of a loaded file by name. */
export function objectsOf({ scene }: Loaded): Map<string, Object3D> {
  const out = new Map<string, Object3D>();
  scene.traverse((object) => out.set(object.name, object));
  return out;
}

export const placeOf = (object: Object3D | undefined): Vector3 => {
  if (!object) throw new Error('there is no such joint');
  return object.getWorldPosition(new Vector3());
};

export const degreesBetween = (a: Quaternion, b: Quaternion): number => {
  const apart = a.clone().multiply(b.clone().invert());
  return (2 * Math.atan2(Math.hypot(apart.x, apart.y, apart.z), Math.abs(apart.w)) * 180) / Math.PI;
};

/** How far a written file is from what its figure should do by construction: degrees of turn, metres of the hips. */
export function offTruth(
  loaded: Loaded,
  to: FigureSpec,
  motion: MadeMotion,
  isCounted: (role: string | null, name: string) => boolean = () => true,
): { degrees: number; where: string; hipsMetres: number } {
  const joints = makeFigure(to);
  const objects = objectsOf(loaded);
  let [degrees, where, hipsMetres] = [0, '', 0];
  // Three starts a clip anew at its very end.
  for (const frame of [0, 7, 16, 30, 44, 59]) {
    const t = frame / motion.framesPerSecond;
    playAt(loaded, 0, t);
    const turns = turnsAt(joints, motion, t);
    joints.forEach(({ name, line, role, axes }, at) => {
      if (/_end|ground/.test(line) || !isCounted(role, name)) return;
      const found = objects.get(name)?.getWorldQuaternion(new Quaternion()) ?? new Quaternion();
      const off = degreesBetween(found, turns[at].clone().multiply(axes));
      if (off > degrees) [degrees, where] = [off, `${name} at frame ${frame}`];
    });
    const hips = joints.find(({ role }) => role === 'hips');
    const wanted = hips?.place.clone().addScaledVector(motion.hips(t), 0.8 * to.legs) ?? new Vector3();
    hipsMetres = Math.max(hipsMetres, placeOf(objects.get('pelvis')).distanceTo(wanted));
  }
  return { degrees, where, hipsMetres };
}
