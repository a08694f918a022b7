import { YarvoError } from '@/core/errors/yarvo-error';
import { IDENTITY, type Mat4 } from '@/core/math/mat4';
import { packInfluences, type PointData } from '../scene/part-builder';
import type { DraftSkin } from '../scene/scene-draft';
import { rowsToColumns, type ColladaNode } from './nodes';
import { elementOf, readInputs, readSources } from './sources';
import { child, numbers, placeOf, text, type Xml } from './xml';

export interface ColladaSkin {
  readonly skin: DraftSkin;
  /** Moves the points to where they were bound. */
  readonly bindShape: Mat4;
  readonly influences: Pick<PointData, 'joints' | 'weights' | 'perVertex'>;
}

/**
 * A <skin>. Its joints are named by sid below the given skeletons, or by id.
 * @throws {YarvoError} where a joint is not in the scene.
 */
export function readSkin(
  element: Xml,
  pointCount: number,
  nodes: readonly ColladaNode[],
  skeletons: readonly ColladaNode[],
  parents: readonly number[],
  place: string,
): ColladaSkin {
  const sources = readSources(element, place);
  const here = placeOf(element, place);
  const inputs = readInputs(child(element, 'joints') ?? element, sources, undefined, place);
  const jointSource = inputs.find((input) => input.semantic === 'JOINT')?.source;
  const bindSource = inputs.find((input) => input.semantic === 'INV_BIND_MATRIX')?.source;
  if (!jointSource)
    throw new YarvoError({
      code: 'bad-skin',
      message: 'A skin names no joints.',
      place: here,
      remedy: 'Bind the mesh again and export.',
    });
  const joints = jointSource.names
    .slice(0, jointSource.count)
    .map((name) => findJoint(name, nodes, skeletons, parents, here).index);
  const inverseBinds = new Float32Array(joints.length * 16);
  joints.forEach((_, at) => {
    const matrix = bindSource && at < bindSource.count ? rowsToColumns(elementOf(bindSource, at, 16)) : [...IDENTITY];
    if (!matrix.every(Number.isFinite))
      throw new YarvoError({
        code: 'bad-number',
        message: `The bind matrix of "${jointSource.names[at]}" is not finite.`,
        place: here,
        remedy: 'Bind the mesh again and export.',
      });
    inverseBinds.set(matrix, at * 16);
  });
  const shape = numbers(child(element, 'bind_shape_matrix'));
  return {
    skin: { joints, inverseBinds },
    bindShape: shape.length === 16 ? rowsToColumns(shape) : IDENTITY,
    influences: readWeights(child(element, 'vertex_weights'), sources, pointCount, joints.length, place),
  };
}

function findJoint(
  name: string,
  nodes: readonly ColladaNode[],
  skeletons: readonly ColladaNode[],
  parents: readonly number[],
  place: string,
): ColladaNode {
  const isBelow = (node: ColladaNode) => {
    for (let at = node.index; at >= 0; at = parents[at]) if (skeletons.some((top) => top.index === at)) return true;
    return skeletons.length === 0;
  };
  // The standard looks for sid below the skeleton; files also name joints by id or by name.
  const found =
    nodes.find((node) => node.sid === name && isBelow(node)) ??
    nodes.find((node) => node.sid === name) ??
    nodes.find((node) => node.id === name) ??
    nodes.find((node) => node.element.getAttribute('name') === name);
  if (!found)
    throw new YarvoError({
      code: 'missing-joint',
      message: `A skin is bound to "${name}", which is not in the scene.`,
      place,
      remedy: 'Export skeleton and mesh together.',
    });
  return found;
}

function readWeights(
  element: Xml | undefined,
  sources: Parameters<typeof readInputs>[1],
  pointCount: number,
  jointCount: number,
  place: string,
): ColladaSkin['influences'] {
  const influences: [number, number][][] = Array.from({ length: pointCount }, () => []);
  if (element) {
    const here = placeOf(element, place);
    const inputs = readInputs(element, sources, undefined, place);
    const width = Math.max(...inputs.map((input) => input.offset), 0) + 1;
    const [joint, weight] = ['JOINT', 'WEIGHT'].map((semantic) => inputs.find((input) => input.semantic === semantic));
    const counts = numbers(child(element, 'vcount'));
    const flat = text(child(element, 'v')) === '' ? new Float64Array(0) : numbers(child(element, 'v'));
    if (!joint || !weight || counts.length > pointCount)
      throw new YarvoError({
        code: 'bad-weights',
        message: `Weights for ${counts.length} points, the mesh has ${pointCount}.`,
        place: here,
        remedy: 'Bind the mesh again and export.',
      });
    let at = 0;
    counts.forEach((count, point) => {
      for (let k = 0; k < count; k++, at++) {
        const [jointAt, weightAt] = [flat[at * width + joint.offset], flat[at * width + weight.offset]];
        // -1 stands for the bind shape itself.
        if (jointAt === -1) continue;
        if (!(jointAt >= 0 && jointAt < jointCount) || !(weightAt >= 0 && weightAt < weight.source.count))
          throw new YarvoError({
            code: 'bad-index',
            message: `A weight names joint ${jointAt} of ${jointCount}.`,
            place: `${here}, vertex ${point}`,
            remedy: 'Bind the mesh again and export.',
          });
        const value = elementOf(weight.source, weightAt, 1)[0];
        if (value > 0) influences[point].push([jointAt, value]);
      }
    });
  }
  for (const list of influences) if (list.length === 0) list.push([0, 1]);
  return packInfluences(influences);
}
