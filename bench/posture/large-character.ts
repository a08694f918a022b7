import { createNodeIO } from '@/formats/gltf/node-io';
import { lamplighter } from '../../demo/cast/lamplighter';
import { writeFigure } from '../../demo/figure/write-figure';

/** The lamplighter with its meshes several times over, until it has that many vertices. */
export async function largeCharacter(wanted: number): Promise<Uint8Array> {
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
