import type { Definition } from '../definition/definition';
import { compose, decompose, multiply, translationOf, IDENTITY, type Mat4 } from '../math/mat4';
import type { Quat } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import type { ShippedSkeleton } from '../profile/profile';

/** A skeleton that the studio ships, as it stands in the written space: metres, Y up, facing +Z. */
export interface ShippedTree {
  readonly bones: ShippedSkeleton['bones'];
  /** By index; -1 for a top bone. Parents come first. */
  readonly parents: readonly number[];
  readonly places: readonly Vec3[];
  readonly turns: readonly Quat[];
  /** Role -> index. */
  readonly byRole: ReadonlyMap<string, number>;
}

/** Roles are those that the profile states; a bone without one that has the definition's name for a role stands for it. */
export function shippedTree({ bones }: ShippedSkeleton, definition: Definition): ShippedTree {
  const index = new Map(bones.map(({ name }, at) => [name, at]));
  const parents = bones.map(({ parent }) => (parent === null ? -1 : (index.get(parent) ?? -1)));
  const worlds: Mat4[] = [];
  bones.forEach(({ translation, rotation }, at) => {
    const above = parents[at] >= 0 ? worlds[parents[at]] : IDENTITY;
    worlds.push(multiply(above, compose(translation, rotation, [1, 1, 1])));
  });
  const byRole = new Map<string, number>();
  for (const { id, exportName } of definition.roles) {
    const stated = bones.findIndex(({ role }) => role === id);
    const named = bones.findIndex(({ name, role }) => role === null && name === exportName);
    if (stated >= 0 || named >= 0) byRole.set(id, stated >= 0 ? stated : named);
  }
  return {
    bones,
    parents,
    places: worlds.map(translationOf),
    turns: worlds.map((world) => decompose(world).rotation),
    byRole,
  };
}

/** The top bone above the hips; undefined where there is none. */
export function shippedRoot(shipped: Pick<ShippedTree, 'parents' | 'byRole'>): number | undefined {
  const hips = shipped.byRole.get('hips');
  return hips === undefined ? undefined : shippedAbove(shipped, hips).at(-1);
}

/** The bones above another, from the nearest up. */
export function shippedAbove({ parents }: Pick<ShippedTree, 'parents'>, at: number): number[] {
  const found: number[] = [];
  for (let above = parents[at]; above >= 0; above = parents[above]) found.push(above);
  return found;
}
