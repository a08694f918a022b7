import type { Document, Mesh, Node, Skin } from '@gltf-transform/core';
import { YarvoError } from '@/core/errors/yarvo-error';
import { decompose, invertAffine, IDENTITY } from '@/core/math/mat4';
import { normalise as normaliseQuat } from '@/core/math/quat';
import type { Bone, Clip, Extra, PoseComparison, Rig } from '@/core/rig/rig';
import type { SourceFacts } from '@/core/rig/source-facts';
import { keyedNodes, parentFirst, worldMatrices } from './node-worlds';
import { comparePoses } from '@/core/rig/compare-poses';
import { largestExtent } from '@/core/rig/rig-shape';
import { factsOf } from './facts';
import { readFileFacts } from './read-file-facts';
import { isPlace, readMeshes, type MutableBone } from './read-meshes';
import { sampleClip } from './sample-clip';

/** Everything the computation needs of a checked glTF document. File space; nothing is normalised. */
export function rigFromDocument(document: Document, place: string): Rig {
  const root = document.getRoot();
  const nodes = root.listNodes();
  const nodeIndex = new Map(nodes.map((node, index) => [node, index]));
  const source = factsOf(document);
  const remarks: string[] = [...source.remarks];
  const order = parentFirst(nodes);
  const worlds = worldMatrices(order);
  const boneNodes = chooseBones(
    document,
    order,
    source.jointNodes.flatMap((index) => nodes[index] ?? []),
  );
  const bones = readBones(boneNodes, nodeIndex, worlds, place, remarks);
  const boneOfNode = new Map(boneNodes.map((node, index) => [node, index]));
  const read = readMeshes(document, worlds, boneOfNode, bones, place, remarks);
  const { summary: mesh, parts, sides, middle, seams } = read;
  readBindPoses(root.listSkins(), worlds, boneOfNode, bones);
  remarkNames(bones, remarks);
  const clips = readClips(document, boneOfNode, source);
  return {
    source,
    kind:
      bones.length === 0
        ? 'mesh'
        : mesh.vertexCount > 0 && root.listSkins().length > 0
          ? 'character'
          : clips.length > 0 && mesh.vertexCount === 0
            ? 'motion'
            : 'skeleton',
    bones,
    extras: listExtras(order, boneOfNode, nodeIndex),
    clips,
    poses: comparePosesOf(document, order, boneNodes, bones),
    statedRoles: statedBones(source, nodes, boneOfNode),
    mesh,
    skinCount: root.listSkins().length,
    facts: { parts, sides, middle, seams, ...readFileFacts(document, boneNodes, boneOfNode) },
    remarks,
  };
}

function statedBones(
  source: SourceFacts,
  nodes: readonly Node[],
  boneOfNode: ReadonlyMap<Node, number>,
): Record<string, number> {
  const stated: Record<string, number> = {};
  for (const [role, index] of Object.entries(source.statedRoles)) {
    const bone = nodes[index] && boneOfNode.get(nodes[index]);
    if (bone !== undefined) stated[role] = bone;
  }
  return stated;
}

/** Bind pose and the first frame of each clip against the rest. */
function comparePosesOf(
  document: Document,
  order: readonly Node[],
  boneNodes: readonly Node[],
  bones: readonly Bone[],
): PoseComparison[] {
  const rest = bones.map((bone) => bone.restWorld);
  const size = largestExtent(rest.map((world) => [world[12], world[13], world[14]] as const));
  const comparisons: PoseComparison[] = [];
  if (bones.some((bone) => bone.bindWorld))
    comparisons.push({
      pose: 'bind',
      clip: -1,
      ...comparePoses(
        rest,
        bones.map((bone) => bone.bindWorld),
        size,
      ),
    });
  document
    .getRoot()
    .listAnimations()
    .slice(0, MAX_COMPARED_CLIPS)
    .forEach((animation, clip) => {
      const worlds = worldMatrices(order, sampleClip(animation, 0));
      comparisons.push({
        pose: 'frame',
        clip,
        ...comparePoses(
          rest,
          boneNodes.map((node) => worlds.get(node)).map((world) => (world?.every(isPlace) ? world : null)),
          size,
        ),
      });
    });
  return comparisons;
}

