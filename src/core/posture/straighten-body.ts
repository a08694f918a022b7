import { SIDES, type Role } from '../definition/definition';
import { conjugate, fromAxisAngle, IDENTITY, multiply, rotate, shortestArc, type Quat } from '../math/quat';
import { decompose, type Mat4 } from '../math/mat4';
import { angleBetween, type Vec3 } from '../math/vec3';
import { computeCarriers, computeWorlds, turnedLocalRotation, type RigPose } from '../rig/pose';
import { carriesItsEnd, parentsFirst, type AlignInput } from './align-order';
import { computeRoleFrame } from './role-frames';
import { isTrunkRole, measureTrunk } from './trunk-measure';

const DEGREE = Math.PI / 180;
/** A back that leans less is built that way: making it a pole would change the figure. */
const LEANING_RAD = 15 * DEGREE;
/** Shoulders that are turned or slant less against the hips are as good as square. */
const TURNED_RAD = 10 * DEGREE;
/** What leads from the hips shows better once what hangs on them is straight. */
const MOST_PASSES = 4;

/** Whether straightening the body may turn a role: hips, spine, chest, neck and collars. */
export const isBodyRole = ({ id, side, direction }: Role): boolean =>
  direction !== null && (isTrunkRole(id) || (side !== 'centre' && id.endsWith('Shoulder')));

/**
 * Turns hips, spine, neck and collars that lean too far onto their reference, from below, and the shoulders square to
 * the front. What leans no further than figures are built stays as it is. The legs keep their directions where the hips
 * turn; arms and head go along.
 * @param roles those that may turn; all by default.
 */
export function straightenBody(input: AlignInput, start: RigPose, roles?: ReadonlySet<string>): RigPose {
  const { rig, roleBones } = input;
  const carriers = computeCarriers(rig);
  const rotations: Record<string, Quat> = { ...start.rotations };
  const pose: RigPose = { rotations, shift: start.shift };
  const toBody = input.normalisation.rotation as Quat;
  const inFile = (turn: Quat): Quat => multiply(conjugate(toBody), multiply(turn, toBody));
  const original = computeWorlds(rig, start, carriers);
  let worlds: readonly Mat4[] = original;
  const turn = (bone: number, fileDelta: Quat): void => {
    rotations[bone] = turnedLocalRotation(rig, worlds, carriers, bone, fileDelta);
    worlds = computeWorlds(rig, pose, carriers);
  };
  const body = parentsFirst(input).filter(
    (role) => isBodyRole(role) && (!roles || roles.has(role.id)) && carriesItsEnd(input, role.id),
  );
  for (let pass = 0, hasTurned = true; hasTurned && pass < MOST_PASSES; pass++) {
    hasTurned = false;
    for (const role of body) {
      const wanted = turnOf(role, { ...input, worlds });
      if (!wanted) continue;
      turn(roleBones.get(role.id) as number, inFile(wanted));
      hasTurned = true;
    }
  }
  for (const thigh of thighsOf(input)) {
    const delta = multiply(decompose(original[thigh]).rotation, conjugate(decompose(worlds[thigh]).rotation));
    if (Math.abs(delta[3]) < 1 - 1e-12) turn(thigh, delta);
  }
  return pose;
}

/** Turn of one role in the body frame; null where it stays. */
function turnOf(role: Role, input: AlignInput & { readonly worlds: readonly Mat4[] }): Quat | null {
  const reference = role.direction as Vec3;
  if (!isTrunkRole(role.id)) {
    const frame = computeRoleFrame(input, role.id);
    const isOff = frame && angleBetween(frame.direction, reference) > role.toleranceRad;
    return isOff ? shortestArc(frame.direction, reference, [0, 1, 0]) : null;
  }
  const measure = measureTrunk(role.id, input);
  if (!measure) return null;
  const leans = angleBetween(measure.direction, reference) > LEANING_RAD;
  const upright = leans ? shortestArc(measure.direction, reference, role.hinge ?? undefined) : IDENTITY;
  const across = measure.across && role.id !== 'hips' ? rotate(upright, measure.across) : null;
  const yaw = across ? Math.atan2(across[2], across[0]) : 0;
  if (!leans && Math.abs(yaw) <= TURNED_RAD) return null;
  return Math.abs(yaw) > TURNED_RAD ? multiply(fromAxisAngle([0, 1, 0], yaw), upright) : upright;
}

const thighsOf = ({ roleBones }: AlignInput): number[] =>
  SIDES.map((side) => roleBones.get(`${side}UpperLeg`)).filter((bone) => bone !== undefined);
