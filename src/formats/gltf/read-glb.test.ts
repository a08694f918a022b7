import { describe, expect, it } from 'vitest';
import { YarvoError, type Problem } from '@/core/errors/yarvo-error';
import { RigSchema } from '@/core/rig/rig';
import { lamplighter } from '../../../demo/cast/lamplighter';
import { writeFigure } from '../../../demo/figure/write-figure';
import { readSource } from '@/pipeline/read-files';
import { readGlb } from '@/pipeline/read-files';

/** A GLB around any JSON, with the lengths as they should be. */
function glbOf(json: unknown, binary = new Uint8Array(0)): Uint8Array {
  const text = new TextEncoder().encode(typeof json === 'string' ? json : JSON.stringify(json));
  const padded = Math.ceil(text.length / 4) * 4;
  const total = 12 + 8 + padded + (binary.length > 0 ? 8 + binary.length : 0);
  const out = new Uint8Array(total).fill(0x20);
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, total, true);
  view.setUint32(12, padded, true);
  view.setUint32(16, 0x4e4f534a, true);
  out.set(text, 20);
  if (binary.length > 0) {
    view.setUint32(20 + padded, binary.length, true);
    view.setUint32(24 + padded, 0x004e4942, true);
    out.set(binary, 28 + padded);
  }
  return out;
}

async function problemOf(bytes: Uint8Array): Promise<Problem> {
  try {
    await readSource({ path: 'test.glb', bytes }, []);
  } catch (error) {
    if (error instanceof YarvoError) return error.problem;
    throw error;
  }
  throw new Error('the file was read');
}

const asset = { version: '2.0' };

describe('a GLB is refused, naming place and remedy', () => {
  it.each([
    ['an empty file', new Uint8Array(0), 'empty-file'],
    ['text', new TextEncoder().encode('solid lantern'), 'not-a-model'],
    ['a bare magic', Uint8Array.from([0x67, 0x6c, 0x54, 0x46]), 'truncated'],
    ['broken JSON', glbOf('{"asset":'), 'bad-json'],
    ['JSON that is no object', glbOf('[1]'), 'bad-json'],
    ['version 1', glbOf({ asset: { version: '1.0' } }), 'unsupported-version'],
    ['no asset', glbOf({}), 'bad-structure'],
    ['a child that is not there', glbOf({ asset, nodes: [{ children: [7] }] }), 'bad-index'],
    ['a node that is its own ancestor', glbOf({ asset, nodes: [{ children: [1] }, { children: [0] }] }), 'cyclic-tree'],
    ['a node with two parents', glbOf({ asset, nodes: [{ children: [2] }, { children: [2] }, {}] }), 'two-parents'],
    ['a rotation that is none', glbOf({ asset, nodes: [{ rotation: [9, 0, 0, 0] }] }), 'bad-rotation'],
    ['an outside buffer', glbOf({ asset, buffers: [{ byteLength: 4, uri: '../secret.bin' }] }), 'missing-file'],
    [
      'a fetched buffer',
      glbOf({ asset, buffers: [{ byteLength: 4, uri: 'https://example.invalid/a.bin' }] }),
      'external-uri',
    ],
    ['a buffer on a disk', glbOf({ asset, buffers: [{ byteLength: 4, uri: 'file:///etc/passwd' }] }), 'external-uri'],
    ['a claim of 2 GB', glbOf({ asset, buffers: [{ byteLength: 2_000_000_000 }] }), 'truncated'],
    [
      'a view past its buffer',
      glbOf({ asset, buffers: [{ byteLength: 4 }], bufferViews: [{ buffer: 0, byteLength: 400 }] }, new Uint8Array(4)),
      'out-of-range',
    ],
    [
      'an accessor past its view',
      glbOf(
        {
          asset,
          buffers: [{ byteLength: 8 }],
          bufferViews: [{ buffer: 0, byteLength: 8 }],
          accessors: [{ bufferView: 0, componentType: 5126, count: 9, type: 'VEC3' }],
        },
        new Uint8Array(8),
      ),
      'out-of-range',
    ],
    [
      'an extension that is not read',
      glbOf({ asset, extensionsRequired: ['EXT_unheard_of'] }),
      'unsupported-extension',
    ],
    ['a huge claim of nodes', glbOf({ asset, nodes: Array.from({ length: 20_001 }, () => ({})) }), 'too-many'],
  ])('%s', async (_case, bytes, code) => {
    const problem = await problemOf(bytes);
    expect(problem.code).toBe(code);
    expect(problem.place).toContain('test.glb');
    expect(problem.remedy.length).toBeGreaterThan(10);
  });

  it('every truncation of a real file, without ever hanging or crashing', async () => {
    const whole = await writeFigure(lamplighter());
    for (let share = 0; share < 1; share += 0.083) {
      const problem = await problemOf(whole.subarray(0, Math.floor(whole.length * share)));
      expect(problem.code).not.toBe('unexpected');
    }
  });

  it('a chain of nodes deeper than any skeleton', async () => {
    const nodes = Array.from({ length: 3000 }, (_, at) => (at < 2999 ? { children: [at + 1] } : {}));
    expect((await problemOf(glbOf({ asset, nodes }))).code).toBe('too-deep');
  });
});

