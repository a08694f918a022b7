import { fromAxisAngle, multiply, type Quat } from '@/core/math/quat';
import { computeNormalisation } from '@/core/frame/normalise';
import type { BodyFrame } from '@/core/frame/body-frame';
import { ownNames } from '@/core/plan/plan-names';
import { planSkeleton } from '@/core/plan/plan-skeleton';
import type { RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { readGlb } from '@/pipeline/read-files';
import { parseGlb, skinAll, worldsOf, type RawSkinned } from './raw-glb';

/** How far a written character lies from the original driven to the same pose. */
export interface RebuildError {
  readonly vertices: number;
  /** Largest extent of the wanted vertices along an axis, metres: what distances are judged by. */
  readonly height: number;
  /** Metres. */
  readonly position: number;
  /** Length of the difference of unit vectors. */
  readonly normal: number;
  readonly tangent: number;
  /** Metres, at full weight. */
  readonly morph: number;
}

const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** @param similarity file space to metres, as it was written with. */
export function judgeRebuild(
  source: Uint8Array,
  written: Uint8Array,
  rig: Rig,
  pose: RigPose,
  similarity: readonly number[],
): RebuildError {
  const nodeOf = (bone: number | string) => rig.bones[Number(bone)].nodeIndex;
  const original = parseGlb(source);
  const wanted = skinAll(
    original,
    worldsOf(original, {
      rotations: new Map(Object.entries(pose.rotations).map(([bone, rotation]) => [nodeOf(bone), rotation])),
      moved: pose.shift && { node: nodeOf(pose.shift.boneIndex), offset: pose.shift.offset },
    }),
    similarity,
  );
  const back = parseGlb(written);
  const found = skinAll(back, worldsOf(back), IDENTITY);
  if (wanted.length !== found.length)
    throw new Error(`${found.length} skinned parts were written from ${wanted.length}`);
  const worst = (of: (part: RawSkinned) => readonly (Float64Array | null)[]) =>
    Math.max(0, ...wanted.flatMap((part, at) => of(part).map((list, k) => largest(list, of(found[at])[k]))));
  return {
    vertices: wanted.reduce((sum, { positions }) => sum + positions.length / 3, 0),
    height: extentOf(wanted),
    position: worst(({ positions }) => [positions]),
    normal: worst(({ normals }) => [normals]),
    tangent: worst(({ tangents }) => [tangents]),
    morph: worst(({ targets }) => targets),
  };
}

/** Writes a file in some pose under its own names, as `posture --out` does, and judges what was written. */
export async function rebuildInPose(bytes: Uint8Array, turnDegrees: (bone: number) => number): Promise<RebuildError> {
  const io = createNodeIO();
  // Written anew, so that every node has its transform as such: the judge turns nodes by their rotation.
  const source = await io.writeBinary(await io.readBinary(bytes));
  const { rig, document } = await readGlb(source, 'source.glb');
  const rotations: Record<string, Quat> = {};
  for (const { index, rest } of rig.bones) {
    const turn = fromAxisAngle([0.6, 0, 0.8], (turnDegrees(index) * Math.PI) / 180);
    rotations[index] = multiply(rest.rotation as Quat, turn);
  }
  const pose: RigPose = { rotations, shift: { boneIndex: 0, offset: [0.1, -0.05, 0.02] } };
  const frame = { up: [0, 1, 0], facing: [0, 0, 1] } as unknown as BodyFrame;
  const normalisation = computeNormalisation(rig, frame, undefined, false);
  const plan = planSkeleton(rig, pose, normalisation);
  writeHandoff(document, rig, plan, ownNames(rig));
  return judgeRebuild(source, await io.writeBinary(document), rig, pose, plan.similarity);
}

function extentOf(parts: readonly RawSkinned[]): number {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (const { positions } of parts)
    positions.forEach((value, at) => {
      low[at % 3] = Math.min(low[at % 3], value);
      high[at % 3] = Math.max(high[at % 3], value);
    });
  return Math.max(...low.map((value, axis) => high[axis] - value));
}

function largest(a: Float64Array | null, b: Float64Array | null): number {
  if (!a || !b) return a === b ? 0 : Infinity;
  if (a.length !== b.length) return Infinity;
  let most = 0;
  for (let at = 0; at < a.length; at += 3)
    most = Math.max(most, Math.hypot(a[at] - b[at], a[at + 1] - b[at + 1], a[at + 2] - b[at + 2]));
  return most;
}
