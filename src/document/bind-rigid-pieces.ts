import type { Document, Mesh, Node, Primitive } from '@gltf-transform/core';
import { transformPrimitive } from '@gltf-transform/functions';
import { invertAffine, translationOf, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { accessorFloats } from './accessor-floats';
import { bindMatrices, bufferOf, copyMesh } from './document-parts';
import { factsOf } from './facts';
import { keyedNodes, parentFirst, worldMatrices } from './node-worlds';

/** A figure of separate pieces has at least so many; fewer are a thing of some parts. */
const LEAST_PIECES = 6;

/** Places by which pieces that nothing moves are told apart must be so many: a body has as many joints. */
const LEAST_PLACES = 10;

/** Pieces, and the nodes that move them. */
export interface RigidPieces {
  readonly carriers: ReadonlyMap<Node, Node>;
  readonly bones: readonly Node[];
  /** Whether clips move several of them: then nothing else needs to say that they are a figure's. */
  readonly isMoved: boolean;
}

/**
 * Looks for a figure that is made of rigid pieces: a robot of parts, limbs that hang on pivots.
 * @returns null for a document with a skin of its own, or whose pieces neither a clip nor their places tell apart.
 */
export function findRigidPieces(document: Document): RigidPieces | null {
  const root = document.getRoot();
  if (root.listSkins().length > 0) return null;
  const nodes = root.listNodes();
  const pieces = nodes.filter((node) => node.getMesh());
  const movers = new Set([
    ...keyedNodes(document, (path) => path !== 'weights'),
    ...factsOf(document).jointNodes.flatMap((index) => nodes[index] ?? []),
  ]);
  const byMover = new Map(pieces.map((piece) => [piece, moverOf(piece, movers)]));
  const moved = new Set([...byMover.values()].filter((mover) => mover !== null));
  if (moved.size >= LEAST_PIECES) {
    const carriers = new Map([...byMover].flatMap(([piece, mover]) => (mover ? [[piece, mover] as const] : [])));
    return { carriers, bones: [...new Set([...moved, ...[...movers].filter(hasPieceBelow)])], isMoved: true };
  }
  const carriers = new Map(pieces.map((piece) => [piece, pivotOf(piece)]));
  const bones = [...new Set(carriers.values())];
  const worlds = worldMatrices(parentFirst(nodes));
  const places = new Set(bones.map((bone) => placeText(worlds.get(bone) ?? IDENTITY)));
  return places.size >= LEAST_PLACES ? { carriers, bones, isMoved: false } : null;
}

const placeText = (world: Mat4): string =>
  translationOf(world)
    .map((value) => value.toPrecision(5))
    .join();

/**
 * Binds rigid pieces to the nodes that move them: each becomes skinned to one bone with all its weight, so that it moves
 * as before, and whatever reads the document finds bones and a skin.
 */
export function bindRigidPieces(document: Document, { carriers, bones }: RigidPieces): void {
  const root = document.getRoot();
  const worlds = worldMatrices(parentFirst(root.listNodes()));
  // A node that is scaled to nothing has no inverse; its piece stays as it is.
  const joints = bones.filter((bone) => invertAffine(worlds.get(bone) ?? IDENTITY) !== null);
  const at = new Map(joints.map((joint, index) => [joint, index]));
  const binds = new Float32Array(joints.length * 16);
  joints.forEach((joint, index) => binds.set(invertAffine(worlds.get(joint) ?? IDENTITY) as Mat4, index * 16));
  const skin = document.createSkin().setInverseBindMatrices(bindMatrices(document, binds));
  for (const joint of joints) skin.addJoint(joint);
  for (const [piece, carrier] of carriers) {
    const joint = at.get(carrier);
    if (joint === undefined) continue;
    const mesh = placedMesh(document, piece.getMesh() as Mesh, worlds.get(piece) ?? IDENTITY, joint);
    piece.setMesh(null);
    const holder = document.createNode(`${piece.getName()} mesh`).setMesh(mesh).setSkin(skin);
    (root.getDefaultScene() ?? root.listScenes()[0])?.addChild(holder);
    // What only held the shape would be read as a bone of its own.
    if (piece !== carrier && piece.listChildren().length === 0) piece.dispose();
  }
}

/** The nearest node that a clip or the format moves, the piece itself among them. */
function moverOf(piece: Node, movers: ReadonlySet<Node>): Node | null {
  for (let at: Node | null = piece; at; at = at.getParentNode()) if (movers.has(at)) return at;
  return null;
}

const hasPieceBelow = (node: Node): boolean =>
  node.listChildren().some((child) => child.getMesh() !== null || hasPieceBelow(child));

/** The node that would move a piece: itself, or the pivot above it of which it is only the shape. */
function pivotOf(piece: Node): Node {
  const parent = piece.getParentNode();
  if (!parent || parent.getMesh() || piece.listChildren().length > 0) return piece;
  const siblings = parent.listChildren();
  // What only holds a heap of pieces together is no pivot.
  const isPivot = parent.getParentNode() !== null || siblings.some(hasPieceBelow);
  const isItsShape =
    Math.hypot(...piece.getTranslation()) < 1e-6 || siblings.filter((node) => node.getMesh()).length === 1;
  return isPivot && isItsShape ? parent : piece;
}

/** A copy of a mesh where its node puts it in the rest pose, all its weight on one joint. */
function placedMesh(document: Document, mesh: Mesh, world: Mat4, joint: number): Mesh {
  const copy = copyMesh(mesh);
  for (const own of copy.listPrimitives()) {
    placePrimitive(document, own, world);
    const count = own.getAttribute('POSITION')?.getCount() ?? 0;
    const [joints, weights] = [new Uint16Array(count * 4), new Float32Array(count * 4)];
    for (let vertex = 0; vertex < count; vertex++) {
      joints[vertex * 4] = joint;
      weights[vertex * 4] = 1;
    }
    const accessor = (array: Uint16Array | Float32Array) =>
      document.createAccessor().setType('VEC4').setArray(array).setBuffer(bufferOf(document));
    own.setAttribute('JOINTS_0', accessor(joints)).setAttribute('WEIGHTS_0', accessor(weights));
  }
  return copy;
}

function placePrimitive(document: Document, primitive: Primitive, world: Mat4): void {
  for (const name of ['POSITION', 'NORMAL', 'TANGENT']) {
    const attribute = primitive.getAttribute(name);
    if (attribute) primitive.setAttribute(name, attribute.clone());
  }
  const indices = primitive.getIndices();
  if (indices) primitive.setIndices(indices.clone());
  const targets = primitive.listTargets();
  for (const target of targets) primitive.removeTarget(target);
  transformPrimitive(primitive, world as unknown as Parameters<typeof transformPrimitive>[1]);
  // What morph targets hold are differences: they turn and scale, and do not move.
  for (const target of targets) {
    for (const name of target.listSemantics()) {
      const values = target.getAttribute(name);
      if (!values) continue;
      const from = accessorFloats(values, 3);
      const out = new Float32Array(from.length);
      for (let at = 0; at < from.length; at += 3)
        for (let row = 0; row < 3; row++)
          out[at + row] = world[row] * from[at] + world[4 + row] * from[at + 1] + world[8 + row] * from[at + 2];
      target.setAttribute(name, document.createAccessor().setType('VEC3').setArray(out).setBuffer(bufferOf(document)));
    }
    primitive.addTarget(target);
  }
}