describe('readGlb reads', () => {
  it('names, tree, rest, bind, weights and clips as they are in the file', async () => {
    const figure = lamplighter();
    const { rig } = await readGlb(await writeFigure(figure), 'lamplighter.glb');
    expect(() => RigSchema.parse(rig)).not.toThrow();
    expect(rig.bones.map((bone) => bone.name).sort()).toEqual(figure.joints.map((joint) => joint.name).sort());
    for (const joint of figure.joints) {
      const bone = rig.bones.find((candidate) => candidate.name === joint.name);
      expect(bone && bone.parent >= 0 ? rig.bones[bone.parent].name : null).toBe(joint.parent);
      joint.position.forEach((value, axis) => expect(bone?.restWorld[12 + axis]).toBeCloseTo(value, 5));
      bone?.bindWorld?.forEach((value, at) => expect(value).toBeCloseTo(bone.restWorld[at], 4));
    }
    const total = rig.bones.reduce((sum, bone) => sum + bone.skinWeight, 0);
    expect(total).toBeCloseTo(rig.mesh.vertexCount, 0);
    expect(rig.clips).toMatchObject([{ name: 'Look along the quay', boneCount: 3, durationSeconds: 2 }]);
    expect(rig.kind).toBe('character');
  });

  it('parents before children, whatever the order in the file', async () => {
    const { rig } = await readGlb(
      glbOf({
        asset,
        scene: 0,
        scenes: [{ nodes: [2] }],
        nodes: [{ name: 'tip' }, { name: 'mid', children: [0] }, { name: 'top', children: [1] }],
      }),
      'order.glb',
    );
    expect(rig.bones.map((bone) => [bone.name, bone.nodeIndex])).toEqual([
      ['top', 2],
      ['mid', 1],
      ['tip', 0],
    ]);
    expect(rig.bones.every((bone) => bone.parent < bone.index)).toBe(true);
    expect(rig.kind).toBe('skeleton');
  });

  it('leaves vertices without a finite place out of every measure, and says so', async () => {
    const places = new Float32Array([0, 0, 0, 1, 2, 3, Infinity, 0, NaN]);
    const bytes = glbOf(
      {
        asset,
        nodes: [{ mesh: 0 }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
        accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 2, 3] }],
        bufferViews: [{ buffer: 0, byteLength: 36 }],
        buffers: [{ byteLength: 36 }],
      },
      new Uint8Array(places.buffer),
    );
    const { rig } = await readGlb(bytes, 'infinite.glb');
    expect(rig.mesh.bounds).toEqual({ min: [0, 0, 0], max: [1, 2, 3] });
    expect(rig.remarks.join(' ')).toMatch(/1 vertices have a place that is not a finite number/);
  });

  it('keeps duplicate and missing names and remarks on them', async () => {
    const { rig } = await readGlb(
      glbOf({ asset, nodes: [{ name: 'a', children: [1, 2] }, { name: 'a' }, {}] }),
      'names.glb',
    );
    expect(rig.bones.map((bone) => bone.name)).toEqual(['a', 'a', 'node 2']);
    expect(rig.remarks.join(' ')).toMatch(/no name.*more than once: a/);
  });
});
