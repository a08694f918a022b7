/**
 * Reads and skins a GLB from its own arrays. Shares nothing with Yarvo's code and nothing with a loader, which would
 * leave influences out: it is the judge of what Yarvo writes. Core glTF 2.0 only, everything in one chunk.
 */
interface RawNode {
  readonly name?: string;
  readonly children?: readonly number[];
  readonly mesh?: number;
  readonly skin?: number;
  readonly matrix?: readonly number[];
  readonly translation?: readonly number[];
  readonly rotation?: readonly number[];
  readonly scale?: readonly number[];
}

interface RawAccessor {
  readonly bufferView?: number;
  readonly byteOffset?: number;
  readonly componentType: number;
  readonly normalized?: boolean;
  readonly count: number;
  readonly type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4';
  readonly sparse?: {
    readonly count: number;
    readonly indices: { readonly bufferView: number; readonly byteOffset?: number; readonly componentType: number };
    readonly values: { readonly bufferView: number; readonly byteOffset?: number };
  };
}

interface RawPrimitive {
  readonly attributes: Readonly<Record<string, number>>;
  readonly targets?: readonly Readonly<Record<string, number>>[];
}

export interface RawGlb {
  readonly nodes: readonly RawNode[];
  readonly meshes?: readonly { readonly primitives: readonly RawPrimitive[] }[];
  readonly skins?: readonly { readonly joints: readonly number[]; readonly inverseBindMatrices?: number }[];
  readonly accessors: readonly RawAccessor[];
  readonly bufferViews: readonly {
    readonly byteOffset?: number;
    readonly byteLength: number;
    readonly byteStride?: number;
  }[];
  readonly bin: DataView;
}

const SIZES = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT4: 16 } as const;
type Matrix = readonly number[];

export function parseGlb(bytes: Uint8Array): RawGlb {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const jsonLength = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + jsonLength))) as Omit<RawGlb, 'bin'>;
  const binStart = 20 + jsonLength + 8;
  return { ...json, bin: new DataView(bytes.buffer, bytes.byteOffset + binStart, bytes.byteLength - binStart) };
}

function component(view: DataView, at: number, type: number, isNormalised: boolean): number {
  switch (type) {
    case 5120:
      return isNormalised ? Math.max(view.getInt8(at) / 127, -1) : view.getInt8(at);
    case 5121:
      return isNormalised ? view.getUint8(at) / 255 : view.getUint8(at);
    case 5122:
      return isNormalised ? Math.max(view.getInt16(at, true) / 32767, -1) : view.getInt16(at, true);
    case 5123:
      return isNormalised ? view.getUint16(at, true) / 65535 : view.getUint16(at, true);
    case 5125:
      return view.getUint32(at, true);
    default:
      return view.getFloat32(at, true);
  }
}
const bytesOf = (type: number): number => (type === 5120 || type === 5121 ? 1 : type === 5122 || type === 5123 ? 2 : 4);

function readAccessor(glb: RawGlb, index: number): Float64Array {
  const { count, type, componentType, normalized = false, sparse, ...accessor } = glb.accessors[index];
  const size = SIZES[type];
  const out = new Float64Array(count * size);
  const width = bytesOf(componentType);
  if (accessor.bufferView !== undefined) {
    const { byteOffset = 0, byteStride = width * size } = glb.bufferViews[accessor.bufferView];
    for (let at = 0; at < count; at++)
      for (let part = 0; part < size; part++)
        out[at * size + part] = component(
          glb.bin,
          byteOffset + (accessor.byteOffset ?? 0) + at * byteStride + part * width,
          componentType,
          normalized,
        );
  }
  if (sparse) {
    const where = (glb.bufferViews[sparse.indices.bufferView].byteOffset ?? 0) + (sparse.indices.byteOffset ?? 0);
    const what = (glb.bufferViews[sparse.values.bufferView].byteOffset ?? 0) + (sparse.values.byteOffset ?? 0);
    const step = bytesOf(sparse.indices.componentType);
    for (let at = 0; at < sparse.count; at++) {
      const target = component(glb.bin, where + at * step, sparse.indices.componentType, false);
      for (let part = 0; part < size; part++)
        out[target * size + part] = component(glb.bin, what + (at * size + part) * width, componentType, normalized);
    }
  }
  return out;
}

/** Column-major product. */
function times(a: Matrix, b: Matrix): number[] {
  const out = new Array<number>(16).fill(0);
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 4; row++)
      for (let k = 0; k < 4; k++) out[column * 4 + row] += a[k * 4 + row] * b[column * 4 + k];
  return out;
}

function localOf({ matrix, translation = [0, 0, 0], rotation = [0, 0, 0, 1], scale = [1, 1, 1] }: RawNode): Matrix {
  if (matrix) return matrix;
  const [x, y, z, w] = rotation;
  const columns = [
    [1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)],
    [2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)],
    [2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)],
  ];
  return [
    ...columns.flatMap((column, at) => [...column.map((value) => value * scale[at]), 0]),
    translation[0],
    translation[1],
    translation[2],
    1,
  ];
}

/** A pose of the file: local rotations by node, and how far one node is moved in the file's space. */
export interface RawPose {
  readonly rotations: ReadonlyMap<number, readonly number[]>;
  readonly moved: { readonly node: number; readonly offset: readonly number[] } | null;
}

