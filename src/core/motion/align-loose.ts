import { compose } from '../math/mat4';
import { multiply, normalise, rotate, shortestArc, type Quat } from '../math/quat';
import { add, subtract, normalise as unit, type Vec3 } from '../math/vec3';
import type { Role } from '../definition/definition';
import { carriesItsEnd } from '../posture/align-order';
import { computeRoleFrame } from '../posture/role-frames';
import type { FittedRig, StandingFigure } from './fitted-rig';

/**
 * Turns segments onto the reference whose ends do not hang on them. A posture cannot: it turns bones and leaves loose
 * joints where they are. A motion can, since it writes where loose joints are in every frame; so it is told against the
 * reference pose all the same.
 *
 * @param loose bone -> the bone that carries it.
 * @returns the figure as it would stand; the same one where every segment holds its end.
 */
export function alignLoose(
  fitted: FittedRig,
  standing: StandingFigure,
  loose: ReadonlyMap<number, number>,
): StandingFigure {
  const { rig, definition, roleBones } = fitted;
  const isTorn = ({ id, alignment }: Role) => alignment === 'align' && roleBones.has(id) && !carriesItsEnd(fitted, id);
  if (loose.size === 0 || !definition.roles.some(isTorn)) return standing;
  const rotations = [...standing.rotations];
  const places = [...standing.places];
  const below = belowOf(fitted, loose);
  const inBody = { ...fitted.normalisation, rotation: [0, 0, 0, 1] as const, scale: 1 };
  for (const role of definition.roles) {
    const bone = roleBones.get(role.id);
    const wanted = role.direction && unit(role.direction);
    if (role.alignment !== 'align' || bone === undefined || !wanted) continue;
    const worlds = rig.bones.map(({ index }) => compose(places[index], rotations[index], [1, 1, 1]));
    const frame = computeRoleFrame({ rig, definition, roleBones, normalisation: inBody, worlds }, role.id);
    if (!frame) continue;
    turn(bone, shortestArc(frame.direction, wanted, role.hinge ?? undefined));
  }
  return { rotations, places };

  function turn(bone: number, arc: Quat): void {
    const pivot = places[bone];
    for (const each of below(bone)) {
      rotations[each] = normalise(multiply(arc, rotations[each]));
      const away: Vec3 = subtract(places[each], pivot);
      places[each] = add(pivot, rotate(arc, away));
    }
  }
}

/** A bone and all that turns with it, hanging on it or carried by it. */
function belowOf({ rig }: FittedRig, loose: ReadonlyMap<number, number>): (bone: number) => number[] {
  const children = rig.bones.map((): number[] => []);
  for (const { index, parent } of rig.bones) {
    const carrier = loose.get(index) ?? parent;
    if (carrier >= 0) children[carrier].push(index);
  }
  return (bone) => {
    const out = [bone];
    for (let at = 0; at < out.length; at++) out.push(...children[out[at]]);
    return out;
  };
}
