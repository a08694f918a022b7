import { worldOf } from '@/document/fold-bones';
import { bindJoint } from '@/document/rebuild-tree';
import { createNodeIO } from '@/formats/gltf/node-io';
import { lamplighter } from '../../demo/cast/lamplighter';
import { writeFigure } from '../../demo/figure/write-figure';

/**
 * The lamplighter with its meshes several times over, until it has that many vertices; with ribbons on its hips until it
 * has that many bones.
 */
export async function largeCharacter(wanted: number, bones = 0): Promise<Uint8Array> {
  const io = createNodeIO();
  const document = await io.readBinary(await writeFigure(lamplighter()));
  const scene = document.getRoot().listScenes()[0];
  const skinned = document
    .getRoot()
    .listNodes()
    .filter((node) => node.getSkin());
  const countOf = () =>
    document
      .getRoot()
      .listNodes()
      .filter((node) => node.getSkin())
      .flatMap((node) => node.getMesh()?.listPrimitives() ?? [])
      .reduce((sum, primitive) => sum + (primitive.getAttribute('POSITION')?.getCount() ?? 0), 0);
  const [skin] = document.getRoot().listSkins();
  const hips = skin.listJoints()[1];
  for (let count = skin.listJoints().length; count < bones; count++) {
    // Ten ribbons, each a chain.
    const above = count % 10 === 0 ? hips : skin.listJoints().at(-1);
    const joint = document.createNode(`ribbon_${count}`).setTranslation([0.01, -0.04, 0.01 * (count % 7)]);
    (above ?? hips).addChild(joint);
    bindJoint(document, skin, joint, worldOf(joint));
  }
  while (countOf() < wanted) {
    for (const node of skinned) {
      const mesh = node.getMesh()?.clone();
      if (!mesh) continue;
      for (const primitive of mesh.listPrimitives()) mesh.removePrimitive(primitive).addPrimitive(primitive.clone());
      scene.addChild(document.createNode().setMesh(mesh).setSkin(node.getSkin()));
    }
  }
  return io.writeBinary(document);
}