/** Files with hundreds of takes are compared by their first ones. */
const MAX_COMPARED_CLIPS = 20;

/**
 * Bones are the joints of all skins and those the format declares, what lies between them, and the plain nodes below them. A file without a skin
 * counts the plain nodes of every tree that is more than a lone node.
 */
function chooseBones(document: Document, order: readonly Node[], declared: readonly Node[]): Node[] {
  const joints = new Set([
    ...document
      .getRoot()
      .listSkins()
      .flatMap((skin) => skin.listJoints()),
    ...declared,
  ]);
  const isPlain = (node: Node) => !node.getMesh() && !node.getCamera() && !node.getExtension('KHR_lights_punctual');
  const chosen = new Set<Node>();
  if (joints.size > 0) {
    const tops = new Set<Node>();
    const keyed = keyedNodes(document);
    // A container above the joints that a clip moves takes part in every motion, so it counts as a bone.
    for (const joint of joints) tops.add(topmost(joint, new Set([...joints, ...keyed])));
    for (const joint of joints) {
      for (let at: Node | null = joint; at && !chosen.has(at); at = at.getParentNode()) {
        chosen.add(at);
        if (tops.has(at)) break;
      }
    }
    for (const node of order) {
      const parent = node.getParentNode();
      if (parent && chosen.has(parent) && isPlain(node)) chosen.add(node);
    }
  } else {
    const keyed = keyedNodes(document);
    for (const node of order) {
      const parent = node.getParentNode();
      const inTree = parent
        ? chosen.has(parent)
        : node.listChildren().some((child) => isPlain(child) || keyed.has(child));
      if (inTree && isPlain(node)) chosen.add(node);
    }
  }
  return order.filter((node) => chosen.has(node));
}

function topmost(joint: Node, joints: ReadonlySet<Node>): Node {
  let top = joint;
  for (let at: Node | null = joint; at; at = at.getParentNode()) if (joints.has(at)) top = at;
  return top;
}

function readBones(
  boneNodes: readonly Node[],
  nodeIndex: ReadonlyMap<Node, number>,
  worlds: ReadonlyMap<Node, readonly number[]>,
  place: string,
  remarks: string[],
): MutableBone[] {
  const boneIndex = new Map(boneNodes.map((node, index) => [node, index]));
  const bones = boneNodes.map((node, index): MutableBone => {
    const index0 = nodeIndex.get(node) ?? 0;
    const world = [...(worlds.get(node) ?? IDENTITY)];
    if (!world.every(isPlace)) {
      throw new YarvoError({
        code: 'bad-number',
        message: 'The rest transform is not finite, or far beyond any figure.',
        place: `${place}, nodes.${index0}`,
        remedy: "Reset this bone's transform and export again.",
      });
    }
    let parent: Node | null = node.getParentNode();
    while (parent && !boneIndex.has(parent)) parent = parent.getParentNode();
    return {
      index,
      name: node.getName() || `node ${index0}`,
      isNamed: node.getName() !== '',
      nodeIndex: index0,
      parent: parent ? (boneIndex.get(parent) ?? -1) : -1,
      rest: { translation: node.getTranslation(), rotation: normaliseQuat(node.getRotation()), scale: node.getScale() },
      restWorld: world,
      bindWorld: null,
      isJoint: false,
      skinWeight: 0,
      skinVertexCount: 0,
      skinCentre: null,
    };
  });
  const sheared = bones.filter((bone) => decompose(bone.restWorld).shear > 1e-3);
  if (sheared.length > 0)
    remarks.push(
      `Sheared in the rest pose: ${sheared
        .map((bone) => bone.name)
        .slice(0, 5)
        .join(', ')}.`,
    );
  return bones;
}

/**
 * Bind worlds in file space. A mesh under a moved node has its inverse bind matrices in that node's space; glTF ignores
 * the node for skinned meshes, so the matrices are taken as they are.
 */
