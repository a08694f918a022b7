import { decodeBlock, encodeBlock } from '../geometry/typed-blocks';

/** Keys of one property of one bone, as the file has them: nothing resampled. */
export interface Track {
  /** Bone index. */
  readonly bone: number;
  readonly path: 'translation' | 'rotation' | 'scale';
  readonly interpolation: 'LINEAR' | 'STEP' | 'CUBICSPLINE';
  /** Seconds, rising; [keyCount] */
  readonly times: Float32Array;
  /** Local transforms; [keyCount x 3], or x 4 for rotations; three times as many for splines (in-tangent, value, out-tangent). */
  readonly values: Float32Array;
}

/** Weights of the morphs of one mesh's node over time. */
export interface MorphTrack {
  readonly nodeIndex: number;
  readonly interpolation: Track['interpolation'];
  readonly times: Float32Array;
  /** [keyCount x morphCount] */
  readonly values: Float32Array;
}

/** Motion of one clip. */
export interface ClipTracks {
  readonly name: string;
  readonly tracks: readonly Track[];
  readonly morphs: readonly MorphTrack[];
}

/** Clips of a reading as numbers, in the order of its rig's clips. Companion of a `Rig`, kept as a binary block. */
export type MotionTracks = readonly ClipTracks[];

export const encodeMotionTracks = (tracks: MotionTracks): Uint8Array => encodeBlock(tracks);

/** @throws {YarvoError} `damaged-block` */
export const decodeMotionTracks = (bytes: Uint8Array): MotionTracks => decodeBlock(bytes) as MotionTracks;
