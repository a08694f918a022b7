import { LEG_PARTS, SIDES } from '../definition/definition';
import { toBody } from '../frame/normalise';
import { translationOf } from '../math/mat4';
import { shortestArc } from '../math/quat';
import { distance, normalise, subtract, type Vec3 } from '../math/vec3';
import type { AlignInput } from '../posture/align-order';
import { turnRoleBy } from '../posture/turn-roles';
import { computeWorlds, type RigPose } from '../rig/pose';
import type { ShippedTree } from './shipped-tree';

/** Where a shoulder or a sole lies is how a body is built; how a limb is held is a pose. */
const BUILT = /(Shoulder|Foot|Toes)$/;

/** Segments whose direction is how the figure is held: role, and the role at their end; parents first. */
function heldSegments({ lines }: AlignInput['definition']): readonly (readonly [string, string])[] {
  const along = lines
    .filter(({ side }) => side !== 'centre')
    .flatMap(({ roles }) => roles.slice(1).map((role, at) => [roles[at], role] as const))
    .filter(([role]) => !BUILT.test(role));
  const hands = SIDES.map((side) => [`${side}Hand`, `${side}MiddleProximal`] as const);
  const isFinger = ([role]: readonly [string, string]): boolean =>
    !/(Arm|Hand)$/.test(role) && !LEG_PARTS.some((part) => role.endsWith(part));
  return [...along.filter((each) => !isFinger(each)), ...hands, ...along.filter(isFinger)];
}

/** The pose with arms, legs and fingers pointing where the shipped skeleton's do, each turned the shortest way. */
export function conformPose(input: AlignInput, start: RigPose, shipped: ShippedTree): RigPose {
  let pose = start;
  for (const [role, end] of heldSegments(input.definition)) {
    const [own, ownEnd] = [input.roleBones.get(role), input.roleBones.get(end)];
    const [theirs, theirEnd] = [shipped.byRole.get(role), shipped.byRole.get(end)];
    if (own === undefined || ownEnd === undefined || theirs === undefined || theirEnd === undefined) continue;
    const worlds = computeWorlds(input.rig, pose);
    const placeOf = (bone: number): Vec3 => toBody(input.normalisation, translationOf(worlds[bone]));
    const is = normalise(subtract(placeOf(ownEnd), placeOf(own)));
    const wanted = normalise(subtract(shipped.places[theirEnd], shipped.places[theirs]));
    if (!is || !wanted || distance(is, wanted) < SAME) continue;
    pose = turnRoleBy(input, pose, role, shortestArc(is, wanted));
  }
  return pose;
}

/** Directions closer than this are one. */
const SAME = 1e-7;
