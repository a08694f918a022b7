import type { Document, Node } from '@gltf-transform/core';
import { YarvoError } from '@/core/errors/yarvo-error';
import { findCopiedBones } from '@/core/rig/copied-bones';
import { isAsFound, NO_NODE, type IntakeDecisions } from '@/core/intake/decisions';
import { encodeGeometry } from '@/core/geometry/geometry';
import { encodeMotionTracks } from '@/core/clips/motion-tracks';
import { readGeometry } from '@/document/read-geometry';
import { readMotionTracks } from '@/document/read-motion';
import type { IntakeSheet } from '@/core/intake/intake-sheet';
import type { Rig } from '@/core/rig/rig';
import { computeRigShape } from '@/core/rig/rig-shape';
import { rigFromDocument } from '@/document/read-rig';
import { factsOf, writeFacts } from '@/document/facts';
import type { SourceFile } from '@/formats/files/companions';
import { readSource } from './read-files';
import { unpackAll, writeCanonical } from '@/formats/source/open-source';
import { applyDecisions } from '@/document/apply-decisions';
import { resizeTextures } from '@/document/mend/mend-textures';
import { joinPart, type JoinReport } from '@/document/join-parts';

export interface InterpretInput {
  /** Files as they were given; zips are unpacked here. */
  readonly files: readonly SourceFile[];
  /** Path of the character's main model among the unpacked files. */
  readonly main: string;
  readonly decisions: IntakeDecisions;
}

export interface Interpretation extends Companions {
  readonly glb: Uint8Array;
  readonly rig: Rig;
  readonly sheet: IntakeSheet;
  /** Per node of the GLB: its index before the decisions; for a joint that a repair made, the index by which repairs name it. */
  readonly origins: readonly number[];
}

/** What goes with a rig as numbers: blocks as `encodeGeometry` and `encodeMotionTracks` write them. */
export interface Companions {
  readonly geometry: Uint8Array;
  readonly tracks: Uint8Array;
}

/** Geometry and motion of a document whose rig was read. @throws {YarvoError} */
export const companionsOf = (document: Document, rig: Rig, place: string): Companions => ({
  geometry: encodeGeometry(readGeometry(document, rig, place)),
  tracks: encodeMotionTracks(readMotionTracks(document, rig)),
});

/** Reads a character's files and carries out what was decided about them. @throws {YarvoError} */
export async function interpret({ files, main, decisions }: InterpretInput): Promise<Interpretation> {
  const set = unpackAll(files);
  const reading = await readSource(fileAt(set, main), set);
  const { document } = reading;
  const reports: (JoinReport & { path: string })[] = [];
  for (const path of decisions.parts) {
    const part = await readSource(fileAt(set, path), set);
    const nodesBefore = document.getRoot().listNodes();
    reports.push({ path, ...joinPart(document, part.document) });
    keepFacts(document, nodesBefore);
  }
  const base = decisions.parts.length > 0 ? rigFromDocument(document, main) : reading.rig;
  const sheet = makeSheet(document, base, reports);
  const before = document.getRoot().listNodes();
  if (isAsFound(decisions)) {
    return {
      glb: reading.original ?? (await writeCanonical(document)),
      rig: base,
      sheet,
      origins: before.map((_, index) => index),
      ...companionsOf(document, base, main),
    };
  }
  const clipsBefore = document.getRoot().listAnimations();
  const made = applyDecisions(document, base, decisions, main);
  if (decisions.mending.textures) await resizeTextures(document, decisions.mending.textures);
  keepFacts(
    document,
    before,
    clipsBefore
      .map((clip, index) => (document.getRoot().listAnimations().includes(clip) ? index : -1))
      .filter((index) => index >= 0),
  );
  const originOf = new Map([
    ...before.map((node, index) => [node, index] as const),
    ...[...made].map(([index, node]) => [node, index] as const),
  ]);
  const origins = document
    .getRoot()
    .listNodes()
    .map((node) => originOf.get(node) ?? NO_NODE);
  const rig = rigFromDocument(document, main);
  return { glb: await writeCanonical(document), rig, sheet, origins, ...companionsOf(document, rig, main) };
}

function fileAt(files: readonly SourceFile[], path: string): SourceFile {
  const found = files.find((file) => file.path === path);
  if (!found)
    throw new YarvoError({
      code: 'missing-file',
      message: `"${path}" is not among the character's files.`,
      place: path,
      remedy: 'Drop the files again.',
    });
  return found;
}

/** Facts name nodes by index; after nodes came or went, the indices are those of the document as it stands. */
function keepFacts(document: Document, before: readonly Node[], keptClips?: readonly number[]): void {
  const facts = factsOf(document);
  const now = new Map(
    document
      .getRoot()
      .listNodes()
      .map((node, index) => [node, index]),
  );
  const moved = (index: number): number[] => {
    const at = before[index] && now.get(before[index]);
    return at === undefined ? [] : [at];
  };
  writeFacts(document, {
    ...facts,
    jointNodes: facts.jointNodes.flatMap(moved),
    statedRoles: Object.fromEntries(
      Object.entries(facts.statedRoles).flatMap(([role, index]) => moved(index).map((at) => [role, at])),
    ),
    clipRates:
      keptClips && facts.clipRates.length > 0
        ? keptClips.flatMap((index) => facts.clipRates[index] ?? [])
        : facts.clipRates,
  });
}

function makeSheet(document: Document, rig: Rig, reports: readonly (JoinReport & { path: string })[]): IntakeSheet {
  const nodes = document.getRoot().listNodes();
  const skins = document.getRoot().listSkins();
  const boneNodes = new Set(rig.bones.map((bone) => nodes[bone.nodeIndex]));
  const nodeOf = (bone: number) => rig.bones[bone].nodeIndex;
  return {
    extras: rig.extras.map((extra) => {
      const below = subtree(nodes[extra.nodeIndex]);
      const lost = skins.filter((skin) => skin.listJoints().some((joint) => below.has(joint)));
      const bound = nodes.filter((node) => lost.includes(node.getSkin() as (typeof lost)[number]));
      return {
        ...extra,
        vertexCount: [...new Set([...below, ...bound])].reduce((total, node) => total + verticesOf(node), 0),
        boneCount: [...below].filter((node) => boneNodes.has(node)).length,
        canLeaveOut:
          extra.kind !== 'container' &&
          lost.every(
            (skin) =>
              skin.listJoints().every((joint) => below.has(joint)) ||
              nodes.every((node) => node.getSkin() !== skin || below.has(node)),
          ),
      };
    }),
    clips: [...rig.clips],
    poses: [...rig.poses],
    boneCount: rig.bones.length,
    worstBones: Object.fromEntries(
      rig.poses
        .filter((pose) => pose.worstBone >= 0)
        .map((pose) => [String(pose.worstBone), rig.bones[pose.worstBone].name]),
    ),
    copies: findCopiedBones(rig).map(({ copy, original }) => ({
      from: nodeOf(copy),
      into: nodeOf(original),
      fromName: rig.bones[copy].name,
      intoName: rig.bones[original].name,
    })),
    parts: reports.map(({ path, folded, added }) => ({ path, folded, added: [...added] })),
    size: computeRigShape(rig).size,
  };
}

function subtree(top: Node): Set<Node> {
  const out = new Set([top]);
  for (const node of out) node.listChildren().forEach((child) => out.add(child));
  return out;
}

const verticesOf = (node: Node): number =>
  node
    .getMesh()
    ?.listPrimitives()
    .reduce((total, primitive) => total + (primitive.getAttribute('POSITION')?.getCount() ?? 0), 0) ?? 0;