function readBindPoses(
  skins: readonly Skin[],
  worlds: ReadonlyMap<Node, readonly number[]>,
  boneOfNode: ReadonlyMap<Node, number>,
  bones: MutableBone[],
): void {
  for (const skin of skins) {
    const inverse = skin.getInverseBindMatrices();
    skin.listJoints().forEach((joint, at) => {
      const bone = bones[boneOfNode.get(joint) ?? -1];
      if (!bone) return;
      bone.isJoint = true;
      if (bone.bindWorld || !inverse) return;
      const world = invertAffine(inverse.getElement(at, []));
      bone.bindWorld = world?.every(isPlace) ? world : null;
    });
  }
}

function remarkNames(bones: readonly Bone[], remarks: string[]): void {
  const unnamed = bones.filter((bone) => !bone.isNamed).length;
  if (unnamed > 0)
    remarks.push(`${unnamed} bones have no name in the file; they are shown as "node" and their number.`);
  const seen = new Map<string, number>();
  for (const bone of bones) seen.set(bone.name, (seen.get(bone.name) ?? 0) + 1);
  const duplicates = [...seen].filter(([, count]) => count > 1).map(([name]) => name);
  if (duplicates.length > 0)
    remarks.push(
      `Names used more than once: ${duplicates.slice(0, 5).join(', ')}${duplicates.length > 5 ? ' ...' : ''}.`,
    );
}

function readClips(document: Document, boneOfNode: ReadonlyMap<Node, number>, source: SourceFacts): Clip[] {
  return document
    .getRoot()
    .listAnimations()
    .map((animation, index) => {
      let durationSeconds = 0;
      let keyCount = 0;
      const moved = new Set<number>();
      for (const channel of animation.listChannels()) {
        const input = channel.getSampler()?.getInput();
        const node = channel.getTargetNode();
        const bone = node ? boneOfNode.get(node) : undefined;
        if (bone !== undefined) moved.add(bone);
        if (!input) continue;
        const last = input.getCount() > 0 ? input.getScalar(input.getCount() - 1) : 0;
        durationSeconds = Math.max(durationSeconds, Number.isFinite(last) ? Math.max(0, last) : 0);
        keyCount = Math.max(keyCount, input.getCount());
      }
      return {
        name: animation.getName() || `clip ${index}`,
        durationSeconds,
        keyCount,
        framesPerSecond:
          source.clipRates[index]?.framesPerSecond ??
          (durationSeconds > 0 && keyCount > 1 ? (keyCount - 1) / durationSeconds : 0),
        boneCount: moved.size,
        startSeconds: source.clipRates[index]?.startSeconds ?? 0,
      };
    });
}

function listExtras(
  order: readonly Node[],
  boneOfNode: ReadonlyMap<Node, number>,
  nodeIndex: ReadonlyMap<Node, number>,
): Extra[] {
  const extras: Extra[] = [];
  let rootBones = 0;
  for (const node of order) {
    const parent = node.getParentNode();
    const parentBone = nearestBone(parent, boneOfNode);
    const base = {
      name: node.getName() || `node ${nodeIndex.get(node)}`,
      nodeIndex: nodeIndex.get(node) ?? 0,
      parentBone,
    };
    if (boneOfNode.has(node)) {
      if (parentBone < 0 && ++rootBones > 1) extras.push({ kind: 'further-root', ...base });
      continue;
    }
    const kind = extraKind(node, parentBone, boneOfNode.size > 0);
    if (kind) extras.push({ kind, ...base });
  }
  return extras;
}

function nearestBone(node: Node | null, boneOfNode: ReadonlyMap<Node, number>): number {
  for (let at = node; at; at = at.getParentNode()) {
    const bone = boneOfNode.get(at);
    if (bone !== undefined) return bone;
  }
  return -1;
}

/** Without bones the meshes are what the file is about. */
function extraKind(node: Node, parentBone: number, hasBones: boolean): Extra['kind'] | null {
  if (node.getCamera()) return 'camera';
  if (node.getExtension('KHR_lights_punctual')) return 'light';
  const mesh: Mesh | null = node.getMesh();
  if (mesh) return node.getSkin() || !hasBones ? null : parentBone >= 0 ? 'rigid-mesh' : 'static-mesh';
  return node.listChildren().length > 0 ? 'container' : 'empty';
}
