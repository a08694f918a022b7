import { NodeIO, type Document } from '@gltf-transform/core';
import { EXTMeshoptCompression, KHRDracoMeshCompression } from '@gltf-transform/extensions';
import { strToU8 } from 'fflate';
import { createDecoderModule, createEncoderModule } from 'draco3dgltf';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Rig } from '@/core/rig/rig';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { CAST } from '../../../demo/cast/cast';
import { lamplighter } from '../../../demo/cast/lamplighter';
import { writePng } from '../../../demo/figure/png';
import { writeFigure } from '../../../demo/figure/write-figure';
import { readSource } from '@/pipeline/read-files';
import { writeCanonical } from '../source/open-source';
import { createNodeIO } from './node-io';
import { readGlb } from '@/pipeline/read-files';
import { readGlbContainer } from './glb-container';

let glb: Uint8Array;
let base: Rig;
beforeAll(async () => {
  glb = await writeFigure(lamplighter());
  base = (await readSource({ path: 'l.glb', bytes: glb }, [])).rig;
});

const document = (): Promise<Document> => createNodeIO().readBinary(glb);
async function packed(change: (io: NodeIO, document: Document) => void): Promise<Uint8Array> {
  await Promise.all([MeshoptDecoder.ready, MeshoptEncoder.ready]);
  const io = createNodeIO().registerDependencies({
    'draco3d.encoder': await createEncoderModule(),
    'draco3d.decoder': await createDecoderModule(),
    'meshopt.encoder': MeshoptEncoder,
    'meshopt.decoder': MeshoptDecoder,
  });
  const made = await document();
  change(io, made);
  return io.writeBinary(made);
}

/** Everything but what compression rounds. */
function expectSameRig(rig: Rig, tolerance: number): void {
  expect(rig.bones.map((bone) => [bone.name, bone.parent])).toEqual(base.bones.map((bone) => [bone.name, bone.parent]));
  expect(rig.clips.map((clip) => clip.name)).toEqual(base.clips.map((clip) => clip.name));
  // Encoders drop triangles without an area.
  expect(Math.abs(rig.mesh.triangleCount / base.mesh.triangleCount - 1)).toBeLessThan(0.01);
  base.bones.forEach((bone, at) => {
    bone.restWorld.forEach((value, k) => expect(Math.abs(rig.bones[at].restWorld[k] - value)).toBeLessThan(tolerance));
    bone.skinCentre?.forEach((value, axis) =>
      expect(Math.abs((rig.bones[at].skinCentre?.[axis] ?? 9) - value), bone.name).toBeLessThan(0.02),
    );
  });
}

describe('glTF in other packings gives the same rig', () => {
  it('Draco', async () => {
    const { rig, document: read } = await readSource(
      {
        path: 'l.glb',
        bytes: await packed((_io, made) => {
          made.createExtension(KHRDracoMeshCompression).setRequired(true);
        }),
      },
      [],
    );
    expectSameRig(rig, 1e-5);
    // What is kept must open without a decoder.
    const canonical = await writeCanonical(read);
    expect(JSON.stringify(readGlbContainer(canonical, 'c').json.extensionsUsed ?? [])).not.toContain('draco');
    expect((await readGlb(canonical, 'c')).rig.mesh.triangleCount).toBe(rig.mesh.triangleCount);
  });

  it('meshopt', async () => {
    const { rig } = await readSource(
      {
        path: 'l.glb',
        bytes: await packed((_io, made) => {
          made
            .createExtension(EXTMeshoptCompression)
            .setRequired(true)
            .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
        }),
      },
      [],
    );
    expectSameRig(rig, 1e-4);
  });

  it('JSON with a buffer and a picture beside it, in a folder of its own', async () => {
    const { json, resources } = await new NodeIO().writeJSON(await document(), { basename: 'lamp' });
    const files = Object.entries(resources).map(([name, bytes]) => ({ path: `lamp/${name}`, bytes }));
    const main = { path: 'lamp/lamp.gltf', bytes: strToU8(JSON.stringify(json)) };
    const { rig } = await readSource(main, [main, ...files]);
    expectSameRig(rig, 1e-6);
    expect(rig.source).toMatchObject({
      format: 'gltf',
      textures: [{ status: 'resolved', width: 16, height: 16, purposes: ['colour'] }],
    });
    await expect(readSource(main, [main])).rejects.toMatchObject({
      problem: { code: 'missing-file', message: expect.stringContaining('lamp.bin') as string },
    });
    const withoutPicture = await readSource(main, [main, ...files.filter((file) => file.path.endsWith('.bin'))]);
    expect(withoutPicture.rig.source.textures).toMatchObject([{ status: 'missing', bytes: 0 }]);
    expectSameRig((await readGlb(await writeCanonical(withoutPicture.document), 'c')).rig, 1e-6);
  });

  it.each(['C:\\art\\wick.png', 'file:///D:/art/wick.png', 'https://example.invalid/wick.png'])(
    'a picture at %s is never fetched: it is missing, or the file of that name that came along',
    async (uri) => {
      const { json, resources } = await new NodeIO().writeJSON(await document(), { basename: 'lamp' });
      const [image] = json.images ?? [];
      const picture = resources[image.uri ?? ''];
      const buffer = { path: 'lamp.bin', bytes: resources['lamp.bin'] };
      const main = { path: 'lamp.gltf', bytes: strToU8(JSON.stringify({ ...json, images: [{ ...image, uri }] })) };
      const alone = await readSource(main, [main, buffer]);
      expect(alone.rig.source.textures).toMatchObject([{ name: uri, status: 'missing' }]);
      expectSameRig(alone.rig, 1e-6);
      const supplied = await readSource(main, [main, buffer, { path: 'wick.png', bytes: picture }]);
      expect(supplied.rig.source.textures).toMatchObject([{ status: 'resolved', width: 16 }]);
    },
  );

  it('sparse positions and several skins', async () => {
    const made = await document();
    const skin = made.getRoot().listSkins()[0];
    const second = made.createSkin('second').setInverseBindMatrices(skin.getInverseBindMatrices());
    for (const joint of skin.listJoints()) second.addJoint(joint);
    const body = made
      .getRoot()
      .listNodes()
      .find((node) => node.getMesh());
    made
      .getRoot()
      .listScenes()[0]
      .addChild(
        made
          .createNode('again')
          .setMesh(body?.getMesh() ?? null)
          .setSkin(second),
      );
    made.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('POSITION')?.setSparse(true);
    const { rig } = await readSource({ path: 'l.glb', bytes: await createNodeIO().writeBinary(made) }, []);
    expect(rig.skinCount).toBe(2);
    expect(rig.mesh.triangleCount).toBe(base.mesh.triangleCount * 2);
    expect(rig.bones.map((bone) => bone.name)).toEqual(base.bones.map((bone) => bone.name));
  });

  it('a plain GLB is kept as it is, byte for byte; facts planted in it are not believed', async () => {
    expect((await readSource({ path: 'l.glb', bytes: glb }, [])).original).toBe(glb);
    const made = await document();
    made.getRoot().setExtras({ yarvoSource: { format: 'fbx', unitMetres: 100 } });
    const { rig, original } = await readSource({ path: 'l.glb', bytes: await createNodeIO().writeBinary(made) }, []);
    expect(rig.source).toMatchObject({ format: 'glb', unitMetres: 1 });
    expect(original).toBeNull();
  });
});

