import type { Document, Primitive } from '@gltf-transform/core';
import { YarvoError } from '@/core/errors/yarvo-error';
import { accessorFloats } from './accessor-floats';
import { bufferOf } from './document-parts';

/** All influences of a primitive's vertices, however many sets the file has. Weights of a vertex add up to 1. */
export interface Influences {
  readonly perVertex: number;
  /** [vertexCount x perVertex] index into the skin's joint list. */
  readonly joints: Uint16Array;
  /** [vertexCount x perVertex] normalised weights. */
  readonly weights: Float32Array;
  readonly maxInfluences: number;
  readonly unnormalisedCount: number;
  /** Vertices without any weight. */
  readonly unweightedCount: number;
  /** Whether the sum of a vertex is further from 1 than the format lets pass, though nobody would see it. */
  readonly isUneven: boolean;
  /** The sum that is furthest from 1, and the least weight above 0 (0 without any), as the file has them. */
  readonly worstSum: number;
  readonly leastWeight: number;
  /** True where a vertex named a joint twice, or an unused slot named a joint: tidied here, and invalid as written. */
  readonly isTidied: boolean;
}

const WEIGHT_TOLERANCE = 0.01;
/** The format's validator lets 2e-7 pass for each influence; one is the least that a vertex has. */
const FORMAT_TOLERANCE = 1e-7;

/** @throws {YarvoError} where a vertex names a joint that its skin does not have, or the sets disagree in length. */
export function readInfluences(primitive: Primitive, jointCount: number, place: string): Influences | null {
  const vertexCount = primitive.getAttribute('POSITION')?.getCount() ?? 0;
  const sets = influenceSets(primitive);
  if (sets.length === 0) return null;
  const perVertex = sets.length * 4;
  const joints = new Uint16Array(vertexCount * perVertex);
  const weights = new Float32Array(vertexCount * perVertex);
  sets.forEach(({ joint, weight }, set) => {
    if (joint.getCount() !== vertexCount || weight.getCount() !== vertexCount) {
      throw new YarvoError({
        code: 'bad-weights',
        message: 'Skin weights and vertices differ in number.',
        place,
        remedy: 'Export the mesh again.',
      });
    }
    const [indices, shares] = [joint.getArray(), accessorFloats(weight, 4)];
    for (let vertex = 0; vertex < vertexCount; vertex++) {
      const at = vertex * perVertex + set * 4;
      for (let slot = 0; slot < 4; slot++) {
        joints[at + slot] = indices?.[vertex * 4 + slot] ?? 0;
        weights[at + slot] = shares[vertex * 4 + slot];
      }
    }
  });
  let unnormalisedCount = 0;
  let maxInfluences = 0;
  let unweightedCount = 0;
  let worstSum = 1;
  let leastWeight = Infinity;
  let isTidied = false;
  let isUneven = false;
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    let sum = 0;
    let used = 0;
    for (let at = vertex * perVertex; at < (vertex + 1) * perVertex; at++) {
      if (weights[at] === Infinity)
        throw new YarvoError({
          code: 'bad-weights',
          message: 'A skin weight is infinite.',
          place: `${place}, vertex ${vertex}`,
          remedy: 'Bind the mesh again and export.',
        });
      if (!(weights[at] > 0)) {
        weights[at] = 0;
        if (joints[at] !== 0) isTidied = true;
        joints[at] = 0;
        continue;
      }
      if (joints[at] >= jointCount) {
        throw new YarvoError({
          code: 'bad-index',
          message: `A vertex is bound to joint ${joints[at]}, but its skin has ${jointCount}.`,
          place: `${place}, vertex ${vertex}`,
          remedy: 'Bind the mesh again and export.',
        });
      }
      sum += weights[at];
      if (weights[at] < leastWeight) leastWeight = weights[at];
      let first = vertex * perVertex;
      while (first < at && !(joints[first] === joints[at] && weights[first] > 0)) first++;
      if (first < at) {
        weights[first] += weights[at];
        [joints[at], weights[at], isTidied] = [0, 0, true];
        continue;
      }
      used++;
    }
    maxInfluences = Math.max(maxInfluences, used);
    if (sum === 0) unweightedCount++;
    else if (Math.abs(sum - 1) > WEIGHT_TOLERANCE) unnormalisedCount++;
    if (sum > 0 && Math.abs(sum - 1) > FORMAT_TOLERANCE) isUneven = true;
    if (sum > 0 && Math.abs(sum - 1) > Math.abs(worstSum - 1)) worstSum = sum;
    if (sum > 0) for (let at = vertex * perVertex; at < (vertex + 1) * perVertex; at++) weights[at] /= sum;
  }
  return {
    perVertex,
    joints,
    weights,
    maxInfluences,
    unnormalisedCount,
    unweightedCount,
    worstSum,
    leastWeight: Number.isFinite(leastWeight) ? leastWeight : 0,
    isTidied,
    isUneven,
  };
}

export function influenceSets(primitive: Primitive) {
  const sets = [];
  for (let set = 0; ; set++) {
    const joint = primitive.getAttribute(`JOINTS_${set}`);
    const weight = primitive.getAttribute(`WEIGHTS_${set}`);
    if (!joint || !weight) return sets;
    sets.push({ joint, weight });
  }
}

/** Writes weights that add up to 1, each joint named once a vertex, in as few sets of four as hold them. */
export function writeInfluences(
  document: Document,
  primitive: Primitive,
  { joints, weights, perVertex }: Pick<Influences, 'joints' | 'weights' | 'perVertex'>,
): void {
  const vertexCount = weights.length / perVertex;
  const order = usedFirst({ joints, weights, perVertex });
  const sets = Math.max(1, Math.ceil(order.most / 4));
  influenceSets(primitive).forEach((_, set) => {
    primitive.setAttribute(`JOINTS_${set}`, null).setAttribute(`WEIGHTS_${set}`, null);
  });
  for (let set = 0; set < sets; set++) {
    const setJoints = new Uint16Array(vertexCount * 4);
    const setWeights = new Float32Array(vertexCount * 4);
    for (let vertex = 0; vertex < vertexCount; vertex++) {
      for (let slot = 0; slot < 4 && set * 4 + slot < perVertex; slot++) {
        const from = vertex * perVertex + set * 4 + slot;
        setJoints[vertex * 4 + slot] = order.joints[from];
        setWeights[vertex * 4 + slot] = order.weights[from];
      }
    }
    const buffer = bufferOf(document);
    const accessor = (array: Uint16Array | Float32Array) =>
      document.createAccessor().setType('VEC4').setArray(array).setBuffer(buffer);
    primitive.setAttribute(`JOINTS_${set}`, accessor(setJoints)).setAttribute(`WEIGHTS_${set}`, accessor(setWeights));
  }
}

/** Each vertex's influences with the used ones in front, and the most that one vertex has. */
function usedFirst({ joints, weights, perVertex }: Pick<Influences, 'joints' | 'weights' | 'perVertex'>) {
  const [outJoints, outWeights] = [new Uint16Array(joints.length), new Float32Array(weights.length)];
  let most = 0;
  for (let first = 0; first < weights.length; first += perVertex) {
    let used = 0;
    for (let at = first; at < first + perVertex; at++) {
      if (weights[at] <= 0) continue;
      outJoints[first + used] = joints[at];
      outWeights[first + used] = weights[at];
      used++;
    }
    most = Math.max(most, used);
  }
  return { joints: outJoints, weights: outWeights, most };
}
