import type { Document, Node } from '@gltf-transform/core';
import { mergeDocuments } from '@gltf-transform/functions';
import { distance, type Vec3 } from '@/core/math/vec3';
import { foldBones, worldOf } from './fold-bones';

/** Same place: within this share of the figure's size. */
const PLACE_TOLERANCE = 5e-3;

export interface JoinReport {
  readonly folded: number;
  /** Joints of the part that the figure does not have; they stay, below the bone they hung on. */
  readonly added: readonly string[];
}

/**
 * Joins a part (head, hair, coat) to a character: everything of it is copied over, and its bones that agree with the
 * figure's in name and place are folded into those.
 */
export function joinPart(document: Document, part: Document): JoinReport {
  const own = document.getRoot().listNodes();
  const size = extentOf(own);
  const byName = new Map<string, Node>();
  for (const node of own) if (node.getName() && !byName.has(node.getName())) byName.set(node.getName(), node);
  const map = mergeDocuments(document, part);
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0] ?? document.createScene();
  for (const other of document.getRoot().listScenes()) {
    if (other === scene) continue;
    for (const child of other.listChildren()) {
      other.removeChild(child);
      scene.addChild(child);
    }
    other.dispose();
  }
  const pairs = new Map<Node, Node>();
  const added: string[] = [];
  const joints = new Set(
    part
      .getRoot()
      .listSkins()
      .flatMap((skin) => skin.listJoints()),
  );
  for (const from of part.getRoot().listNodes()) {
    const copy = map.get(from) as Node | undefined;
    if (!copy || copy.getMesh()) continue;
    const namesake = byName.get(from.getName());
    if (namesake && !namesake.getMesh() && distance(placeOf(namesake), placeOf(copy)) <= size * PLACE_TOLERANCE)
      pairs.set(copy, namesake);
    else if (joints.has(from)) added.push(from.getName());
  }
  foldBones(document, pairs);
  return { folded: pairs.size, added };
}

const placeOf = (node: Node): Vec3 => {
  const world = worldOf(node);
  return [world[12], world[13], world[14]];
};

function extentOf(nodes: readonly Node[]): number {
  const places = nodes.map(placeOf);
  return Math.max(
    ...[0, 1, 2].map((axis) => {
      const values = places.map((place) => place[axis]);
      return Math.max(...values) - Math.min(...values);
    }),
    1e-9,
  );
}
