import { decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '../math/mat4';
import type { ShippedSkeleton } from '../profile/profile';
import type { HandoffPlan } from './handoff-plan';

/**
 * The skeleton as it would be written, parents first, with the bones that handoff adds; null where it cannot be written.
 * Metres, each bone against its parent.
 */
export function writtenSkeleton({ rig, names, skeleton, helpers }: HandoffPlan): ShippedSkeleton['bones'] | null {
  if ('problem' in skeleton) return null;
  const { worlds } = skeleton.plan;
  const top = names.addsRoot ? names.rootName : null;
  const local = (world: Mat4, above: Mat4) => {
    const { translation, rotation } = decompose(multiply(invertAffine(above) ?? IDENTITY, world));
    return { translation, rotation };
  };
  const root = rig.bones.findIndex(({ parent }) => parent < 0);
  return [
    ...(top === null ? [] : [{ name: top, parent: null, ...local(IDENTITY, IDENTITY) }]),
    ...rig.bones.map(({ index, parent }) => ({
      name: names.names[index],
      parent: parent >= 0 ? names.names[parent] : top,
      ...local(worlds[index], parent >= 0 ? worlds[parent] : IDENTITY),
    })),
    ...helpers.map(({ name, parent, world }) => {
      const above = parent >= 0 ? parent : top === null ? root : -1;
      return {
        name,
        parent: above >= 0 ? names.names[above] : top,
        ...local(world, above >= 0 ? worlds[above] : IDENTITY),
      };
    }),
  ];
}
