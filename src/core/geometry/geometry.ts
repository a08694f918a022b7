import { decodeBlock, encodeBlock } from './typed-blocks';

/** A shape that a part can take: differences to its positions and, where the file has them, its normals. */
export interface Morph {
  readonly name: string;
  /** [vertexCount x 3] */
  readonly positions: Float32Array;
  /** [vertexCount x 3], or null. */
  readonly normals: Float32Array | null;
}

/** Triangles of one material, in the space of their mesh; file units. */
export interface GeometryPart {
  /** Name of the mesh's node. */
  readonly name: string;
  readonly nodeIndex: number;
  /** Index into `skins`, or -1 for a part that moves as a whole. */
  readonly skin: number;
  /** Bone that a part without skin hangs on, or -1. */
  readonly bone: number;
  /** World of the part's node at rest, column-major; what a part without skin stands in. */
  readonly world: readonly number[];
  readonly material: string;
  /** [vertexCount x 3] */
  readonly positions: Float32Array;
  /** [vertexCount x 3], or null. */
  readonly normals: Float32Array | null;
  /** [triangleCount x 3] */
  readonly indices: Uint32Array;
  /** Influences that each vertex has room for; 0 without a skin. All that the file has. */
  readonly perVertex: number;
  /** Index into the skin's joints, [vertexCount x perVertex]. */
  readonly joints: Uint16Array;
  /** Normalised, [vertexCount x perVertex]. */
  readonly weights: Float32Array;
  readonly morphs: readonly Morph[];
}

/** What binds vertices to bones. */
export interface GeometrySkin {
  /** Bone index of each joint, -1 for a joint that is no bone of the rig. */
  readonly bones: readonly number[];
  /** [jointCount x 16], column-major. */
  readonly inverseBinds: Float32Array;
}

/** The meshes of a reading as numbers; file space. Companion of a `Rig`, kept as a binary block. */
export interface Geometry {
  readonly parts: readonly GeometryPart[];
  readonly skins: readonly GeometrySkin[];
}

export const encodeGeometry = (geometry: Geometry): Uint8Array => encodeBlock(geometry);

/** @throws {YarvoError} `damaged-block` */
export const decodeGeometry = (bytes: Uint8Array): Geometry => decodeBlock(bytes) as Geometry;
