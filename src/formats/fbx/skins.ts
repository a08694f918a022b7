import { invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { packInfluences, type PointData } from '../scene/part-builder';
import { childNamed, fbxError, numbersOf } from './fbx-tree';
import type { FbxObject, FbxObjects } from './objects';

export interface FbxSkin {
  /** Model per joint. */
  readonly joints: readonly FbxObject[];
  /** World of each joint when the mesh was bound, column-major. */
  readonly bindWorlds: readonly Mat4[];
  /** World of the mesh when it was bound; its points are moved there, so that bind poses stay the bones' own. */
  readonly meshWorld: Mat4 | null;
  readonly influences: Pick<PointData, 'joints' | 'weights' | 'perVertex'>;
  readonly remarks: readonly string[];
}

/** The skin of a geometry, all its clusters and influences; null without one. @throws {YarvoError} */
export function readSkin(objects: FbxObjects, geometry: FbxObject, pointCount: number): FbxSkin | null {
  const skins = objects.childrenOf(geometry, 'Deformer').filter(({ object }) => object.type === 'Skin');
  if (skins.length === 0) return null;
  const joints: FbxObject[] = [];
  const bindWorlds: Mat4[] = [];
  const meshWorlds: Mat4[] = [];
  const transforms: Mat4[] = [];
  const influences: [number, number][][] = Array.from({ length: pointCount }, () => []);
  const remarks: string[] = [];
  for (const { object: cluster } of skins.flatMap(({ object }) => objects.childrenOf(object, 'Deformer'))) {
    if (cluster.type !== 'Cluster') continue;
    const link = objects.childrenOf(cluster, 'Model')[0]?.object;
    const indexes = numbersOf(childNamed(cluster.node, 'Indexes'));
    if (!link) {
      if (indexes.length > 0)
        remarks.push(
          `${indexes.length} vertices were bound to a bone that the file no longer holds; that influence is left out.`,
        );
      continue;
    }
    const weights = numbersOf(childNamed(cluster.node, 'Weights'));
    if (weights.length !== indexes.length)
      throw fbxError(
        'bad-weights',
        `A cluster has ${indexes.length} points and ${weights.length} weights.`,
        cluster.node.place,
        'Bind the mesh again and export.',
      );
    const known = joints.indexOf(link);
    const joint = known >= 0 ? known : joints.push(link) - 1;
    if (known < 0) {
      const transformLink = matrixOf(cluster, 'TransformLink') ?? IDENTITY;
      bindWorlds.push(transformLink);
      const transform = matrixOf(cluster, 'Transform');
      if (transform) {
        transforms.push(transform);
        meshWorlds.push(multiply(transformLink, transform));
      }
    }
    if (textMode(cluster) === 'Additive')
      remarks.push(`The cluster of ${link.name} is additive, which is not read; its weights are taken as plain ones.`);
    for (let at = 0; at < indexes.length; at++) {
      const list = influences[indexes[at]];
      if (!list)
        throw fbxError(
          'bad-index',
          `A cluster names point ${indexes[at]} of ${pointCount}.`,
          cluster.node.place,
          'Bind the mesh again and export.',
        );
      if (weights[at] > 0) list.push([joint, weights[at]]);
    }
  }
  if (joints.length === 0) return null;
  const unbound = influences.filter((list) => list.length === 0).length;
  if (unbound > 0) {
    remarks.push(
      `${unbound} vertices of ${geometry.name || 'a mesh'} are bound to no bone; they follow ${joints[0].name}.`,
    );
    for (const list of influences) if (list.length === 0) list.push([0, 1]);
  }
  return {
    joints,
    bindWorlds,
    meshWorld: agreedMeshWorld(meshWorlds, transforms),
    influences: packInfluences(influences),
    remarks,
  };
}

const textMode = (cluster: FbxObject): string => String(childNamed(cluster.node, 'Mode')?.values[0] ?? '');

function matrixOf(cluster: FbxObject, name: string): Mat4 | null {
  const values = numbersOf(childNamed(cluster.node, name));
  if (values.length !== 16) return null;
  const matrix = Array.from(values, Number);
  return matrix.every(Number.isFinite) && invertAffine(matrix) ? matrix : null;
}

/**
 * "Transform" holds the mesh relative to the bone, so bone times it is the mesh's world, the same for all clusters.
 * Some writers put the mesh's world there itself; then the values themselves agree. Null where neither does.
 */
function agreedMeshWorld(relative: readonly Mat4[], absolute: readonly Mat4[]): Mat4 | null {
  if (relative.length === 0) return null;
  if (spread(relative) <= 1e-3) return relative[0];
  return spread(absolute) <= 1e-6 ? absolute[0] : null;
}

/** Largest difference between the first matrix and the others, relative to its size. */
function spread(matrices: readonly Mat4[]): number {
  const size = Math.max(...matrices[0].map(Math.abs), 1e-9);
  return (
    Math.max(...matrices.map((matrix) => Math.max(...matrix.map((value, at) => Math.abs(value - matrices[0][at]))))) /
    size
  );
}