describe('VRM', () => {
  it('1.0: roles, expressions and terms are read, and the roles count as evidence', async () => {
    const { rig } = await readSource({ path: 'c.vrm', bytes: await CAST['customs-clerk.vrm'].make() }, []);
    expect(rig.source).toMatchObject({
      format: 'vrm',
      version: 'VRM 1.0',
      expressions: ['happy', 'blink', 'aa', 'counting'],
      provenance: {
        source: 'Customs clerk',
        author: 'Gannet & Twine',
        licence: expect.stringContaining('vrm.dev') as string,
      },
    });
    expect(Object.keys(rig.statedRoles)).toHaveLength(54);
    const match = matchBones(rig, QUAY);
    expect(match.assignments.leftHand.evidence[0]).toBe("the file's humanoid block says left hand");
    expect(match.assignments.leftHand.boneIndex).toBe(rig.statedRoles.leftHand);
  });

  it('a block that names the wrong bones does not overrule what names and body say', async () => {
    const { rig } = await readSource({ path: 'l.glb', bytes: glb }, []);
    const truth = matchBones(rig, QUAY).assignments;
    const wrong = { ...rig, statedRoles: { leftHand: truth.head.boneIndex, head: truth.leftFoot.boneIndex } };
    const found = matchBones(wrong, QUAY).assignments;
    expect(found.head.boneIndex).toBe(truth.head.boneIndex);
    expect(found.leftFoot.boneIndex).toBe(truth.leftFoot.boneIndex);
  });

  it('0.x: the list of bones, with thumbs counted as 1.0 does', async () => {
    const { json, binary } = readGlbContainer(glb, 'l.glb');
    const nodes = json.nodes as { name: string }[];
    const node = (name: string) => nodes.findIndex((candidate) => candidate.name === name);
    const block = {
      humanoid: {
        humanBones: [
          { bone: 'hips', node: node('Hips') },
          { bone: 'leftThumbProximal', node: node('LeftThumbMetacarpal') },
          { bone: 'leftThumbDistal', node: 9999 },
        ],
      },
      meta: { title: 'Lamplighter', author: 'Gannet & Twine', licenseName: 'CC_BY' },
      blendShapeMaster: { blendShapeGroups: [{ name: 'Joy' }] },
    };
    const data = `data:application/octet-stream;base64,${Buffer.from(binary ?? []).toString('base64')}`;
    const text = JSON.stringify({
      ...json,
      buffers: [{ ...(json.buffers as object[])[0], uri: data }],
      extensions: { VRM: block },
    });
    const { rig } = await readSource({ path: 'l.gltf', bytes: strToU8(text) }, []);
    expect(rig.source).toMatchObject({ version: 'VRM 0.x', expressions: ['Joy'], provenance: { licence: 'CC_BY' } });
    expect(Object.entries(rig.statedRoles).map(([role, bone]) => [role, rig.bones[bone].name])).toEqual([
      ['hips', 'Hips'],
      ['leftThumbMetacarpal', 'LeftThumbMetacarpal'],
    ]);
  });
});

it("a picture's size is read from its header", async () => {
  const made = await document();
  made
    .getRoot()
    .listTextures()[0]
    .setImage(writePng(24, 7, () => [1, 2, 3]) as Uint8Array<ArrayBuffer>);
  const { rig } = await readSource({ path: 'l.glb', bytes: await createNodeIO().writeBinary(made) }, []);
  expect(rig.source.textures).toMatchObject([{ width: 24, height: 7, status: 'embedded' }]);
});
