import { SIDES, type Side } from '../definition/definition';
import type { Geometry } from '../geometry/geometry';
import { conjugate, multiply, shortestArc, type Quat } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import { computeCarriers, computeWorlds, turnedLocalRotation, type RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';
import { makeSurface, nearestOnSurface } from './nearest-on-surface';
import { computeRoleFrame } from './role-frames';
import { bonesBelow, posedPlaces, selectedTriangles, selectVertices, type SkinnedSelection } from './skinned-selection';

/** Room between one arm and the body when the arms hang as in an idle stance. */
export interface ArmClearance {
  readonly side: Side;
  /** Smallest distance of forearm and hand to torso and thighs, metres; negative: so deep inside. */
  readonly metres: number;
  /** Degrees away from the body that give the wanted room; 0 where there is room, null where even the most does not. */
  readonly offsetDeg: number | null;
}

export interface ClearanceOptions {
  /** Room that is wanted, as a share of the figure's height. */
  readonly wantedShare: number;
}
/** About 1.5 cm on a grown person: cloth moves. */
const CLEARANCE_DEFAULTS: ClearanceOptions = { wantedShare: 0.008 };

/** Held further away the arms no longer hang. */
const MOST_OFFSET_DEG = 45;
/** Proposals are whole degrees. */
const OFFSET_STEP_DEG = 1;

/** What clearance is measured on, taken out of the mesh once. */
export interface ClearanceSubject {
  readonly arms: ReadonlyMap<Side, SkinnedSelection>;
  readonly body: SkinnedSelection;
  readonly bodyTriangles: Uint32Array;
}

/** Null for a figure without arms or without mesh on trunk, thighs or forearms. */
export function selectClearance({ rig, roleBones }: AlignInput, geometry: Geometry): ClearanceSubject | null {
  const roles = (names: readonly string[]) => names.map((role) => roleBones.get(role));
  const armTops = SIDES.flatMap((side) => roles([`${side}Shoulder`, `${side}UpperArm`])).filter(
    (bone) => bone !== undefined,
  );
  const stops = new Set([
    ...armTops,
    ...roles(['neck', 'head', 'leftLowerLeg', 'rightLowerLeg']).filter((bone) => bone !== undefined),
  ]);
  const body = selectVertices(rig, geometry, bonesBelow(rig, roles(['hips']), stops));
  const bodyTriangles = selectedTriangles(body);
  const arms = new Map<Side, SkinnedSelection>();
  for (const side of SIDES) {
    const lower = roleBones.get(`${side}LowerArm`);
    if (lower === undefined || !roleBones.has(`${side}UpperArm`)) continue;
    // The upper arm touches the armpit on every body; what must not touch is below the elbow.
    const selection = selectVertices(rig, geometry, bonesBelow(rig, [lower], new Set()));
    if (selection.vertexCount > 0) arms.set(side, selection);
  }
  return arms.size > 0 && bodyTriangles.length > 0 ? { arms, body, bodyTriangles } : null;
}

/** Room of each arm, and how far it would have to be held away. @param pose the reference pose the arms are let down from. */
export function measureClearance(
  input: AlignInput,
  subject: ClearanceSubject,
  pose: RigPose,
  heightMetres: number,
  { wantedShare }: ClearanceOptions = CLEARANCE_DEFAULTS,
): ArmClearance[] {
  const wanted = wantedShare * heightMetres;
  const worlds = computeWorlds(input.rig, pose);
  const body = makeSurface(posedPlaces(subject.body, worlds, input.normalisation), subject.bodyTriangles);
  return [...subject.arms].map(([side, arm]) => {
    const roomAt = (degrees: number): number => {
      const hanging = computeWorlds(input.rig, hangArm(input, pose, side, degrees));
      return nearestOnSurface(posedPlaces(arm, hanging, input.normalisation), body);
    };
    const metres = roomAt(0);
    if (metres >= wanted) return { side, metres, offsetDeg: 0 };
    if (roomAt(MOST_OFFSET_DEG) < wanted) return { side, metres, offsetDeg: null };
    let [low, high] = [0, MOST_OFFSET_DEG];
    while (high - low > OFFSET_STEP_DEG) {
      const middle = Math.round((low + high) / 2);
      if (roomAt(middle) >= wanted) high = middle;
      else low = middle;
    }
    return { side, metres, offsetDeg: high };
  });
}

/** The pose with one arm hanging straight down, and so far away from the body. */
function hangArm(input: AlignInput, pose: RigPose, side: Side, awayDeg: number): RigPose {
  const away = (awayDeg * Math.PI) / 180;
  const out = side === 'left' ? 1 : -1;
  const down: Vec3 = [Math.sin(away) * out, -Math.cos(away), 0];
  const carriers = computeCarriers(input.rig);
  const toBody = input.normalisation.rotation as Quat;
  const rotations: Record<string, Quat> = { ...pose.rotations };
  for (const part of ['UpperArm', 'LowerArm', 'Hand']) {
    const worlds = computeWorlds(input.rig, { rotations, shift: pose.shift }, carriers);
    const frame = computeRoleFrame({ ...input, worlds }, side + part);
    if (!frame) continue;
    // Straight up and straight down are half a turn apart; arms are let down sideways.
    const turn = shortestArc(frame.direction, down, [0, 0, 1]);
    const delta = multiply(conjugate(toBody), multiply(turn, toBody));
    rotations[frame.boneIndex] = turnedLocalRotation(input.rig, worlds, carriers, frame.boneIndex, delta);
  }
  return { rotations, shift: pose.shift };
}
