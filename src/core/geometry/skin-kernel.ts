/**
 * Kernels that carry vertices through blended skin matrices. Plain arrays in, plain arrays out.
 *
 * Layouts: `matrices` [jointCount x 16] column-major; `joints` and `weights` [vertexCount x perVertex], weights of a
 * vertex adding up to 1; positions, normals and morph deltas [vertexCount x 3]; tangents [vertexCount x 4].
 */
export interface SkinInput {
  readonly matrices: ArrayLike<number>;
  readonly joints: ArrayLike<number>;
  readonly weights: ArrayLike<number>;
  readonly perVertex: number;
}

const _blend = new Float64Array(12);

/** Weighted sum of a vertex's matrices, as three columns and a translation. Linear blend skinning; glTF 2.0, 3.7.3.3. */
function blend(input: SkinInput, vertex: number): Float64Array {
  const { matrices, joints, weights, perVertex } = input;
  const b = _blend;
  b.fill(0);
  // Written out: this is the innermost loop of every handoff.
  for (let slot = vertex * perVertex, end = slot + perVertex; slot < end; slot++) {
    const weight = weights[slot];
    if (weight <= 0) continue;
    const at = joints[slot] * 16;
    b[0] += weight * matrices[at];
    b[1] += weight * matrices[at + 1];
    b[2] += weight * matrices[at + 2];
    b[3] += weight * matrices[at + 4];
    b[4] += weight * matrices[at + 5];
    b[5] += weight * matrices[at + 6];
    b[6] += weight * matrices[at + 8];
    b[7] += weight * matrices[at + 9];
    b[8] += weight * matrices[at + 10];
    b[9] += weight * matrices[at + 12];
    b[10] += weight * matrices[at + 13];
    b[11] += weight * matrices[at + 14];
  }
  return b;
}

/** Skinned positions. `out` may be `positions`. */
export function writeSkinnedPositions(out: Float32Array, positions: ArrayLike<number>, input: SkinInput): void {
  for (let vertex = 0; vertex * 3 < out.length; vertex++) {
    const m = blend(input, vertex);
    const at = vertex * 3;
    const x = positions[at];
    const y = positions[at + 1];
    const z = positions[at + 2];
    out[at] = m[0] * x + m[3] * y + m[6] * z + m[9];
    out[at + 1] = m[1] * x + m[4] * y + m[7] * z + m[10];
    out[at + 2] = m[2] * x + m[5] * y + m[8] * z + m[11];
  }
}

/** Skinned normals by the cofactor (inverse transpose up to scale) of the blended 3 x 3, unit length. */
export function writeSkinnedNormals(out: Float32Array, normals: ArrayLike<number>, input: SkinInput): void {
  const unit = new Float64Array(3);
  for (let vertex = 0; vertex * 3 < out.length; vertex++) {
    applyCofactor(unit, blend(input, vertex), normals[vertex * 3], normals[vertex * 3 + 1], normals[vertex * 3 + 2]);
    out[vertex * 3] = unit[0];
    out[vertex * 3 + 1] = unit[1];
    out[vertex * 3 + 2] = unit[2];
  }
}

/** Skinned tangents by the 3 x 3 itself; w turns over where the blend mirrors. */
export function writeSkinnedTangents(out: Float32Array, tangents: ArrayLike<number>, input: SkinInput): void {
  for (let vertex = 0; vertex * 4 < out.length; vertex++) {
    const m = blend(input, vertex);
    const at = vertex * 4;
    const x = tangents[at];
    const y = tangents[at + 1];
    const z = tangents[at + 2];
    const tx = m[0] * x + m[3] * y + m[6] * z;
    const ty = m[1] * x + m[4] * y + m[7] * z;
    const tz = m[2] * x + m[5] * y + m[8] * z;
    const length = Math.sqrt(tx * tx + ty * ty + tz * tz) || 1;
    const determinant =
      m[0] * (m[4] * m[8] - m[5] * m[7]) - m[3] * (m[1] * m[8] - m[2] * m[7]) + m[6] * (m[1] * m[5] - m[2] * m[4]);
    out[at] = tx / length;
    out[at + 1] = ty / length;
    out[at + 2] = tz / length;
    out[at + 3] = determinant < 0 ? -tangents[at + 3] : tangents[at + 3];
  }
}

/** Morph position deltas by the 3 x 3 alone. `out` may be `deltas`. */
export function writeSkinnedDeltas(out: Float32Array, deltas: ArrayLike<number>, input: SkinInput): void {
  for (let vertex = 0; vertex * 3 < out.length; vertex++) {
    const m = blend(input, vertex);
    const [x, y, z] = [deltas[vertex * 3], deltas[vertex * 3 + 1], deltas[vertex * 3 + 2]];
    for (let row = 0; row < 3; row++) out[vertex * 3 + row] = m[row] * x + m[3 + row] * y + m[6 + row] * z;
  }
}

/** Morph normal deltas: normalize(N(n + delta)) - normalize(Nn). */
export function writeSkinnedNormalDeltas(
  out: Float32Array,
  deltas: ArrayLike<number>,
  normals: ArrayLike<number>,
  input: SkinInput,
): void {
  const [morphed, plain] = [new Float64Array(3), new Float64Array(3)];
  for (let vertex = 0; vertex * 3 < out.length; vertex++) {
    const m = blend(input, vertex);
    const at = vertex * 3;
    applyCofactor(plain, m, normals[at], normals[at + 1], normals[at + 2]);
    applyCofactor(
      morphed,
      m,
      normals[at] + deltas[at],
      normals[at + 1] + deltas[at + 1],
      normals[at + 2] + deltas[at + 2],
    );
    for (let row = 0; row < 3; row++) out[at + row] = morphed[row] - plain[row];
  }
}

function applyCofactor(out: Float64Array, m: ArrayLike<number>, x: number, y: number, z: number): void {
  const ax = m[0];
  const ay = m[1];
  const az = m[2];
  const bx = m[3];
  const by = m[4];
  const bz = m[5];
  const cx = m[6];
  const cy = m[7];
  const cz = m[8];
  const nx = x * (by * cz - bz * cy) + y * (cy * az - cz * ay) + z * (ay * bz - az * by);
  const ny = x * (bz * cx - bx * cz) + y * (cz * ax - cx * az) + z * (az * bx - ax * bz);
  const nz = x * (bx * cy - by * cx) + y * (cx * ay - cy * ax) + z * (ax * by - ay * bx);
  const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
  // A vertex without a usable normal keeps its own.
  const hasOwn = length < 1e-20;
  out[0] = hasOwn ? x : nx / length;
  out[1] = hasOwn ? y : ny / length;
  out[2] = hasOwn ? z : nz / length;
}
