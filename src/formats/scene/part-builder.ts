import type { DraftPart } from './scene-draft';

/** A corner of a polygon: a control point with what the file says at this corner. */
export interface Corner {
  readonly point: number;
  readonly normal: readonly [number, number, number] | null;
  readonly uv: readonly [number, number] | null;
  readonly colour: readonly [number, number, number, number] | null;
}

/** What belongs to control points, whichever corners use them. */
export interface PointData {
  /** [pointCount x 3] */
  readonly positions: Float64Array | Float32Array;
  /** [pointCount x perVertex] or null without a skin. */
  readonly joints: Uint16Array | null;
  readonly weights: Float32Array | null;
  readonly perVertex: number;
  /** Position differences per morph target, [pointCount x 3]. */
  readonly morphs: readonly Float32Array[];
}

/** Collects triangles of one material; corners that agree in everything become one vertex. */
export class PartBuilder {
  private readonly vertices: Corner[] = [];
  private readonly ofPoint = new Map<number, number[]>();
  private readonly indices: number[] = [];

  constructor(
    private readonly material: number,
    private readonly data: PointData,
  ) {}

  /** A polygon as a fan; corners in the file's order. */
  addPolygon(corners: readonly Corner[]): void {
    const at = corners.map((corner) => this.vertex(corner));
    for (let corner = 2; corner < at.length; corner++) this.indices.push(at[0], at[corner - 1], at[corner]);
  }

  private vertex(corner: Corner): number {
    const known = this.ofPoint.get(corner.point);
    const found = known?.find((index) => isSame(this.vertices[index], corner));
    if (found !== undefined) return found;
    const index = this.vertices.push(corner) - 1;
    if (known) known.push(index);
    else this.ofPoint.set(corner.point, [index]);
    return index;
  }

  build(): DraftPart {
    const { vertices, data, indices } = this;
    const has = {
      normal: vertices.some((vertex) => vertex.normal),
      uv: vertices.some((vertex) => vertex.uv),
      colour: vertices.some((vertex) => vertex.colour),
    };
    const gather = (source: ArrayLike<number>, size: number, out: Float32Array | Uint16Array) => {
      vertices.forEach(({ point }, index) => {
        for (let k = 0; k < size; k++) out[index * size + k] = source[point * size + k];
      });
      return out;
    };
    const fill = <Key extends 'normal' | 'uv' | 'colour'>(
      key: Key,
      size: number,
      fallback: readonly number[],
    ): Float32Array | null => {
      if (!has[key]) return null;
      const out = new Float32Array(vertices.length * size);
      vertices.forEach((vertex, index) => out.set(vertex[key] ?? fallback, index * size));
      return out;
    };
    return {
      material: this.material,
      positions: gather(data.positions, 3, new Float32Array(vertices.length * 3)) as Float32Array,
      normals: fill('normal', 3, [0, 1, 0]),
      uvs: fill('uv', 2, [0, 0]),
      colours: fill('colour', 4, [1, 1, 1, 1]),
      indices: Uint32Array.from(indices),
      joints:
        data.joints &&
        (gather(data.joints, data.perVertex, new Uint16Array(vertices.length * data.perVertex)) as Uint16Array),
      weights:
        data.weights &&
        (gather(data.weights, data.perVertex, new Float32Array(vertices.length * data.perVertex)) as Float32Array),
      perVertex: data.perVertex,
      morphs: data.morphs.map((deltas) => gather(deltas, 3, new Float32Array(vertices.length * 3)) as Float32Array),
    };
  }
}

const same = (a: readonly number[] | null, b: readonly number[] | null): boolean =>
  a === b || (!!a && !!b && a.every((value, at) => value === b[at]));

function isSame(a: Corner, b: Corner): boolean {
  return same(a.normal, b.normal) && same(a.uv, b.uv) && same(a.colour, b.colour);
}

/** Influences per point, however many each has -> flat arrays in sets of four. */
export function packInfluences(
  influences: readonly (readonly (readonly [joint: number, weight: number])[])[],
): Pick<PointData, 'joints' | 'weights' | 'perVertex'> {
  const most = influences.reduce((max, list) => Math.max(max, list.length), 1);
  const perVertex = Math.ceil(most / 4) * 4;
  const joints = new Uint16Array(influences.length * perVertex);
  const weights = new Float32Array(influences.length * perVertex);
  influences.forEach((list, point) =>
    list.forEach(([joint, weight], slot) => {
      joints[point * perVertex + slot] = joint;
      weights[point * perVertex + slot] = weight;
    }),
  );
  return { joints, weights, perVertex };
}
