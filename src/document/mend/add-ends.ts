import type { Document, Node } from '@gltf-transform/core';
import { IDENTITY, invertAffine, transformPoint, translationOf } from '@/core/math/mat4';
import { add, dot, normalise, scale, subtract, type Vec3 } from '@/core/math/vec3';
import { accessorFloats } from '../accessor-floats';
import { bindJoint } from '../rebuild-tree';
import { worldOf } from '../fold-bones';
import { parentFirst, worldMatrices } from '../node-worlds';
import { skinMatrices, skinPoint } from '../read-meshes';
import { readInfluences } from '../skin-influences';

/** A vertex belongs to a bone that carries at least this much of it. */
const OWN_SHARE = 0.3;

/**
 * Gives bones one more at the far end of the skin that they carry, along the way from the bone above; named after them.
 * Bones that carry nothing, or have a bone below already, get none.
 */
export function addEnds(document: Document, bones: readonly Node[], place: string): void {
  const skins = document.getRoot().listSkins();
  const joints = new Set(skins.flatMap((skin) => skin.listJoints()));
  for (const bone of bones) {
    const parent = bone.getParentNode();
    if (bone.isDisposed() || !parent || bone.listChildren().some((child) => joints.has(child))) continue;
    const from = translationOf(worldOf(bone));
    const along = normalise(subtract(from, translationOf(worldOf(parent))));
    const reach = along && reachOf(document, bone, from, along, place);
    const skin = skins.find((each) => each.listJoints().includes(bone));
    if (!along || !reach || !skin) continue;
    const end = document.createNode(`${bone.getName() || 'bone'}_end`);
    const local = transformPoint(invertAffine(worldOf(bone)) ?? IDENTITY, add(from, scale(along, reach)));
    end.setTranslation([...local]);
    bone.addChild(end);
    bindJoint(document, skin, end, worldOf(end));
  }
}

/** How far the skin of a bone reaches beyond its joint; 0 where it carries none there. */
function reachOf(document: Document, bone: Node, from: Vec3, along: Vec3, place: string): number {
  const worlds = worldMatrices(parentFirst(document.getRoot().listNodes()));
  let most = 0;
  const stands: [number, number, number] = [0, 0, 0];
  for (const node of document.getRoot().listNodes()) {
    const skin = node.getSkin();
    const joint = skin?.listJoints().indexOf(bone) ?? -1;
    if (!skin || joint < 0) continue;
    const matrices = skinMatrices(skin, worlds);
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const influences = readInfluences(primitive, skin.listJoints().length, place);
      const positions = primitive.getAttribute('POSITION');
      if (!influences || !positions) continue;
      const { joints, weights, perVertex } = influences;
      const places = accessorFloats(positions, 3);
      for (let vertex = 0; vertex * 3 < places.length; vertex++) {
        let share = 0;
        for (let slot = vertex * perVertex; slot < (vertex + 1) * perVertex; slot++)
          if (joints[slot] === joint) share += weights[slot];
        if (share < OWN_SHARE) continue;
        skinPoint(
          places[vertex * 3],
          places[vertex * 3 + 1],
          places[vertex * 3 + 2],
          influences,
          vertex,
          matrices,
          stands,
        );
        most = Math.max(most, dot(subtract(stands, from), along));
      }
    }
  }
  return most;
}
