import type { Document, Node } from '@gltf-transform/core';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { IntakeDecisions, PoseSource } from '@/core/intake/decisions';
import { decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import type { Rig } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';
import { sampleClip } from './sample-clip';
import { foldBones, worldOf } from './fold-bones';
import { applyScales } from './mend/apply-scales';
import { mendDocument } from './mend/mend-document';
import { rigFromDocument } from './read-rig';
import { unlistJoints } from './unlist-joints';
import { repairTree } from './repair-tree';

/**
 * Carries out on a document as read what a person decided: which pose counts, what is left out, which bones are folded.
 * Node indices of the decisions are those of `document` before the call.
 * @returns the joints that repairs made, by the index under which decisions name them.
 * @throws {YarvoError} where a decision does not fit the file.
 */
export function applyDecisions(
  document: Document,
  rig: Rig,
  decisions: IntakeDecisions,
  place: string,
): Map<number, Node> {
  const nodes = document.getRoot().listNodes();
  const nodeAt = (index: number): Node => {
    const node = nodes[index];
    if (!node) throw misfit(`There is no node ${index}; the file has ${nodes.length}.`, place);
    return node;
  };
  setPose(document, rig, nodes, decisions.pose, place);
  // Before anything is folded or hung elsewhere: below an uneven scale it would be sheared.
  if (decisions.mending.appliesScale) applyScales(document, rigFromDocument(document, place));
  foldBones(document, new Map(decisions.folds.map(({ from, into }) => [nodeAt(from), nodeAt(into)])));
  const made = repairTree(document, nodes, decisions.tree, place);
  leaveOut(document, decisions.leftOut.map(nodeAt), place);
  const clips = document.getRoot().listAnimations();
  for (const index of decisions.clipsLeftOut) {
    if (!clips[index]) throw misfit(`There is no clip ${index}; the file has ${clips.length}.`, place);
    clips[index].dispose();
  }
  mendDocument(document, nodes, decisions.mending, place);
  return made;
}

const misfit = (message: string, place: string): YarvoError =>
  new YarvoError({
    code: 'decision-misfit',
    message,
    place,
    remedy: 'Undo the decision, or make it again on this file.',
  });

function setPose(document: Document, rig: Rig, nodes: readonly Node[], pose: PoseSource, place: string): void {
  if (pose.kind === 'rest') return;
  if (pose.kind === 'bind') {
    const gauge = bindGauge(rig);
    // Parents come first in a rig, so each world is read after its parent's was set.
    for (const bone of rig.bones) {
      if (!bone.bindWorld) continue;
      const node = nodes[bone.nodeIndex];
      const parent = node.getParentNode();
      const local = multiply(
        invertAffine(parent ? worldOf(parent) : IDENTITY) ?? IDENTITY,
        multiply(gauge, bone.bindWorld),
      );
      setLocal(node, local);
    }
    return;
  }
  const animation = document.getRoot().listAnimations()[pose.clip];
  const rate = rig.clips[pose.clip]?.framesPerSecond ?? 0;
  if (!animation || (pose.frame > 0 && rate <= 0))
    throw misfit(`There is no frame ${pose.frame} of clip ${pose.clip}.`, place);
  const seconds = rate > 0 ? pose.frame / rate : 0;
  if (seconds > (rig.clips[pose.clip]?.durationSeconds ?? 0) + 0.5 / Math.max(rate, 1))
    throw misfit(`The clip "${animation.getName()}" ends before frame ${pose.frame}.`, place);
  for (const [node, change] of sampleClip(animation, seconds)) {
    if (change.translation) node.setTranslation([...change.translation]);
    if (change.rotation) node.setRotation([...change.rotation]);
    if (change.scale) node.setScale([...change.scale]);
  }
  if (pose.isDropped) dropFrame(document, animation, seconds, 0.5 / Math.max(rate, 1));
}

function setLocal(node: Node, local: Mat4): void {
  const { translation, rotation, scale } = decompose(local);
  node
    .setTranslation([...translation])
    .setRotation([...rotation])
    .setScale([...scale]);
}

/**
 * Bind matrices may be written in the space of a container above the bones; the offset of the bone that carries most
 * of the mesh tells which. Identity where rest and bind differ by more than such an offset.
 */
function bindGauge(rig: Rig): Mat4 {
  const offsets = rig.bones.flatMap((bone) => {
    const inverse = bone.bindWorld && invertAffine(bone.bindWorld);
    return inverse ? [multiply(bone.restWorld, inverse)] : [];
  });
  const votes = (offset: Mat4) => offsets.filter((other) => isNear(offset, other)).length;
  const own = votes(IDENTITY);
  const best = offsets.slice(0, 8).reduce<{ offset: Mat4; count: number }>(
    (winner, offset) => {
      const count = votes(offset);
      return count > winner.count ? { offset, count } : winner;
    },
    { offset: IDENTITY, count: own },
  );
  return best.count > offsets.length / 2 ? best.offset : IDENTITY;
}

function isNear(a: Mat4, b: Mat4): boolean {
  const size = Math.max(...a.map(Math.abs), 1e-9);
  return a.every((value, at) => Math.abs(value - b[at]) <= size * 1e-3);
}

/** Takes one frame out of a clip; what comes after a dropped first frame moves up to the start. */
function dropFrame(
  document: Document,
  animation: ReturnType<Document['createAnimation']>,
  seconds: number,
  tolerance: number,
): void {
  const isFirst = seconds <= tolerance;
  const starts = animation.listSamplers().flatMap((sampler) => {
    const input = sampler.getInput();
    if (!input) return [];
    return Array.from(accessorFloats(input, 1))
      .filter((time) => time > seconds + tolerance)
      .slice(0, 1);
  });
  const shift = isFirst && starts.length > 0 ? Math.min(...starts) : 0;
  for (const sampler of animation.listSamplers()) {
    const [input, output] = [sampler.getInput(), sampler.getOutput()];
    if (!input || !output) continue;
    const times = Array.from(accessorFloats(input, 1));
    const kept = times.map((_, key) => key).filter((key) => Math.abs(times[key] - seconds) > tolerance);
    if (kept.length === 0 || kept.length === times.length) continue;
    const perKey = output.getCount() / times.length;
    const size = output.getElementSize();
    const values = accessorFloats(output, size);
    const buffer = input.getBuffer();
    sampler.setInput(
      document
        .createAccessor()
        .setType('SCALAR')
        .setArray(Float32Array.from(kept, (key) => Math.max(0, times[key] - shift)))
        .setBuffer(buffer),
    );
    const out = new Float32Array(kept.length * perKey * size);
    kept.forEach((key, at) =>
      out.set(values.subarray(key * perKey * size, (key + 1) * perKey * size), at * perKey * size),
    );
    sampler.setOutput(document.createAccessor().setType(output.getType()).setArray(out).setBuffer(buffer));
  }
}

/** Removes nodes with everything below them. A skin that needs a removed joint goes with it, or stops the removal. */
function leaveOut(document: Document, tops: readonly Node[], place: string): void {
  const gone = new Set<Node>();
  const mark = (node: Node) => {
    gone.add(node);
    for (const child of node.listChildren()) mark(child);
  };
  tops.forEach(mark);
  for (const skin of document.getRoot().listSkins()) {
    unlistJoints(document, skin, (joint) => gone.has(joint));
    const lost = skin.listJoints().filter((joint) => gone.has(joint));
    if (lost.length === 0) continue;
    const users = document
      .getRoot()
      .listNodes()
      .filter((node) => node.getSkin() === skin);
    if (lost.length < skin.listJoints().length && users.some((node) => !gone.has(node))) {
      throw new YarvoError({
        code: 'still-bound',
        message: `A mesh is bound to ${lost[0].getName() || 'a bone'} and to bones that stay.`,
        place,
        remedy: 'Keep it, or fold its bones into the figure first.',
      });
    }
    users.forEach((node) => gone.add(node));
    skin.dispose();
  }
  for (const animation of document.getRoot().listAnimations()) {
    for (const channel of animation.listChannels()) if (gone.has(channel.getTargetNode() as Node)) channel.dispose();
  }
  for (const node of gone) node.dispose();
  dropUnused(document);
}

/** Meshes, skins and data that nothing uses any more. */
function dropUnused(document: Document): void {
  const root = document.getRoot();
  const isUnused = (property: { listParents(): { propertyType: string }[] }) =>
    property.listParents().every((parent) => parent.propertyType === 'Root');
  for (const list of [root.listCameras(), root.listMeshes(), root.listSkins()])
    for (const property of list) if (isUnused(property)) property.dispose();
  for (const mesh of root.listMeshes()) if (isUnused(mesh)) mesh.dispose();
  for (const accessor of root.listAccessors()) if (isUnused(accessor)) accessor.dispose();
}
