import type { Accessor, Document, Node, Skin } from '@gltf-transform/core';
import { multiply, IDENTITY } from '@/core/math/mat4';
import type { Vec3 } from '@/core/math/vec3';
import type { FileFacts, PartFacts } from '@/core/rig/file-facts';
import type { Bone, Rig } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';
import { targetNamesOf } from './morph-names';
import { SeamFinder } from './read-seams';
import { readInfluences, type Influences } from './skin-influences';

/** Numbers beyond this overflow as soon as they are added up. */
const LARGEST = 1e15;
export const isPlace = (value: number): boolean => Math.abs(value) <= LARGEST;

export type MutableBone = { -readonly [K in keyof Bone]: Bone[K] };

/** Weights below this say nothing about which side a bone moves. */
const LEAST_TELLING = 0.02;
/** Vertices nearer to the middle than this belong to both sides; of the skeleton's largest extent. */
const MIDDLE_SHARE = 0.05;

type MeshSummary = { -readonly [Key in keyof Rig['mesh']]: Rig['mesh'][Key] };

/** What the meshes are, each part of them, and which bones move what of them. Sums up skin in `bones`. */
export function readMeshes(
  document: Document,
  worlds: ReadonlyMap<Node, readonly number[]>,
  boneOfNode: ReadonlyMap<Node, number>,
  bones: MutableBone[],
  place: string,
  remarks: string[],
): {
  readonly summary: MeshSummary;
  readonly parts: PartFacts[];
  readonly sides: FileFacts['sides'];
  readonly middle: FileFacts['middle'];
  readonly seams: FileFacts['seams'];
} {
  const root = document.getRoot();
  const summary: MeshSummary = {
    primitiveCount: 0,
    vertexCount: 0,
    triangleCount: 0,
    materialCount: root.listMaterials().length,
    textureCount: root.listTextures().length,
    morphTargetCount: 0,
    maxInfluences: 0,
    bounds: null,
  };
  const centres = bones.map(() => [0, 0, 0]);
  const [min, max] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  const parts: PartFacts[] = [];
  const middle = middleOf(bones);
  const sides = bones.map((): [number, number][] => [
    [0, 0],
    [0, 0],
    [0, 0],
  ]);
  const seams = new SeamFinder();
  const skins = root.listSkins();
  const materials = root.listMaterials();
  let unnormalised = 0;
  let infinite = 0;
  for (const [nodeIndex, node] of root.listNodes().entries()) {
    const mesh = node.getMesh();
    if (!mesh) continue;
    const skin = node.getSkin();
    for (const primitive of mesh.listPrimitives()) {
      const positions = primitive.getAttribute('POSITION');
      if (!positions) continue;
      const points = accessorFloats(positions, 3);
      summary.primitiveCount++;
      summary.vertexCount += positions.getCount();
      summary.triangleCount += Math.floor((primitive.getIndices()?.getCount() ?? positions.getCount()) / 3);
      summary.morphTargetCount = Math.max(summary.morphTargetCount, primitive.listTargets().length);
      const matrices = skin ? skinMatrices(skin, worlds) : null;
      const rigid = worlds.get(node) ?? IDENTITY;
      const influences = skin
        ? readInfluences(primitive, skin.listJoints().length, `${place}, mesh "${mesh.getName()}"`)
        : null;
      if (influences) {
        unnormalised += influences.unnormalisedCount;
        summary.maxInfluences = Math.max(summary.maxInfluences, influences.maxInfluences);
      }
      const jointBones = skin?.listJoints().map((joint) => boneOfNode.get(joint) ?? -1) ?? [];
      if (skin && influences)
        seams.add(primitive, points, influences, {
          index: skins.indexOf(skin),
          bones: jointBones,
          inverseBinds: inverseBindsOf(skin),
        });
      const world: [number, number, number] = [0, 0, 0];
      const infiniteBefore = infinite;
      const used = new Set<number>();
      for (let vertex = 0; vertex < positions.getCount(); vertex++) {
        const [x, y, z] = [points[vertex * 3], points[vertex * 3 + 1], points[vertex * 3 + 2]];
        if (influences && matrices) skinPoint(x, y, z, influences, vertex, matrices, world);
        else
          for (let row = 0; row < 3; row++)
            world[row] = rigid[row] * x + rigid[4 + row] * y + rigid[8 + row] * z + rigid[12 + row];
        // Without weights a vertex stands at the origin, whatever its own place.
        if (![x, y, z, world[0], world[1], world[2]].every(isPlace)) {
          infinite++;
          continue;
        }
        if (influences) {
          for (let at = 0; at < influences.perVertex; at++) {
            const weight = influences.weights[vertex * influences.perVertex + at];
            const bone = jointBones[influences.joints[vertex * influences.perVertex + at]];
            if (weight <= 0 || bone < 0) continue;
            bones[bone].skinWeight += weight;
            bones[bone].skinVertexCount++;
            used.add(bone);
            if (weight >= LEAST_TELLING) {
              for (let axis = 0; axis < 3; axis++) {
                if (world[axis] < middle.at[axis] - middle.slack) sides[bone][axis][0]++;
                else if (world[axis] > middle.at[axis] + middle.slack) sides[bone][axis][1]++;
              }
            }
            for (let axis = 0; axis < 3; axis++) centres[bone][axis] += world[axis] * weight;
          }
        }
        for (let axis = 0; axis < 3; axis++) {
          if (world[axis] < min[axis]) min[axis] = world[axis];
          if (world[axis] > max[axis]) max[axis] = world[axis];
        }
      }
      const material = primitive.getMaterial();
      parts.push({
        name: node.getName() || mesh.getName() || `node ${nodeIndex}`,
        nodeIndex,
        material: material ? materials.indexOf(material) : -1,
        skin: skin && influences ? skins.indexOf(skin) : -1,
        vertices: positions.getCount(),
        triangles: Math.floor((primitive.getIndices()?.getCount() ?? positions.getCount()) / 3),
        influences: influences?.maxInfluences ?? 0,
        bones: used.size,
        unweighted: influences?.unweightedCount ?? 0,
        unnormalised: influences?.unnormalisedCount ?? 0,
        worstSum: influences?.worstSum ?? 1,
        leastWeight: influences?.leastWeight ?? 0,
        infinite: infinite - infiniteBefore,
        morphs: targetNamesOf(mesh, primitive).map((name, at) => ({
          name,
          reach: reachOf(primitive.listTargets()[at].getAttribute('POSITION')),
        })),
      });
    }
  }
  bones.forEach((bone, index) => {
    if (bone.skinWeight > 0) bone.skinCentre = centres[index].map((sum) => sum / bone.skinWeight) as unknown as Vec3;
  });
  if (max[0] >= min[0]) summary.bounds = { min: min as unknown as Vec3, max: max as unknown as Vec3 };
  if (infinite > 0)
    remarks.push(`${infinite} vertices have a place that is not a finite number; they are left out of every measure.`);
  if (unnormalised > 0)
    remarks.push(`${unnormalised} vertices had skin weights that do not add up to 1; they are read normalised.`);
  return {
    summary,
    parts,
    middle,
    sides: sides.map((each, bone) => (bones[bone].skinWeight > 0 ? each : null)),
    seams: seams.found(),
  };
}

