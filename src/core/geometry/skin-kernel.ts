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
  _blend.fill(0);
  for (let slot = 0; slot < input.perVertex; slot++) {
    const weight = input.weights[vertex * input.perVertex + slot];
    if (weight <= 0) continue;
    const at = input.joints[vertex * input.perVertex + slot] * 16;
    for (let column = 0; column < 4; column++) {
      for (let row = 0; row < 3; row++) _blend[column * 3 + row] += weight * input.matrices[at + column * 4 + row];
    }
  }
  return _blend;
}

/** Skinned positions. `out` may be `positions`. */
export function writeSkinnedPositions(out: Float32Array, positions: ArrayLike<number>, input: SkinInput): void {
  for (let vertex = 0; vertex * 3 < out.length; vertex++) {
    const m = blend(input, vertex);
    const [x, y, z] = [positions[vertex * 3], positions[vertex * 3 + 1], positions[vertex * 3 + 2]];
    for (let row = 0; row < 3; row++) out[vertex * 3 + row] = m[row] * x + m[3 + row] * y + m[6 + row] * z + m[9 + row];
  }
}

/** Skinned normals by the cofactor (inverse transpose up to scale) of the blended 3 x 3, unit length. */
export function writeSkinnedNormals(out: Float32Array, normals: ArrayLike<number>, input: SkinInput): void {
  const unit = new Float64Array(3);
  for (let vertex = 0; vertex * 3 < out.length; vertex++) {
    applyCofactor(unit, blend(input, vertex), normals[vertex * 3], normals[vertex * 3 + 1], normals[vertex * 3 + 2]);
    out.set(unit, vertex * 3);
  }
}

/** Skinned tangents by the 3 x 3 itself; w turns over where the blend mirrors. */
export function writeSkinnedTangents(out: Float32Array, tangents: ArrayLike<number>, input: SkinInput): void {
  for (let vertex = 0; vertex * 4 < out.length; vertex++) {
    const m = blend(input, vertex);
    const [x, y, z, w] = [
      tangents[vertex * 4],
      tangents[vertex * 4 + 1],
      tangents[vertex * 4 + 2],
      tangents[vertex * 4 + 3],
    ];
    const t = [0, 1, 2].map((row) => m[row] * x + m[3 + row] * y + m[6 + row] * z);
    const length = Math.hypot(t[0], t[1], t[2]) || 1;
    const determinant =
      m[0] * (m[4] * m[8] - m[5] * m[7]) - m[3] * (m[1] * m[8] - m[2] * m[7]) + m[6] * (m[1] * m[5] - m[2] * m[4]);
    out.set([t[0] / length, t[1] / length, t[2] / length, determinant < 0 ? -w : w], vertex * 4);
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
  const [ax, ay, az, bx, by, bz, cx, cy, cz] = [m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8]];
  const nx = x * (by * cz - bz * cy) + y * (cy * az - cz * ay) + z * (ay * bz - az * by);
  const ny = x * (bz * cx - bx * cz) + y * (cz * ax - cx * az) + z * (az * bx - ax * bz);
  const nz = x * (bx * cy - by * cx) + y * (cx * ay - cy * ax) + z * (ax * by - ay * bx);
  const length = Math.hypot(nx, ny, nz);
  // A vertex without a usable normal keeps its own.
  if (length < 1e-20) out.set([x, y, z]);
  else out.set([nx / length, ny / length, nz / length]);
}
