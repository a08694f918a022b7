import { SIDES, type Side } from '../definition/definition';
import type { Geometry } from '../geometry/geometry';
import { translationOf, type Mat4 } from '../math/mat4';
import { conjugate, fromAxisAngle, multiply, rotate, type Quat } from '../math/quat';
import { cross, distance, normalise, subtract, type Vec3 } from '../math/vec3';
import { computeCarriers, computeWorlds, turnedLocalRotation, type RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';
import { foldLimb } from './fold-limb';
import { limbHinges } from './hinges';
import { liftHips } from './lift-hips';
import { computeRoleFrame } from './role-frames';
import { bonesBelow, posedPlaces, selectVertices, type SkinnedSelection } from './skinned-selection';

/** How one sole lies. Metres and radians in the body frame. */
export interface Sole {
  readonly side: Side;
  readonly height: number;
  /** From heel to ball; positive with the ball higher. */
  readonly pitchRad: number;
  /** Across; positive with the outer edge higher. */
  readonly rollRad: number;
}

/** A foot's vertices, taken out once. */
export type FootSelections = ReadonlyMap<Side, SkinnedSelection>;

/** Fewer vertices show no sole. */
const LEAST_VERTICES = 8;

export function selectFeet({ rig, roleBones }: AlignInput, geometry: Geometry): FootSelections {
  const feet = new Map<Side, SkinnedSelection>();
  for (const side of SIDES) {
    const foot = roleBones.get(`${side}Foot`);
    if (foot === undefined) continue;
    const selection = selectVertices(rig, geometry, bonesBelow(rig, [foot], new Set()));
    if (selection.vertexCount >= LEAST_VERTICES) feet.set(side, selection);
  }
  return feet;
}

/** How the soles lie in a pose, measured on the mesh; sides whose foot carries no mesh are left out. */
export function measureSoles(input: AlignInput, feet: FootSelections, pose: RigPose): Sole[] {
  const worlds = computeWorlds(input.rig, pose);
  return [...feet].map(([side, selection]) => soleOf(input, side, selection, worlds));
}

function soleOf(input: AlignInput, side: Side, selection: SkinnedSelection, worlds: readonly Mat4[]): Sole {
  const places = posedPlaces(selection, worlds, input.normalisation);
  const heading = headingOf(input, side, worlds);
  const outward = cross([0, 1, 0], heading);
  const out = side === 'left' ? 1 : -1;
  const count = places.length / 3;
  const [along, across, heights] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
  for (let at = 0; at < count; at++) {
    const [x, y, z] = [places[at * 3], places[at * 3 + 1], places[at * 3 + 2]];
    along[at] = x * heading[0] + z * heading[2];
    across[at] = (x * outward[0] + z * outward[2]) * out;
    heights[at] = y;
  }
  const [back, length] = spanOf(along);
  const [inner, width] = spanOf(across);
  const lowestWhere = (isMeant: (at: number) => boolean): number | null => {
    let best: number | null = null;
    for (let at = 0; at < count; at++) if (isMeant(at) && (best === null || heights[at] < heights[best])) best = at;
    return best;
  };
  const isHeel = (at: number) => along[at] < back + HEEL_SHARE * length;
  // Toe caps turn up; the ball is what stands.
  const isBall = (at: number) =>
    along[at] > back + BALL_SHARES[0] * length && along[at] < back + BALL_SHARES[1] * length;
  const isOuter = (at: number) => across[at] > inner + width / 2;
  const slope = (from: number | null, to: number | null, over: Float64Array): number =>
    from === null || to === null || over[to] - over[from] < 1e-9
      ? 0
      : Math.atan2(heights[to] - heights[from], over[to] - over[from]);
  return {
    side,
    height: heights.reduce((low, height) => Math.min(low, height), Infinity),
    pitchRad: slope(lowestWhere(isHeel), lowestWhere(isBall), along),
    rollRad: slope(
      lowestWhere((at) => isBall(at) && !isOuter(at)),
      lowestWhere((at) => isBall(at) && isOuter(at)),
      across,
    ),
  };
}

/** Shares of a foot's length, from the back of the heel. */
const HEEL_SHARE = 0.35;
const BALL_SHARES = [0.5, 0.82] as const;

function spanOf(values: Float64Array): [low: number, length: number] {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) [low, high] = [Math.min(low, value), Math.max(high, value)];
  return [low, high - low];
}

/** Where a foot points on the floor, unit. */
function headingOf(input: AlignInput, side: Side, worlds: readonly Mat4[]): Vec3 {
  const direction = computeRoleFrame({ ...input, worlds }, `${side}Foot`)?.direction ?? [0, 0, 1];
  return normalise([direction[0], 0, direction[2]]) ?? [0, 0, 1];
}

/** Turning a foot moves what is lowest, so a few rounds are needed; flat shoes are done after two. */
const ROUNDS = 6;