export function skinMatrices(skin: Skin, worlds: ReadonlyMap<Node, readonly number[]>): (readonly number[])[] {
  const inverseBinds = inverseBindsOf(skin);
  return skin.listJoints().map((joint, at) => multiply(worlds.get(joint) ?? IDENTITY, inverseBinds[at]));
}

function inverseBindsOf(skin: Skin): (readonly number[])[] {
  const inverse = skin.getInverseBindMatrices();
  return skin.listJoints().map((_joint, at) => (inverse ? inverse.getElement(at, []) : [...IDENTITY]));
}

/** Place of a vertex in the rest pose, written into `out`. */
export function skinPoint(
  px: number,
  py: number,
  pz: number,
  influences: Influences,
  vertex: number,
  matrices: readonly (readonly number[])[],
  out: [number, number, number],
): void {
  let [x, y, z] = [0, 0, 0];
  for (let at = vertex * influences.perVertex, slot = 0; slot < influences.perVertex; slot++, at++) {
    const weight = influences.weights[at];
    if (weight <= 0) continue;
    const m = matrices[influences.joints[at]];
    x += weight * (m[0] * px + m[4] * py + m[8] * pz + m[12]);
    y += weight * (m[1] * px + m[5] * py + m[9] * pz + m[13]);
    z += weight * (m[2] * px + m[6] * py + m[10] * pz + m[14]);
  }
  [out[0], out[1], out[2]] = [x, y, z];
}

/** Middle of the skeleton along each axis, as most joints have it, and how near to it counts as both sides. File units. */
function middleOf(bones: readonly Bone[]): FileFacts['middle'] {
  const ranges = [12, 13, 14].map((at) => bones.map(({ restWorld }) => restWorld[at]).sort((a, b) => a - b));
  const extent = Math.max(0, ...ranges.map((sorted) => (sorted[sorted.length - 1] ?? 0) - (sorted[0] ?? 0)));
  return { at: ranges.map((sorted) => sorted[sorted.length >> 1] ?? 0), slack: extent * MIDDLE_SHARE };
}

export function reachOf(deltas: Accessor | null): number {
  if (!deltas) return 0;
  const values = accessorFloats(deltas, 3);
  let most = 0;
  for (let at = 0; at < values.length; at += 3) {
    const reach = values[at] ** 2 + values[at + 1] ** 2 + values[at + 2] ** 2;
    if (reach > most) most = reach;
  }
  return Number.isFinite(most) ? Math.sqrt(most) : 0;
}
