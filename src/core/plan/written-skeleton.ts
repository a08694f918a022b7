import { decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '../math/mat4';
import type { Quat } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import type { HandoffPlan } from './handoff-plan';

/** A bone as it would be written; metres, against its parent. */
export interface WrittenBone {
  readonly name: string;
  readonly parent: string | null;
  readonly translation: Vec3;
  readonly rotation: Quat;
}

/** The skeleton as it would be written, with the bones that handoff adds; null where it cannot be written. */
export function writtenSkeleton({ rig, names, skeleton, helpers, hung }: HandoffPlan): WrittenBone[] | null {
  if ('problem' in skeleton) return null;
  const { worlds } = skeleton.plan;
  const top = names.addsRoot ? names.rootName : null;
  const root = rig.bones.findIndex(({ parent }) => parent < 0);
  /** Name and world of what something hangs on. */
  type Above = readonly [string | null, Mat4];
  const none: Above = [top, IDENTITY];
  const onBone = (bone: number): Above => [names.names[bone], worlds[bone]];
  const onAdded = (at: number): Above => [helpers[at].name, helpers[at].world];
  const written = (name: string, world: Mat4, [parent, above]: Above): WrittenBone => {
    const { translation, rotation } = decompose(multiply(invertAffine(above) ?? IDENTITY, world));
    return { name, parent, translation, rotation };
  };
  return [
    ...(top === null ? [] : [written(top, IDENTITY, [null, IDENTITY])]),
    ...rig.bones.map(({ index, parent }) => {
      const on = hung.get(index);
      const above = on !== undefined ? onAdded(on) : parent >= 0 ? onBone(parent) : none;
      return written(names.names[index], worlds[index], above);
    }),
    ...helpers.map(({ name, parent, world }) => {
      switch (parent.kind) {
        case 'bone':
          return written(name, world, onBone(parent.bone));
        case 'added':
          return written(name, world, onAdded(parent.at));
        case 'root':
          return written(name, world, top === null && root >= 0 ? onBone(root) : none);
        case 'none':
          return written(name, world, [null, IDENTITY]);
      }
    }),
  ];
}
