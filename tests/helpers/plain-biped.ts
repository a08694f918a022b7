import type { Vec3 } from '@/core/math/vec3';
import type { PlainBone } from './rig-maker';

/** What shows where the front of a figure is; nothing does by default. Metres, Y up, left along +x, front along +z. */
export interface BipedFront {
  /** How far the toes lie ahead of the ankles. */
  readonly toes?: number;
  readonly knees?: number;
  readonly elbows?: number;
  readonly thumbs?: number;
  /** How far eyes and jaw, named so, lie ahead of the head. */
  readonly face?: number;
}

/** Marks of the sides in the limbs' names; none by default. */
export type SideNames = readonly [left: string, right: string] | null;

/** A symmetric figure in T-pose that cannot be told front from back but by what is asked for. */
export function plainBiped(front: BipedFront = {}, sides: SideNames = null): PlainBone[] {
  const bones: PlainBone[] = [];
  let count = 0;
  /** Names say nothing; those of limbs carry their side's mark. */
  const add = (parent: string | null, position: Vec3, mark = '', word = ''): string => {
    const name = [`q${String(count++).padStart(3, '0')}`, word, mark].filter(Boolean).join('_');
    bones.push({ name, parent, position });
    return name;
  };
  const hips = add(null, [0, 0.95, 0]);
  const spine = add(hips, [0, 1.08, 0]);
  const chest = add(spine, [0, 1.25, 0]);
  const neck = add(chest, [0, 1.48, 0]);
  const head = add(neck, [0, 1.56, 0]);
  if (front.face) add(head, [0, 1.58, front.face], '', 'jaw');
  for (const [at, k] of [
    [0, 1],
    [1, -1],
  ] as const) {
    const mark = sides?.[at] ?? '';
    if (front.face) add(head, [0.03 * k, 1.66, front.face], mark, 'eye');
    const thigh = add(hips, [0.1 * k, 0.92, 0], mark);
    const shin = add(thigh, [0.1 * k, 0.5, front.knees ?? 0], mark);
    const foot = add(shin, [0.1 * k, 0.08, 0], mark);
    if (front.toes) add(foot, [0.1 * k, 0.02, front.toes], mark);
    const shoulder = add(chest, [0.03 * k, 1.42, 0], mark);
    const arm = add(shoulder, [0.18 * k, 1.43, 0], mark);
    const forearm = add(arm, [0.46 * k, 1.43, -(front.elbows ?? 0)], mark);
    const hand = add(forearm, [0.72 * k, 1.43, 0], mark);
    for (let finger = 0; finger < 4; finger++) {
      const z = (1.5 - finger) * 0.02 * (front.thumbs ? 1 : 0) || (1.5 - finger) * 1e-9;
      const y = front.thumbs ? 1.43 : 1.43 + (1.5 - finger) * 0.02;
      const base = add(hand, [0.81 * k, y, z], mark);
      add(base, [0.85 * k, y, z], mark);
    }
    if (front.thumbs) add(add(hand, [0.75 * k, 1.42, 0.03], mark), [0.77 * k, 1.41, 0.03 + front.thumbs], mark);
  }
  return bones;
}
