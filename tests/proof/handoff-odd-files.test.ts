import { Matrix4, Vector3, type SkinnedMesh } from 'three';
import { describe, expect, it } from 'vitest';
import { fromAxisAngle, type Quat } from '@/core/math/quat';
import { createNodeIO } from '@/formats/gltf/node-io';
import { lamplighter } from '../../demo/cast/lamplighter';
import { eelSeller } from '../../demo/cast/eel-seller';
import { writeFigure } from '../../demo/figure/write-figure';
import { makeHandoff } from '../helpers/handoff-maker';
import { bonePositions, driveTo, loadWithThree, playAt, skinnedVertices } from '../helpers/three-oracle';
import { layDown, wrapGlb } from '../helpers/rig-maker';

type Document = Awaited<ReturnType<ReturnType<typeof createNodeIO>['readBinary']>>;

/** The eel seller with something changed in the file, as another exporter would have written it. */
async function changed(change: (document: Document) => void): Promise<Uint8Array> {
  const document = await createNodeIO().readBinary(await writeFigure(eelSeller()));
  change(document);
  return createNodeIO().writeBinary(document);
}

const bufferOf = (document: Document) => document.getRoot().listBuffers()[0];
const nodeNamed = (document: Document, name: string) => {
  const node = document
    .getRoot()
    .listNodes()
    .find((candidate) => candidate.getName() === name);
  if (!node) throw new Error(`no node ${name}`);
  return node;
};
const largest = (a: readonly Vector3[], b: readonly Vector3[]) =>
  a.reduce((most, point, at) => Math.max(most, point.distanceTo(b[at])), 0);

/** Mesh against the original driven to the posture, and joints of a clip against the original's. */
async function expectFaithful(original: Uint8Array, seconds: readonly number[] = [0, 0.4, 0.9]) {
  const made = await makeHandoff(original);
  const similarity = new Matrix4().fromArray([...made.skeleton.similarity]);
  const source = await loadWithThree(original);
  driveTo(source, made.rig, made.fit.posture);
  const expected = skinnedVertices(source).map((point) => point.applyMatrix4(similarity));
  expect(largest(expected, skinnedVertices(await loadWithThree(made.bytes)))).toBeLessThan(1e-5);
  const plain = await loadWithThree(original);
  const written = await loadWithThree(made.bytes);
  for (const time of seconds) {
    if (plain.animations.length === 0) break;
    playAt(plain, 0, time);
    playAt(written, 0, time);
    const places = bonePositions(written);
    for (const bone of made.rig.bones) {
      const wanted = plain.nodes
        .get(bone.nodeIndex)
        ?.getWorldPosition(new Vector3())
        .applyMatrix4(similarity) as Vector3;
      expect(places.get(made.names.names[bone.index])?.distanceTo(wanted), bone.name).toBeLessThan(1e-5);
    }
  }
  return { made, written, similarity };
}

