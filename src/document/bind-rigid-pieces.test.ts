import { Document, type Node } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { createNodeIO } from '@/formats/gltf/node-io';
import { makeHandoff } from '../../tests/helpers/handoff-maker';
import { biped } from '../../tests/helpers/named-biped';
import { judgeRebuild } from '../../tests/helpers/rebuild-judge';
import { readSource } from '@/pipeline/read-files';
import { writeCanonical } from '@/formats/source/open-source';
import { findRigidPieces } from './bind-rigid-pieces';

interface RobotOptions {
  readonly hasClip?: boolean;
  readonly name?: (bone: string) => string;
  readonly isShapeBelow?: boolean;
}

/** A figure whose every bone is a node with a box on it, and no skin anywhere. */
function robot({ hasClip = false, name = (bone) => bone, isShapeBelow = false }: RobotOptions = {}): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const corners = new Float32Array([-1, -1, -1, 1, -1, -1, 0, 1, -1, 0, 0, 1].map((value) => value * 0.03));
  const positions = document.createAccessor().setType('VEC3').setArray(corners).setBuffer(buffer);
  const normals = document
    .createAccessor()
    .setType('VEC3')
    .setArray(new Float32Array([1, 0, 0, 0, 1, 0, 0, 0, 1, 0.6, 0.8, 0]))
    .setBuffer(buffer);
  const indices = document
    .createAccessor()
    .setType('SCALAR')
    .setArray(new Uint16Array([0, 1, 2, 1, 3, 2, 0, 2, 3, 0, 3, 1]))
    .setBuffer(buffer);
  const box = document
    .createMesh('box')
    .addPrimitive(
      document
        .createPrimitive()
        .setAttribute('POSITION', positions)
        .setAttribute('NORMAL', normals)
        .setIndices(indices),
    );
  const nodes = new Map<string, { node: Node; place: readonly number[] }>();
  for (const bone of biped()) {
    const above = bone.parent === null ? null : nodes.get(bone.parent);
    const place = bone.position.map((value, axis) => value - (above?.place[axis] ?? 0)) as [number, number, number];
    const node = document.createNode(name(bone.name)).setTranslation(place);
    if (isShapeBelow)
      node.addChild(document.createNode(`${bone.name} shape`).setMesh(box).setTranslation([0, 0.01, 0]));
    else node.setMesh(box);
    (above?.node ?? scene).addChild(node);
    nodes.set(bone.name, { node, place: bone.position });
  }
  if (hasClip)
    addClip(
      document,
      [...nodes.values()].map(({ node }) => node),
    );
  return document;
}

function addClip(document: Document, nodes: readonly Node[]): void {
  const buffer = document.getRoot().listBuffers()[0];
  const accessor = (type: 'SCALAR' | 'VEC4', values: number[]) =>
    document.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
  const clip = document.createAnimation('nod');
  for (const node of nodes) {
    const sampler = document
      .createAnimationSampler()
      .setInput(accessor('SCALAR', [0, 1]))
      .setOutput(accessor('VEC4', [0, 0, 0, 1, 0, 0, 0.1305262, 0.9914449]));
    clip.addSampler(sampler);
    clip.addChannel(
      document.createAnimationChannel().setTargetNode(node).setTargetPath('rotation').setSampler(sampler),
    );
  }
}

const read = async (document: Document) => {
  const reading = await readSource({ path: 'robot.glb', bytes: await createNodeIO().writeBinary(document) }, []);
  return { ...reading, glb: await writeCanonical(reading.document) };
};

describe('a figure of rigid pieces', () => {
  it('is read as bones that carry their pieces, whether clips move them or a body is seen in them', async () => {
    for (const options of [{ hasClip: true }, {}, { isShapeBelow: true }, { hasClip: true, isShapeBelow: true }]) {
      const { rig } = await read(robot(options));
      expect(rig.kind).toBe('character');
      expect(rig.bones.map(({ name }) => name).sort()).toEqual(
        biped()
          .map(({ name }) => name)
          .sort(),
      );
      expect(rig.bones.every(({ skinVertexCount }) => skinVertexCount === 4)).toBe(true);
    }
  });

  it('is matched, aligned and written bound to its bones, every vertex where the turned pieces would have it', async () => {
    const { glb } = await read(robot({ hasClip: true }));
    const { bytes, rig, fit, skeleton } = await makeHandoff(glb);
    expect(Object.keys(fit.assignments)).toEqual(expect.arrayContaining(['hips', 'leftUpperArm', 'rightLowerLeg']));
    expect(fit.posture.aligned.length).toBeGreaterThan(10);
    const error = judgeRebuild(glb, bytes, rig, fit.posture, skeleton.similarity);
    expect(error.vertices).toBe(rig.bones.length * 4);
    expect(error.position).toBeLessThan(1e-5);
    expect(error.normal).toBeLessThan(1e-4);
  });

  it('is left alone where it is a thing of some parts, and where it has a skin', async () => {
    const crate = new Document();
    const scene = crate.createScene();
    const corner = crate
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]))
      .setBuffer(crate.createBuffer());
    const mesh = crate.createMesh().addPrimitive(crate.createPrimitive().setAttribute('POSITION', corner));
    for (let part = 0; part < 30; part++)
      scene.addChild(crate.createNode(`plank ${part}`).setMesh(mesh).setTranslation([part, 0, 0]));
    const { rig } = await read(crate);
    expect(rig.kind).toBe('mesh');
    const skinned = robot({ hasClip: true });
    skinned.createSkin().addJoint(skinned.getRoot().listNodes()[0]);
    expect(findRigidPieces(skinned)).toBeNull();
  });
});
