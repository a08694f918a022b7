import type { Normalisation } from '../frame/normalise';
import { toBody } from '../frame/normalise';
import type { Geometry, GeometryPart } from '../geometry/geometry';
import { invertAffine, multiply, IDENTITY, type Mat4 } from '../math/mat4';
import type { Rig } from '../rig/rig';

/** Some vertices of some parts, taken out so that they can be posed again and again without the rest of the mesh. */
export interface SkinnedSelection {
  readonly chunks: readonly SelectionChunk[];
  readonly vertexCount: number;
}

interface SelectionChunk {
  /** Vertices taken of the part, by their index in it. */
  readonly vertices: Uint32Array;
  readonly part: GeometryPart;
  /** Bone of each joint, and inverse bind, column-major. */
  readonly bones: readonly number[];
  readonly inverseBinds: readonly Mat4[];
}

/** A vertex belongs to bones that carry at least this much of it. */
const OWN_SHARE = 0.5;

/** Vertices that some bones carry, of skinned parts and of parts that hang on a bone as a whole. */
export function selectVertices(rig: Rig, geometry: Geometry, owners: ReadonlySet<number>): SkinnedSelection {
  const chunks: SelectionChunk[] = [];
  let vertexCount = 0;
  for (const part of geometry.parts) {
    const skin = part.perVertex > 0 ? geometry.skins[part.skin] : undefined;
    const vertices: number[] = [];
    const count = part.positions.length / 3;
    for (let vertex = 0; vertex < count; vertex++) {
      let share = skin ? 0 : owners.has(part.bone) ? 1 : 0;
      for (let slot = vertex * part.perVertex; skin && slot < (vertex + 1) * part.perVertex; slot++)
        if (owners.has(skin.bones[part.joints[slot]])) share += part.weights[slot];
      if (share >= OWN_SHARE) vertices.push(vertex);
    }
    if (vertices.length === 0) continue;
    vertexCount += vertices.length;
    const bones = skin ? skin.bones : [part.bone];
    const inverseBinds = skin
      ? skin.bones.map((_, joint): Mat4 => Array.from(skin.inverseBinds.subarray(joint * 16, joint * 16 + 16)))
      : [multiply(invertAffine(rig.bones[part.bone].restWorld) ?? IDENTITY, part.world)];
    chunks.push({ vertices: Uint32Array.from(vertices), part, bones, inverseBinds });
  }
  return { chunks, vertexCount };
}

/**
 * Places of the vertices in a pose, [vertexCount x 3], metres in the body's axes. Linear blend skinning in double
 * precision.
 * @param worlds file-space world matrices of the pose.
 */
export function posedPlaces(
  { chunks, vertexCount }: SkinnedSelection,
  worlds: readonly Mat4[],
  normalisation: Pick<Normalisation, 'scale' | 'rotation'>,
): Float64Array {
  const places = new Float64Array(vertexCount * 3);
  let at = 0;
  for (const { vertices, part, bones, inverseBinds } of chunks) {
    const matrices = bones.map((bone, joint) => multiply(worlds[bone] ?? IDENTITY, inverseBinds[joint]));
    for (const vertex of vertices) {
      const [px, py, pz] = [part.positions[vertex * 3], part.positions[vertex * 3 + 1], part.positions[vertex * 3 + 2]];
      let [x, y, z] = [0, 0, 0];
      const slots = Math.max(1, part.perVertex);
      for (let slot = 0; slot < slots; slot++) {
        const weight = part.perVertex > 0 ? part.weights[vertex * slots + slot] : 1;
        if (weight <= 0) continue;
        const m = matrices[part.perVertex > 0 ? part.joints[vertex * slots + slot] : 0];
        x += weight * (m[0] * px + m[4] * py + m[8] * pz + m[12]);
        y += weight * (m[1] * px + m[5] * py + m[9] * pz + m[13]);
        z += weight * (m[2] * px + m[6] * py + m[10] * pz + m[14]);
      }
      places.set(toBody(normalisation, [x, y, z]), at);
      at += 3;
    }
  }
  return places;
}

/** The bone that carries most of each vertex, [vertexCount]. */
export function heaviestBones({ chunks, vertexCount }: SkinnedSelection): Int32Array {
  const out = new Int32Array(vertexCount);
  let at = 0;
  for (const { vertices, part, bones } of chunks)
    for (const vertex of vertices) {
      let best = vertex * part.perVertex;
      for (let slot = best + 1; slot < (vertex + 1) * part.perVertex; slot++)
        if (part.weights[slot] > part.weights[best]) best = slot;
      out[at++] = part.perVertex > 0 ? bones[part.joints[best]] : bones[0];
    }
  return out;
}

/** Triangles whose three corners were all taken, [triangleCount x 3], as indices into the places. */
export function selectedTriangles({ chunks }: SkinnedSelection): Uint32Array {
  const triangles: number[] = [];
  let first = 0;
  for (const { vertices, part } of chunks) {
    const place = new Map<number, number>();
    vertices.forEach((vertex, order) => place.set(vertex, first + order));
    for (let corner = 0; corner < part.indices.length; corner += 3) {
      const found = [0, 1, 2].map((each) => place.get(part.indices[corner + each]));
      if (found.every((each) => each !== undefined)) triangles.push(...(found as number[]));
    }
    first += vertices.length;
  }
  return Uint32Array.from(triangles);
}

/** Some bones and all that hangs on them, but for what hangs on others that are named. */
export function bonesBelow(rig: Rig, tops: readonly (number | undefined)[], stops: ReadonlySet<number>): Set<number> {
  const found = new Set(tops.filter((bone) => bone !== undefined));
  for (const { index, parent } of rig.bones) if (found.has(parent) && !stops.has(index)) found.add(index);
  return found;
}