describe('handoff of files as other exporters write them', () => {
  it('in centimetres, lying, under a scaled and turned container', async () => {
    await expectFaithful(await wrapGlb(await writeFigure(eelSeller()), { rotation: layDown, scale: 100 }));
  });

  it('with the scale inside the skeleton: a root bone of scale 0.01 over joints in centimetres', async () => {
    const original = await changed((document) => {
      const joints = document.getRoot().listSkins()[0].listJoints();
      for (const joint of joints) {
        if (joint.getName() === 'bf_root') joint.setScale([0.01, 0.01, 0.01]);
        else joint.setTranslation(joint.getTranslation().map((value) => value * 100) as [number, number, number]);
      }
      const inverse = document.getRoot().listSkins()[0].getInverseBindMatrices();
      for (let at = 0; at < joints.length; at++) {
        const matrix = inverse?.getElement(at, []) ?? [];
        inverse?.setElement(
          at,
          matrix.map((value, index) => (index % 4 === 3 ? value : value * 100)),
        );
      }
    });
    const { made } = await expectFaithful(original);
    for (const node of (await createNodeIO().readBinary(made.bytes)).getRoot().listSkins()[0].listJoints())
      node.getScale().forEach((value) => expect(value).toBeCloseTo(1, 6));
  });

  it('with a spline clip that moves the hips', async () => {
    const original = await changed((document) => {
      const buffer = bufferOf(document);
      const hips = nodeNamed(document, 'bf_hip');
      const [x, y, z] = hips.getTranslation();
      const input = document
        .createAccessor()
        .setType('SCALAR')
        .setBuffer(buffer)
        .setArray(new Float32Array([0, 0.5, 1]));
      const value = (dx: number) => [0.1, 0, 0, x + dx, y + dx / 2, z, 0.1, 0.2, 0];
      const output = document
        .createAccessor()
        .setType('VEC3')
        .setBuffer(buffer)
        .setArray(new Float32Array([...value(0), ...value(0.3), ...value(0.1)]));
      const sampler = document
        .createAnimationSampler()
        .setInput(input)
        .setOutput(output)
        .setInterpolation('CUBICSPLINE');
      document
        .getRoot()
        .listAnimations()[0]
        .addSampler(sampler)
        .addChannel(
          document.createAnimationChannel().setTargetNode(hips).setTargetPath('translation').setSampler(sampler),
        );
    });
    await expectFaithful(
      await wrapGlb(original, { rotation: fromAxisAngle([0, 1, 0], Math.PI / 2), scale: 100 }),
      [0, 0.2, 0.45, 0.8],
    );
  });

  it('with eight influences a vertex', async () => {
    const original = await changed((document) => {
      for (const primitive of document.getRoot().listMeshes()[0].listPrimitives()) {
        const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
        const joints = new Uint8Array(count * 4);
        const weights = new Float32Array(count * 4);
        const first = primitive.getAttribute('WEIGHTS_0');
        for (let vertex = 0; vertex < count; vertex++) {
          const old = first?.getElement(vertex, []) ?? [];
          first?.setElement(
            vertex,
            old.map((weight) => weight * 0.75),
          );
          joints.set([40, 41, 0, 0], vertex * 4);
          weights.set([0.15, 0.1, 0, 0], vertex * 4);
        }
        primitive.setAttribute(
          'JOINTS_1',
          document.createAccessor().setType('VEC4').setArray(joints).setBuffer(bufferOf(document)),
        );
        primitive.setAttribute(
          'WEIGHTS_1',
          document.createAccessor().setType('VEC4').setArray(weights).setBuffer(bufferOf(document)),
        );
      }
    });
    const made = await makeHandoff(original);
    expect(made.rig.mesh.maxInfluences).toBeGreaterThan(4);
    // The oracle skins four influences only; the second set must still be in the file, beside the first.
    const primitive = (await createNodeIO().readBinary(made.bytes)).getRoot().listMeshes()[0].listPrimitives()[0];
    const sum = (vertex: number) =>
      [0, 1]
        .flatMap((set) => primitive.getAttribute(`WEIGHTS_${set}`)?.getElement(vertex, []) ?? [])
        .reduce((total, weight) => total + weight, 0);
    for (const vertex of [0, 7, 100]) expect(sum(vertex)).toBeCloseTo(1, 5);
  });

  it('with a morph target: the written shape and its key differ as they did', async () => {
    const original = await changed((document) => {
      const primitive = document.getRoot().listMeshes()[0].listPrimitives()[0];
      const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
      const deltas = Float32Array.from({ length: count * 3 }, (_, at) => Math.sin(at) * 0.02);
      const target = document
        .createPrimitiveTarget('wide')
        .setAttribute(
          'POSITION',
          document.createAccessor().setType('VEC3').setArray(deltas).setBuffer(bufferOf(document)),
        );
      for (const entry of document.getRoot().listMeshes()[0].listPrimitives()) {
        if (entry === primitive) entry.addTarget(target);
        else {
          const size = (entry.getAttribute('POSITION')?.getCount() ?? 0) * 3;
          entry.addTarget(
            document
              .createPrimitiveTarget('wide')
              .setAttribute(
                'POSITION',
                document
                  .createAccessor()
                  .setType('VEC3')
                  .setArray(new Float32Array(size))
                  .setBuffer(bufferOf(document)),
              ),
          );
        }
      }
      document.getRoot().listMeshes()[0].setWeights([0]);
    });
    const made = await makeHandoff(original);
    const morphed = async (bytes: Uint8Array, drive: boolean) => {
      const loaded = await loadWithThree(bytes);
      if (drive) driveTo(loaded, made.rig, made.fit.posture);
      const out: Vector3[] = [];
      loaded.scene.traverse((object) => {
        const mesh = object as SkinnedMesh;
        if (!mesh.isSkinnedMesh) return;
        if (mesh.morphTargetInfluences) mesh.morphTargetInfluences[0] = 1;
        for (let vertex = 0; vertex < mesh.geometry.attributes.position.count; vertex++)
          out.push(mesh.getVertexPosition(vertex, new Vector3()).applyMatrix4(mesh.matrixWorld));
      });
      return out;
    };
    const similarity = new Matrix4().fromArray([...made.skeleton.similarity]);
    const expected = (await morphed(original, true)).map((point) => point.applyMatrix4(similarity));
    expect(largest(expected, await morphed(made.bytes, false))).toBeLessThan(1e-5);
  });

  it('with a rigid prop in the hand: it stays in the hand', async () => {
    const turn: Quat = fromAxisAngle([0.6, 0, 0.8], 0.7);
    const original = await changed((document) => {
      const prop = document
        .createNode('eel knife')
        .setMesh(document.getRoot().listMeshes()[0].clone())
        .setTranslation([0.03, 0.08, 0.01])
        .setRotation([...turn] as [number, number, number, number])
        .setScale([0.1, 0.1, 0.1]);
      for (const primitive of prop.getMesh()?.listPrimitives() ?? []) {
        const own = primitive.clone();
        for (const name of ['JOINTS_0', 'WEIGHTS_0']) own.setAttribute(name, null);
        prop.getMesh()?.removePrimitive(primitive).addPrimitive(own);
      }
      nodeNamed(document, 'bf_hand.r').addChild(prop);
    });
    const { made, written, similarity } = await expectFaithful(original);
    expect(made.rig.extras).toMatchObject([{ kind: 'rigid-mesh', name: 'eel knife' }]);
    const source = await loadWithThree(original);
    driveTo(source, made.rig, made.fit.posture);
    const place = (loaded: typeof source) => {
      let found: Matrix4 | null = null;
      loaded.scene.traverse((object) => {
        if (/eel.?knife/.test(object.name) && !found) found = object.matrixWorld.clone();
      });
      return found as unknown as Matrix4;
    };
    written.scene.updateMatrixWorld(true);
    const fresh = await loadWithThree(made.bytes);
    const wanted = similarity.clone().multiply(place(source)).elements;
    place(fresh).elements.forEach((value, at) => expect(value).toBeCloseTo(wanted[at], 5));
  });

  it('with a camera and an empty node: they are left out and listed', async () => {
    const original = await changed((document) => {
      const scene = document.getRoot().listScenes()[0];
      scene.addChild(
        document
          .createNode('shop camera')
          .setCamera(document.createCamera('lens').setType('perspective').setYFov(1).setZNear(0.1)),
      );
      scene.addChild(document.createNode('marker'));
    });
    const { made } = await expectFaithful(original);
    expect([...made.report.leftOut].sort()).toEqual(['marker', 'shop camera']);
    expect((await createNodeIO().readBinary(made.bytes)).getRoot().listCameras()).toEqual([]);
  });

  it('with materials, textures and texture coordinates: all are still there', async () => {
    const original = await writeFigure(lamplighter());
    const made = await makeHandoff(original);
    const [before, after] = await Promise.all([original, made.bytes].map((bytes) => createNodeIO().readBinary(bytes)));
    const summary = (document: Document) =>
      document
        .getRoot()
        .listMaterials()
        .map((material) => [
          material.getName(),
          material.getBaseColorFactor(),
          material.getBaseColorTexture()?.getImage()?.byteLength ?? 0,
        ]);
    expect(summary(after)).toEqual(summary(before));
    const coat = (document: Document) =>
      document
        .getRoot()
        .listMeshes()[0]
        .listPrimitives()
        .find((primitive) => primitive.getMaterial()?.getName() === 'coat')
        ?.getAttribute('TEXCOORD_0')
        ?.getArray();
    expect(coat(after)).toEqual(coat(before));
  });

  it('refuses a joint scaled to nothing, by name', async () => {
    const original = await changed((document) => nodeNamed(document, 'bf_hand.l').setScale([0, 0, 0]));
    await expect(makeHandoff(original, [])).rejects.toMatchObject({
      problem: { code: 'zero-scale', place: expect.stringContaining('bf_') as string },
    });
  });
});
