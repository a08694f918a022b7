import { add, scale, subtract, type Vec3 } from '../math/vec3';
import { HOUSE_PARENTS, HOUSE_ROLES, MASSES } from './house-body';

/** Roles that the centre of mass is worked out from, each after its parent. */
export const WEIGHED_ROLES: readonly string[] = HOUSE_ROLES.filter((role) => {
  const has = (at: string): boolean =>
    MASSES.some((mass) => mass.role === at || mass.end === at) ||
    HOUSE_ROLES.some((below) => HOUSE_PARENTS[below] === at && has(below));
  return has(role);
});

/**
 * Centre of mass of a figure, by the joints of its roles.
 * @param masses those whose joints are known; their shares count as they stand.
 */
export function massCentre(places: Readonly<Record<string, Vec3>>, masses = MASSES): Vec3 {
  return masses.reduce<Vec3>(
    (sum, { role, end, share, centre }) =>
      add(sum, scale(add(places[role], scale(subtract(places[end], places[role]), centre)), share)),
    [0, 0, 0],
  );
}
