import type { Rig } from '@/core/rig/rig';
import type { PlainBone } from './rig-maker';

type Place = [number, number, number];
const sides = [
  ['l', 1],
  ['r', -1],
] as const;

/** A plain biped with plain names, to which a test adds what it is about. */
export function biped(
  extra: readonly PlainBone[] = [],
  rename: (name: string) => string = (name) => name,
): PlainBone[] {
  const bones: PlainBone[] = [
    { name: 'hips', parent: null, position: [0, 0.95, 0] },
    { name: 'spine', parent: 'hips', position: [0, 1.08, 0] },
    { name: 'chest', parent: 'spine', position: [0, 1.25, -0.01] },
    { name: 'neck', parent: 'chest', position: [0, 1.47, -0.01] },
    { name: 'head', parent: 'neck', position: [0, 1.56, 0] },
  ];
  for (const [side, k] of sides) {
    const add = (name: string, parent: string, position: Place) =>
      bones.push({
        name: `${name}_${side}`,
        parent: bones.some((bone) => bone.name === parent) ? parent : `${parent}_${side}`,
        position,
      });
    add('collar', 'chest', [0.04 * k, 1.42, 0]);
    add('upper_arm', 'collar', [0.17 * k, 1.42, -0.01]);
    add('forearm', 'upper_arm', [0.44 * k, 1.42, -0.02]);
    add('hand', 'forearm', [0.68 * k, 1.42, -0.01]);
    add('thigh', 'hips', [0.09 * k, 0.92, 0]);
    add('shin', 'thigh', [0.09 * k, 0.5, 0.01]);
    add('foot', 'shin', [0.09 * k, 0.09, -0.02]);
    add('toes', 'foot', [0.1 * k, 0.02, 0.1]);
  }
  const all = [...bones, ...extra];
  const renamed = new Map(all.map((bone) => [bone.name, rename(bone.name)]));
  return all.map((bone) => ({
    ...bone,
    name: renamed.get(bone.name) as string,
    parent: bone.parent === null ? null : (renamed.get(bone.parent) as string),
  }));
}

/** A bone on both sides; `*` at the end of the parent's name stands for the side. */
export const both = (name: string, parent: string, place: Place): PlainBone[] =>
  sides.map(([side, k]) => ({
    name: `${name}_${side}`,
    parent: parent.replace(/_?\*$/, `_${side}`),
    position: [place[0] * k, place[1], place[2]],
  }));

/** The rig with bones whose names match moving nothing. */
export const weightless = (rig: Rig, name: RegExp): Rig => ({
  ...rig,
  bones: rig.bones.map((bone) => (name.test(bone.name) ? { ...bone, skinWeight: 0, skinVertexCount: 0 } : bone)),
});
