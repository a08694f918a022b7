import type { Document, Node, Primitive, Skin } from '@gltf-transform/core';
import {
  bindLoose,
  moveOrFollow,
  moveWeights,
  normaliseWeights,
  pruneWeights,
  reduceInfluences,
  type WeightTable,
} from '@/core/geometry/mend-weights';
import type { Mending } from '@/core/intake/mending';
import { accessorFloats } from '../accessor-floats';
import { parentFirst, worldMatrices } from '../node-worlds';
import { skinMatrices, skinPoint } from '../read-meshes';
import { readInfluences, writeInfluences, type Influences } from '../skin-influences';

/** Whether anything of the weights is to be mended. */
const isWanted = ({ bindsLoose, moves, strays, leastWeight, influences, normalises }: Mending): boolean =>
  bindsLoose || moves.length > 0 || strays !== null || leastWeight !== null || influences !== null || normalises;

/** Mends the weights of all skinned meshes. @param nodes of the file as read, which the mending names by index. */
export function mendWeights(document: Document, nodes: readonly Node[], mending: Mending, place: string): void {
  if (!isWanted(mending)) return;
  const worlds = worldMatrices(parentFirst(document.getRoot().listNodes()));
  const done = new Set<Primitive>();
  for (const node of document.getRoot().listNodes()) {
    const skin = node.getSkin();
    if (!skin) continue;
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      if (done.has(primitive)) continue;
      done.add(primitive);
      const influences = readInfluences(primitive, skin.listJoints().length, place);
      if (!influences) continue;
      mendTable(influences, primitive, skin, nodes, mending, () => skinMatrices(skin, worlds));
      writeInfluences(document, primitive, influences);
    }
  }
}

function mendTable(
  influences: Influences,
  primitive: Primitive,
  skin: Skin,
  nodes: readonly Node[],
  { bindsLoose, moves, strays, leastWeight, influences: most }: Mending,
  matricesOf: () => (readonly number[])[],
): void {
  const table: WeightTable = influences;
  const positions = primitive.getAttribute('POSITION');
  if (!positions) return;
  const places = accessorFloats(positions, 3);
  const joints = skin.listJoints();
  const jointOf = (node: number): number => joints.indexOf(nodes[node]);
  const partners = (pairs: Mending['moves']): Map<number, number> =>
    new Map(pairs.map(({ from, to }) => [jointOf(from), jointOf(to)] as const).filter(([from]) => from >= 0));
  if (bindsLoose) bindLoose(table, places);
  moveOrFollow(table, partners(moves), places);
  if (strays) {
    const { axis, middle, slack } = strays;
    const signs = new Map(strays.pairs.map(({ from }, at) => [jointOf(from), strays.signs[at] ?? 1] as const));
    const matrices = matricesOf();
    const world: [number, number, number] = [0, 0, 0];
    // Where a vertex is at rest does not depend on what was moved before: it is asked for first.
    const beyond = new Float32Array(places.length / 3);
    for (let vertex = 0; vertex < beyond.length; vertex++) {
      const at = vertex * 3;
      skinPoint(places[at], places[at + 1], places[at + 2], influences, vertex, matrices, world);
      beyond[vertex] = world[axis] - middle;
    }
    moveWeights(table, partners(strays.pairs), (vertex, joint) => -(signs.get(joint) ?? 1) * beyond[vertex] > slack);
  }
  if (leastWeight !== null) pruneWeights(table, leastWeight);
  if (most !== null) reduceInfluences(table, most);
  normaliseWeights(table);
}
