import type { Transform } from '@/core/rig/rig';
import type { SourceFacts } from '@/core/rig/source-facts';

/**
 * A file's scene in plain arrays, in the file's own units and axes (right-handed). Every reader but the glTF one fills
 * one of these; one builder turns it into the canonical document.
 */
export interface SceneDraft {
  readonly facts: SourceFacts;
  /** Parents may come after children. */
  readonly nodes: DraftNode[];
  readonly meshes: DraftMesh[];
  readonly materials: DraftMaterial[];
  readonly textures: DraftTexture[];
  readonly clips: DraftClip[];
}

export interface DraftNode {
  name: string;
  /** Index into `nodes`, or -1. */
  parent: number;
  rest: Transform;
  kind: 'joint' | 'node' | 'camera' | 'light';
}

export interface DraftMesh {
  readonly name: string;
  /** Node that carries the mesh. */
  readonly node: number;
  readonly parts: readonly DraftPart[];
  readonly skin: DraftSkin | null;
  readonly morphNames: readonly string[];
}

export interface DraftPart {
  /** Index into `materials`, or -1. */
  readonly material: number;
  /** [vertexCount x 3] */
  readonly positions: Float32Array;
  readonly normals: Float32Array | null;
  /** [vertexCount x 2], v down as in glTF. */
  readonly uvs: Float32Array | null;
  /** [vertexCount x 4] */
  readonly colours: Float32Array | null;
  readonly indices: Uint32Array;
  /** [vertexCount x perVertex], perVertex a multiple of 4; null without a skin. */
  readonly joints: Uint16Array | null;
  readonly weights: Float32Array | null;
  readonly perVertex: number;
  /** Position differences per morph target. */
  readonly morphs: readonly Float32Array[];
}

export interface DraftSkin {
  /** Node per joint. */
  readonly joints: readonly number[];
  /** [jointCount x 16] column-major. */
  readonly inverseBinds: Float32Array;
}

export interface DraftMaterial {
  readonly name: string;
  /** Linear RGBA. */
  readonly colour: readonly [number, number, number, number];
  readonly colourTexture: number;
  readonly normalTexture: number;
  readonly emissiveTexture: number;
  readonly isDoubleSided: boolean;
}

export interface DraftTexture {
  readonly name: string;
  readonly image: Uint8Array | null;
}

export interface DraftTrack {
  readonly node: number;
  readonly path: 'translation' | 'rotation' | 'scale';
  /** Seconds from the start of the clip. */
  readonly times: Float32Array;
  readonly values: Float32Array;
}

export interface DraftClip {
  readonly name: string;
  readonly tracks: readonly DraftTrack[];
}

export const NO_TRANSFORM: Transform = { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] };
