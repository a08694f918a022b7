import type { Primitive } from '@gltf-transform/core';
import { transformPoint, IDENTITY, type Mat4 } from '@/core/math/mat4';
import type { FileFacts } from '@/core/rig/file-facts';
import type { Influences } from './skin-influences';

/** A skin as far as its seams are told. */
interface SeamSkin {
  /** Index among the file's skins. */
  readonly index: number;
  /** Bone of each joint, -1 for one that is no bone. */
  readonly bones: readonly number[];
  /** Inverse bind matrix of each joint; identities where the file has none. */
  readonly inverseBinds: readonly Mat4[];
}

interface Seam {
  readonly joints: readonly [number, number];
  readonly skin: SeamSkin;
  edges: number;
  readonly sum: [number, number, number];
}

/** Fewer edges than these are no seam: a stray vertex makes them. */
const LEAST_EDGES = 3;
const TRIANGLES = 4;

/**
 * Where the mesh goes over from one bone to another: the middle of the edges between vertices that different bones move
 * most, in the space of each of the two. In any pose the two places tell how far the mesh is torn apart there.
 */
export class SeamFinder {
  private readonly seams = new Map<string, Seam>();

  add(primitive: Primitive, points: Float32Array, influences: Influences, skin: SeamSkin): void {
    if (primitive.getMode() !== TRIANGLES) return;
    const { joints, weights, perVertex } = influences;
    const count = points.length / 3;
    const leading = new Int32Array(count);
    for (let vertex = 0; vertex < count; vertex++) {
      let best = -1;
      for (let at = vertex * perVertex; at < (vertex + 1) * perVertex; at++)
        if (weights[at] > 0 && (best < 0 || weights[at] > weights[best])) best = at;
      leading[vertex] = best < 0 ? -1 : joints[best];
    }
    const indices = primitive.getIndices()?.getArray() ?? null;
    const corners = indices?.length ?? count;
    const corner = (at: number): number => (indices ? indices[at] : at);
    for (let at = 0; at + 2 < corners; at += 3)
      for (let edge = 0; edge < 3; edge++) {
        const from = corner(at + edge);
        const to = corner(at + ((edge + 1) % 3));
        if (from < count && to < count && leading[from] !== leading[to]) this.count(points, from, to, leading, skin);
      }
  }

  private count(points: Float32Array, from: number, to: number, leading: Int32Array, skin: SeamSkin): void {
    const pair = [leading[from], leading[to]].sort((a, b) => a - b) as [number, number];
    if (pair.some((joint) => joint < 0 || (skin.bones[joint] ?? -1) < 0)) return;
    const middle = [0, 1, 2].map((axis) => (points[from * 3 + axis] + points[to * 3 + axis]) / 2);
    if (!middle.every(Number.isFinite)) return;
    const key = `${skin.index} ${pair.join(' ')}`;
    const seam = this.seams.get(key) ?? { joints: pair, skin, edges: 0, sum: [0, 0, 0] };
    seam.edges++;
    middle.forEach((value, axis) => (seam.sum[axis] += value));
    this.seams.set(key, seam);
  }

  /** All seams that were found, in the order in which they were. */
  found(): FileFacts['seams'] {
    return [...this.seams.values()]
      .filter(({ edges }) => edges >= LEAST_EDGES)
      .map(({ joints, skin, edges, sum }) => {
        const middle = sum.map((value) => value / edges) as [number, number, number];
        const places = joints.map((joint) => transformPoint(skin.inverseBinds[joint] ?? IDENTITY, middle));
        return {
          bones: joints.map((joint) => skin.bones[joint]) as [number, number],
          places: places.map(([x, y, z]) => [x, y, z]) as [[number, number, number], [number, number, number]],
          edges,
        };
      })
      .filter(({ bones, places }) => bones[0] !== bones[1] && places.flat().every(Number.isFinite));
  }
}
