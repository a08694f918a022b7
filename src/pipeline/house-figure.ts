import { Document } from '@gltf-transform/core';
import { HOUSE_PARENTS, HOUSE_PLACES, HOUSE_ROLES } from '@/core/house/house-body';
import { subtract } from '@/core/math/vec3';
import { rigFromDocument } from '@/document/read-rig';
import type { CanonicalReading } from './read-files';

/** The figure that the house set is made for, as a model: its joints, named by their roles, in the T-pose; metres. */
export function houseFigure(): CanonicalReading {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene('house figure');
  document.getRoot().setDefaultScene(scene);
  const nodes = new Map(HOUSE_ROLES.map((role) => [role, document.createNode(role)]));
  const skin = document.createSkin('house figure');
  for (const [role, node] of nodes) {
    const parent = HOUSE_PARENTS[role];
    const place = HOUSE_PLACES[role];
    node.setTranslation([...(parent === null ? place : subtract(place, HOUSE_PLACES[parent]))]);
    (parent === null ? scene : nodes.get(parent))?.addChild(node);
    skin.addJoint(node);
  }
  const inverseBinds = HOUSE_ROLES.flatMap((role) => {
    const [x, y, z] = HOUSE_PLACES[role];
    return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -x, -y, -z, 1];
  });
  skin.setInverseBindMatrices(
    document.createAccessor().setType('MAT4').setArray(new Float32Array(inverseBinds)).setBuffer(buffer),
  );
  return { document, rig: rigFromDocument(document, 'house figure') };
}