/** Turns both feet so that their soles lie flat. The ankles stay where they are. */
function flattenSoles(input: AlignInput, feet: FootSelections, pose: RigPose): RigPose {
  const carriers = computeCarriers(input.rig);
  const toBody = input.normalisation.rotation as Quat;
  const rotations: Record<string, Quat> = { ...pose.rotations };
  const flat: RigPose = { rotations, shift: pose.shift };
  for (let round = 0; round < ROUNDS; round++) {
    const worlds = computeWorlds(input.rig, flat, carriers);
    for (const [side, selection] of feet) {
      const foot = input.roleBones.get(`${side}Foot`) as number;
      const { pitchRad, rollRad } = soleOf(input, side, selection, worlds);
      if (Math.abs(pitchRad) + Math.abs(rollRad) < 1e-6) continue;
      const heading = headingOf(input, side, worlds);
      const across = cross([0, 1, 0], heading);
      const out = side === 'left' ? 1 : -1;
      // A positive turn about the axis across lowers the front; about the heading it raises the left edge.
      const turn = multiply(fromAxisAngle(across, pitchRad), fromAxisAngle(heading, -rollRad * out));
      const inFile = multiply(conjugate(toBody), multiply(turn, toBody));
      rotations[foot] = turnedLocalRotation(input.rig, worlds, carriers, foot, inFile);
    }
  }
  return flat;
}

/** Legs that reach equally far down within this share of the figure's leg are even. */
const EVEN_SHARE = 0.002;

export interface LevelOptions {
  /** Height that the soles are to stand at, metres. */
  readonly floor: number;
  /** Whether the longer leg is bent until both soles stand. */
  readonly bendsLonger: boolean;
}

/** Puts both soles flat on the floor; the hips follow. Legs that differ leave one foot above it, unless one is bent. */
export function levelSoles(
  input: AlignInput,
  feet: FootSelections,
  pose: RigPose,
  { floor, bendsLonger }: LevelOptions,
): RigPose {
  let level = flattenSoles(input, feet, pose);
  const soles = measureSoles(input, feet, level);
  if (bendsLonger && soles.length === 2) {
    const [low, high] = [...soles].sort((a, b) => a.height - b.height);
    level = raiseFoot(input, level, low.side, (high.height - low.height) / input.normalisation.scale);
  }
  const lowest = Math.min(...measureSoles(input, feet, level).map(({ height }) => height));
  return Number.isFinite(lowest) ? liftHips(input, level, (floor - lowest) / input.normalisation.scale) : level;
}

/** How much further one sole stands below the other when both are flat, metres; null where the legs are even. */
export function legDifference(
  input: AlignInput,
  feet: FootSelections,
  pose: RigPose,
): { readonly longer: Side; readonly metres: number } | null {
  const soles = measureSoles(input, feet, flattenSoles(input, feet, pose));
  if (soles.length < 2) return null;
  const [low, high] = [...soles].sort((a, b) => a.height - b.height);
  const metres = high.height - low.height;
  return metres > EVEN_SHARE * legLength(input, pose) ? { longer: low.side, metres } : null;
}

/** Thigh and shin of the longer leg, metres. */
function legLength({ rig, roleBones, normalisation }: AlignInput, pose: RigPose): number {
  const worlds = computeWorlds(rig, pose);
  const lengths = SIDES.map((side) => {
    const [hip, knee, ankle] = ['UpperLeg', 'LowerLeg', 'Foot'].map((part) =>
      placeOf(worlds, roleBones.get(side + part)),
    );
    return hip && knee && ankle ? distance(hip, knee) + distance(knee, ankle) : 0;
  });
  return Math.max(...lengths) * normalisation.scale;
}

/** Folds a knee until the ankle stands so much higher. @param rise file units. */
function raiseFoot(input: AlignInput, pose: RigPose, side: Side, rise: number): RigPose {
  const rests = [input.rig.bones.map(({ restWorld }) => restWorld)];
  const hinge = limbHinges(input, pose, rests).find(({ limb }) => limb.part === 'Leg' && limb.side === side);
  if (!hinge || rise <= 0) return pose;
  const worlds = computeWorlds(input.rig, pose);
  const [hip, ankle] = ['UpperLeg', 'Foot'].map((part) => placeOf(worlds, input.roleBones.get(side + part)));
  if (!hip || !ankle) return pose;
  const up = rotate(conjugate(input.normalisation.rotation as Quat), [0, 1, 0]);
  // The ankle stays on its line to the hip; the line is as much shorter as brings it to the height.
  const line = subtract(ankle, hip);
  const steep = Math.abs(line[0] * up[0] + line[1] * up[1] + line[2] * up[2]) / distance(hip, ankle);
  return steep < 0.2 ? pose : foldLimb(input, pose, hinge, distance(hip, ankle) - rise / steep);
}

const placeOf = (worlds: readonly Mat4[], bone: number | undefined): Vec3 | null =>
  bone === undefined ? null : translationOf(worlds[bone]);
