import type { Clip, Extra, PoseComparison } from '../rig/rig';

/**
 * What a person needs to decide about a file: everything in it before any decision is carried out. Node and clip
 * indices are those that decisions use.
 */
export interface IntakeSheet {
  extras: (Extra & {
    /** What leaving it out takes away. */
    vertexCount: number;
    boneCount: number;
    /** False where meshes of the figure are bound to it. */
    canLeaveOut: boolean;
  })[];
  clips: Clip[];
  poses: PoseComparison[];
  boneCount: number;
  /** Names of bones by index, for the worst bone of a pose. */
  worstBones: Record<string, string>;
  /** Bones of copied skeletons with their originals: node indices and names. */
  copies: { from: number; into: number; fromName: string; intoName: string }[];
  parts: { path: string; folded: number; added: string[] }[];
  /** Largest extent of the skeleton, file units: what distances are judged by. */
  size: number;
}
