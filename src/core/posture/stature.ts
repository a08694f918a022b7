import { toBody, type Normalisation } from '../frame/normalise';
import type { Geometry, GeometryPart, GeometrySkin } from '../geometry/geometry';
import { writeSkinnedPositions } from '../geometry/skin-kernel';
import { invertAffine, multiply, transformPoint, IDENTITY, type Mat4 } from '../math/mat4';
import type { Vec3 } from '../math/vec3';
import type { Rig } from '../rig/rig';

/** Heights of a figure in a pose, metres above the origin of the handed-off space (Y up). */
export interface Stature {
  /** Lowest point of each sole; null where the side has no foot. */
  readonly leftSole: number | null;
  readonly rightSole: number | null;
  /** Joint of the hips; null without one. */
  readonly hips: number | null;
  readonly lowest: number;
  readonly crown: number;
  /** What the soles were measured on. */
  readonly solesFrom: 'mesh' | 'bones';
}

export interface StatureInput {
  readonly rig: Rig;
  /** Meshes of the figure; null for a skeleton alone. */
  readonly geometry: Geometry | null;
  /** File-space world matrices of the pose. */
  readonly worlds: readonly Mat4[];
  /** Role -> bone index. */
  readonly roleBones: ReadonlyMap<string, number>;
  readonly normalisation: Pick<Normalisation, 'scale' | 'rotation'>;
}

/** A vertex is the foot's where its bones carry at least this much of it. */
const FOOT_SHARE = 0.5;

/** Soles, hips and height, on the mesh where there is one, else on the joints. */
export function measureStature(input: StatureInput): Stature {
  const { rig, geometry, worlds, roleBones, normalisation } = input;
  const places = worlds.map((world) => toBody(normalisation, [world[12], world[13], world[14]]));
  const [left, right] = (['leftFoot', 'rightFoot'] as const).map((role) => footBones(rig, roleBones.get(role)));
  const extent = { low: Infinity, high: -Infinity };
  const soles = [Infinity, Infinity];
  for (const part of geometry?.parts ?? []) {
    visitHeights(input, part, (height, shareOf) => {
      extent.low = Math.min(extent.low, height);
      extent.high = Math.max(extent.high, height);
      [left, right].forEach((foot, side) => {
        if (foot && height < soles[side] && shareOf(foot) >= FOOT_SHARE) soles[side] = height;
      });
    });
  }
  const heights = places.map(([, y]) => y);
  const hasMesh = extent.low <= extent.high;
  const isOnMesh = [left, right].every((foot, side) => !foot || soles[side] < Infinity) && hasMesh;
  const soleOf = (foot: ReadonlySet<number> | null, side: 0 | 1): number | null => {
    if (!foot) return null;
    return isOnMesh ? soles[side] : Math.min(...[...foot].map((bone) => heights[bone]));
  };
  const hips = roleBones.get('hips');
  return {
    leftSole: soleOf(left, 0),
    rightSole: soleOf(right, 1),
    hips: hips === undefined ? null : heights[hips],
    lowest: hasMesh ? extent.low : Math.min(0, ...heights),
    crown: hasMesh ? extent.high : Math.max(0, ...heights),
    solesFrom: isOnMesh ? 'mesh' : 'bones',
  };
}

/** A foot and all that hangs on it; null without one. */
function footBones(rig: Rig, foot: number | undefined): ReadonlySet<number> | null {
  if (foot === undefined) return null;
  const bones = new Set([foot]);
  for (const bone of rig.bones) if (bones.has(bone.parent)) bones.add(bone.index);
  return bones;
}

type HeightVisitor = (height: number, shareOf: (bones: ReadonlySet<number>) => number) => void;

function visitHeights(input: StatureInput, part: GeometryPart, visit: HeightVisitor): void {
  const skin = input.geometry?.skins[part.skin];
  const heightOf = (point: Vec3): number => toBody(input.normalisation, point)[1];
  if (!skin || part.perVertex === 0) {
    const world = rigidWorld(input, part);
    const shareOf = (bones: ReadonlySet<number>) => (bones.has(part.bone) ? 1 : 0);
    for (let at = 0; at < part.positions.length; at += 3)
      visit(
        heightOf(transformPoint(world, [part.positions[at], part.positions[at + 1], part.positions[at + 2]])),
        shareOf,
      );
    return;
  }
  const { joints, weights, perVertex } = part;
  const posed = new Float32Array(part.positions.length);
  writeSkinnedPositions(posed, part.positions, {
    matrices: skinMatrices(skin, input.worlds),
    joints,
    weights,
    perVertex,
  });
  let vertex = 0;
  const shareOf = (bones: ReadonlySet<number>): number => {
    let share = 0;
    for (let slot = vertex * perVertex; slot < (vertex + 1) * perVertex; slot++)
      if (bones.has(skin.bones[joints[slot]])) share += weights[slot];
    return share;
  };
  for (; vertex * 3 < posed.length; vertex++)
    visit(heightOf([posed[vertex * 3], posed[vertex * 3 + 1], posed[vertex * 3 + 2]]), shareOf);
}

/** World of a part that moves as a whole, carried along by its bone. */
function rigidWorld({ rig, worlds }: StatureInput, part: GeometryPart): Mat4 {
  if (part.bone < 0) return part.world;
  const inverse = invertAffine(rig.bones[part.bone].restWorld);
  return inverse ? multiply(multiply(worlds[part.bone], inverse), part.world) : part.world;
}

/** Posed world times inverse bind, per joint of a skin. */
function skinMatrices(skin: GeometrySkin, worlds: readonly Mat4[]): Float64Array {
  const matrices = new Float64Array(skin.bones.length * 16);
  skin.bones.forEach((bone, at) => {
    const inverseBind = Array.from(skin.inverseBinds.subarray(at * 16, at * 16 + 16));
    matrices.set(multiply(worlds[bone] ?? IDENTITY, inverseBind), at * 16);
  });
  return matrices;
}