/** World matrices of all nodes. */
export function worldsOf(glb: RawGlb, pose: RawPose = { rotations: new Map(), moved: null }): Matrix[] {
  const worlds: Matrix[] = [];
  const children = new Set(glb.nodes.flatMap((node) => node.children ?? []));
  const visit = (index: number, above: Matrix | null): void => {
    const node = glb.nodes[index];
    const rotation = pose.rotations.get(index);
    if (rotation && node.matrix) throw new Error(`node ${index} has a matrix and cannot be turned`);
    const local = localOf(rotation ? { ...node, rotation } : node);
    const world = above ? times(above, local) : [...local];
    if (pose.moved?.node === index) for (const axis of [0, 1, 2]) world[12 + axis] += pose.moved.offset[axis];
    worlds[index] = world;
    for (const child of node.children ?? []) visit(child, world);
  };
  glb.nodes.forEach((_, index) => {
    if (!children.has(index)) visit(index, null);
  });
  return worlds;
}

/** One part of a skinned mesh, skinned. */
export interface RawSkinned {
  readonly positions: Float64Array;
  /** Unit; null where the file has none. */
  readonly normals: Float64Array | null;
  readonly tangents: Float64Array | null;
  /** What each morph target moves the positions by, at full weight. */
  readonly targets: readonly Float64Array[];
}

/** Skins every part with every influence the file names, weights made to add up to 1. */
export function skinAll(glb: RawGlb, worlds: readonly Matrix[], after: Matrix): RawSkinned[] {
  return glb.nodes.flatMap((node) => {
    if (node.mesh === undefined || node.skin === undefined || !glb.skins || !glb.meshes) return [];
    const skin = glb.skins[node.skin];
    const inverse = skin.inverseBindMatrices === undefined ? null : readAccessor(glb, skin.inverseBindMatrices);
    const matrices = skin.joints.map((joint, at) =>
      times(after, inverse ? times(worlds[joint], Array.from(inverse.subarray(at * 16, at * 16 + 16))) : worlds[joint]),
    );
    return glb.meshes[node.mesh].primitives
      .filter(({ attributes }) => attributes.JOINTS_0 !== undefined)
      .map((primitive) => skinPart(glb, primitive, matrices));
  });
}

function skinPart(glb: RawGlb, { attributes, targets = [] }: RawPrimitive, matrices: readonly Matrix[]): RawSkinned {
  const read = (name: string) => (attributes[name] === undefined ? null : readAccessor(glb, attributes[name]));
  const positions = read('POSITION') as Float64Array;
  const [normals, tangents] = [read('NORMAL'), read('TANGENT')];
  const sets: { joints: Float64Array; weights: Float64Array }[] = [];
  for (let set = 0; attributes[`JOINTS_${set}`] !== undefined; set++)
    sets.push({ joints: read(`JOINTS_${set}`) as Float64Array, weights: read(`WEIGHTS_${set}`) as Float64Array });
  const deltas = targets.map((target) => (target.POSITION === undefined ? null : readAccessor(glb, target.POSITION)));
  const count = positions.length / 3;
  const out = {
    positions: new Float64Array(count * 3),
    normals: normals && new Float64Array(count * 3),
    tangents: tangents && new Float64Array(count * 3),
    targets: deltas.map(() => new Float64Array(count * 3)),
  };
  for (let vertex = 0; vertex < count; vertex++) {
    const blend = blended(sets, vertex, matrices);
    const at = vertex * 3;
    const place = (source: Float64Array, stride: number, isPoint: boolean) => {
      const [x, y, z] = source.subarray(vertex * stride, vertex * stride + 3);
      return [0, 1, 2].map(
        (row) => blend[row] * x + blend[4 + row] * y + blend[8 + row] * z + (isPoint ? blend[12 + row] : 0),
      );
    };
    out.positions.set(place(positions, 3, true), at);
    if (normals && out.normals) out.normals.set(unit(acrossSurface(blend, normals.subarray(at, at + 3))), at);
    if (tangents && out.tangents) out.tangents.set(unit(place(tangents, 4, false)), at);
    deltas.forEach((delta, target) => delta && out.targets[target].set(place(delta, 3, false), at));
  }
  return out;
}

function blended(
  sets: readonly { joints: Float64Array; weights: Float64Array }[],
  vertex: number,
  matrices: readonly Matrix[],
): number[] {
  const blend = new Array<number>(16).fill(0);
  let sum = 0;
  for (const { joints, weights } of sets)
    for (let part = 0; part < 4; part++) {
      const weight = weights[vertex * 4 + part];
      if (weight === 0) continue;
      sum += weight;
      const matrix = matrices[joints[vertex * 4 + part]];
      for (let entry = 0; entry < 16; entry++) blend[entry] += weight * matrix[entry];
    }
  return blend.map((value) => value / (sum || 1));
}

/** A normal stays across the surface: it goes with the cofactors of the matrix. */
function acrossSurface(m: Matrix, [x, y, z]: Float64Array): number[] {
  const cofactor = (a: number, b: number, c: number, d: number) => m[a] * m[d] - m[b] * m[c];
  const rows = [
    [cofactor(5, 6, 9, 10), -cofactor(4, 6, 8, 10), cofactor(4, 5, 8, 9)],
    [-cofactor(1, 2, 9, 10), cofactor(0, 2, 8, 10), -cofactor(0, 1, 8, 9)],
    [cofactor(1, 2, 5, 6), -cofactor(0, 2, 4, 6), cofactor(0, 1, 4, 5)],
  ];
  return [0, 1, 2].map((axis) => rows[0][axis] * x + rows[1][axis] * y + rows[2][axis] * z);
}

function unit(vector: readonly number[]): number[] {
  const length = Math.hypot(...vector);
  return length > 0 ? vector.map((value) => value / length) : [...vector];
}
