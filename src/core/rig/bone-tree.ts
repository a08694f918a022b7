import type { Rig } from './rig';

/** True if `ancestor` lies strictly above `bone`. @param parents parent of each bone, -1 for none. */
export function isAbove(parents: ArrayLike<number>, ancestor: number, bone: number): boolean {
  for (let at = parents[bone]; at >= 0; at = parents[at]) if (at === ancestor) return true;
  return false;
}

/** The nearest bone above another that is wanted, or -1. */
export function nearestAbove(parents: ArrayLike<number>, bone: number, isWanted: (bone: number) => boolean): number {
  for (let at = parents[bone]; at >= 0; at = parents[at]) if (isWanted(at)) return at;
  return -1;
}

export const parentsOf = (rig: Rig): Int32Array => Int32Array.from(rig.bones, (bone) => bone.parent);

/** The topmost bone above another, or null where that one leads the skeleton. */
export function topBoneAbove(parents: ArrayLike<number>, bone: number): number | null {
  let top: number | null = null;
  for (let at = parents[bone]; at >= 0; at = parents[at]) top = at;
  return top;
}
