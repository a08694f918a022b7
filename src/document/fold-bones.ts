import type { Document, Node } from '@gltf-transform/core';
import { ancestorsOf, bindMatrices } from './document-parts';
import type { sampleClip } from './sample-clip';
import { compose, decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';

/** World transform of a node, all parents applied: by their rest, but for the parts that a moment of a clip gives. */
export function worldOf(node: Node, keyed?: ReturnType<typeof sampleClip>): Mat4 {
  let world: Mat4 = IDENTITY;
  for (const at of [node, ...ancestorsOf(node)]) {
    const change = keyed?.get(at);
    world = multiply(
      compose(
        change?.translation ?? at.getTranslation(),
        change?.rotation ?? at.getRotation(),
        change?.scale ?? at.getScale(),
      ),
      world,
    );
  }
  return world;
}

/** Gives a node another parent and keeps it where it is. */
export function reparent(node: Node, parent: Node): void {
  const { translation, rotation, scale } = decompose(
    multiply(invertAffine(worldOf(parent)) ?? IDENTITY, worldOf(node)),
  );
  node.getParentNode()?.removeChild(node);
  for (const holder of node.listParents())
    if (holder.propertyType === 'Scene') (holder as unknown as { removeChild(child: Node): void }).removeChild(node);
  parent.addChild(node);
  node
    .setTranslation([...translation])
    .setRotation([...rotation])
    .setScale([...scale]);
}

/**
 * Folds copied bones into their originals: skins bound to a copy are bound to the original instead, through the fixed
 * offset between the two, so the mesh moves just as it did while both skeletons moved alike. What hung on a copy hangs
 * on its original; keys of the copies are dropped.
 * @param pairs copy -> original.
 */
export function foldBones(document: Document, pairs: ReadonlyMap<Node, Node>): void {
  const offsets = new Map(
    [...pairs].map(([copy, original]) => [copy, multiply(invertAffine(worldOf(original)) ?? IDENTITY, worldOf(copy))]),
  );
  for (const skin of document.getRoot().listSkins()) {
    const joints = skin.listJoints();
    if (!joints.some((joint) => pairs.has(joint))) continue;
    const inverse = skin.getInverseBindMatrices();
    const matrices = new Float32Array(joints.length * 16);
    joints.forEach((joint, at) => {
      const ibm = inverse ? inverse.getElement(at, []) : [...IDENTITY];
      const offset = offsets.get(joint);
      matrices.set(offset ? multiply(offset, ibm) : ibm, at * 16);
    });
    const folded = joints.map((joint) => pairs.get(joint) ?? joint);
    for (const joint of joints) skin.removeJoint(joint);
    // Two joints of a skin may become one bone; the format allows a node to be listed twice, gltf-transform does not.
    const unique = [...new Set(folded)];
    if (unique.length < folded.length) mergeJoints(document, skin, folded, unique, matrices, joints.length);
    else {
      for (const joint of folded) skin.addJoint(joint);
      skin.setInverseBindMatrices(bindMatrices(document, matrices));
    }
    const skeleton = skin.getSkeleton();
    if (skeleton && pairs.has(skeleton)) skin.setSkeleton(null);
  }
  moveChildren(pairs);
  const copies = new Set(pairs.keys());
  for (const animation of document.getRoot().listAnimations()) {
    for (const channel of animation.listChannels()) if (copies.has(channel.getTargetNode() as Node)) channel.dispose();
  }
  for (const copy of copies) copy.dispose();
}

/** Joints that fell together keep their own bind matrix through a child node at the offset where those differ. */
function mergeJoints(
  document: Document,
  skin: ReturnType<Document['createSkin']>,
  folded: readonly Node[],
  unique: readonly Node[],
  matrices: Float32Array,
  count: number,
): void {
  const firstAt = new Map(unique.map((joint) => [joint, folded.indexOf(joint)]));
  const same = (a: number, b: number) =>
    [...Array(16).keys()].every((k) => Math.abs(matrices[a * 16 + k] - matrices[b * 16 + k]) < 1e-6);
  const slots: number[] = [];
  const kept: { joint: Node; matrix: Float32Array }[] = [];
  const slotOf = new Map<Node, number>();
  for (let at = 0; at < count; at++) {
    const first = firstAt.get(folded[at]) as number;
    const known = slotOf.get(folded[at]);
    if (known !== undefined && same(at, first)) slots.push(known);
    else {
      const joint = known === undefined ? folded[at] : extraJoint(document, folded[at]);
      slots.push(kept.push({ joint, matrix: matrices.slice(at * 16, at * 16 + 16) }) - 1);
      if (known === undefined) slotOf.set(folded[at], slots[at]);
    }
  }
  for (const { joint } of kept) skin.addJoint(joint);
  const packed = new Float32Array(kept.length * 16);
  kept.forEach(({ matrix }, at) => packed.set(matrix, at * 16));
  skin.setInverseBindMatrices(bindMatrices(document, packed));
  renumber(document, skin, slots);
}

function extraJoint(document: Document, original: Node): Node {
  const node = document.createNode(`${original.getName()} fold`);
  original.addChild(node);
  return node;
}

/** Writes the new joint numbers into every mesh of a skin. */
function renumber(document: Document, skin: ReturnType<Document['createSkin']>, slots: readonly number[]): void {
  const done = new Set<unknown>();
  for (const node of document.getRoot().listNodes()) {
    if (node.getSkin() !== skin) continue;
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      for (let set = 0; primitive.getAttribute(`JOINTS_${set}`); set++) {
        const accessor = primitive.getAttribute(`JOINTS_${set}`);
        if (!accessor || done.has(accessor)) continue;
        done.add(accessor);
        const element: number[] = [];
        for (let vertex = 0; vertex < accessor.getCount(); vertex++) {
          accessor.getElement(vertex, element);
          accessor.setElement(
            vertex,
            element.map((joint) => slots[joint] ?? 0),
          );
        }
      }
    }
  }
}

/** Children of copies, themselves no copies, move to the originals; deepest first keeps every world as it is. */
function moveChildren(pairs: ReadonlyMap<Node, Node>): void {
  for (const [copy, original] of pairs)
    for (const child of copy.listChildren()) if (!pairs.has(child)) reparent(child, original);
}
