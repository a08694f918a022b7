import { add, subtract, type Vec3 } from '@/core/math/vec3';
import { ARM_PARTS, DIGITS, LEG_PARTS, SIDES, digitRoles } from '@/core/definition/definition';
import { hands, neckAndHead, shoes, sleeves, torso, trousers, type Body } from './dress';
import type { PartMesh } from './mesh';
import { alongBone, bodyPlaces, SkeletonBuilder, type BodyOptions } from './skeleton';

export interface TownsfolkOptions extends Partial<BodyOptions> {
  readonly girth: number;
  /** The file's name for a role. */
  readonly nameOf: (role: string) => string;
  /** Name of a bone at the floor; null for a figure led by its hips. */
  readonly rootName: string | null;
  /** Roles that the figure does not have. */
  readonly without?: readonly string[];
  /** Joint axes along their bones, or all alike. */
  readonly axes?: 'bones' | 'world';
}

export interface Townsfolk {
  readonly builder: SkeletonBuilder;
  readonly body: Body;
  readonly places: Record<string, Vec3>;
  /** Name of a role's bone. */
  readonly name: (role: string) => string;
}

const CENTRE = ['hips', 'spine', 'chest', 'upperChest', 'neck', 'head'];

/** The bones of a townsperson under a naming habit, ready for more bones and for clothes. */
export function townsfolk(options: TownsfolkOptions): Townsfolk {
  const places = bodyPlaces(options);
  const builder = new SkeletonBuilder();
  const names = new Map<string, string>();
  const missing = new Set(options.without ?? []);
  const root = options.rootName === null ? null : builder.add(options.rootName, null, [0, 0, 0], 'root');
  const chain = (roles: readonly string[], parent: string | null) => {
    const kept = roles.filter((role) => !missing.has(role));
    kept.forEach((role, at) => {
      const towards = kept[at + 1]
        ? places[kept[at + 1]]
        : at > 0
          ? add(places[role], subtract(places[role], places[kept[at - 1]]))
          : add(places[role], [0, 0.1, 0]);
      const rotation = options.axes === 'bones' ? alongBone(subtract(towards, places[role]), [0, 0, 1]) : undefined;
      names.set(
        role,
        builder.add(
          options.nameOf(role),
          at === 0 ? parent : (names.get(kept[at - 1]) as string),
          places[role],
          role,
          rotation,
        ),
      );
    });
  };
  chain(CENTRE, root);
  const chest = names.get('upperChest') ?? names.get('chest') ?? (names.get('spine') as string);
  for (const side of SIDES) {
    chain(
      ARM_PARTS.map((part) => side + part),
      chest,
    );
    chain(
      LEG_PARTS.map((part) => side + part),
      names.get('hips') as string,
    );
    for (const digit of DIGITS) chain(digitRoles(side, digit), names.get(`${side}Hand`) as string);
  }
  const name = (role: string) => names.get(role) ?? names.get(nearest(role)) ?? (names.get('hips') as string);
  const body: Body = {
    name,
    place: (role) => places[role],
    has: (role) => names.has(role),
    size: options.size ?? 1,
    girth: options.girth,
  };
  return { builder, body, places, name };
}

/** What stands in for a role that the figure does not have, for the clothes. */
const nearest = (role: string): string => ({ upperChest: 'chest', chest: 'spine' })[role] ?? role;

/** Plain clothes over everything: torso, sleeves, head, hands, legs, shoes. */
export function plainClothes(
  body: Body,
  materials: { skin: string; top: string; legs: string; shoes: string },
): PartMesh[] {
  return [
    torso(body, materials.top),
    ...sleeves(body, materials.top, 0.04),
    ...neckAndHead(body, materials.skin),
    ...hands(body, materials.skin),
    ...trousers(body, materials.legs, 0.05),
    ...shoes(body, materials.shoes),
  ];
}
