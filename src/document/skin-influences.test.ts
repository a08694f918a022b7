import { Document } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { YarvoError } from '@/core/errors/yarvo-error';
import { readInfluences } from './skin-influences';

/** A primitive of one vertex a row; each row holds joints and weights, four or eight. */
function primitive(rows: readonly { joints: number[]; weights: number[] }[]) {
  const document = new Document();
  const buffer = document.createBuffer();
  const made = document.createPrimitive().setAttribute(
    'POSITION',
    document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array(rows.length * 3))
      .setBuffer(buffer),
  );
  for (let set = 0; set * 4 < rows[0].joints.length; set++) {
    const part = (values: readonly number[]) => values.slice(set * 4, set * 4 + 4);
    made.setAttribute(
      `JOINTS_${set}`,
      document
        .createAccessor()
        .setType('VEC4')
        .setArray(new Uint16Array(rows.flatMap((row) => part(row.joints))))
        .setBuffer(buffer),
    );
    made.setAttribute(
      `WEIGHTS_${set}`,
      document
        .createAccessor()
        .setType('VEC4')
        .setArray(new Float32Array(rows.flatMap((row) => part(row.weights))))
        .setBuffer(buffer),
    );
  }
  return made;
}
const weightsOf = (rows: Parameters<typeof primitive>[0]) =>
  [...(readInfluences(primitive(rows), 20, 'test')?.weights ?? [])].map((weight) => Math.round(weight * 1e4) / 1e4);

describe('skin influences', () => {
  it('are read from all sets of a vertex', () => {
    const read = readInfluences(
      primitive([{ joints: [1, 2, 3, 4, 5, 6, 0, 0], weights: [0.3, 0.2, 0.2, 0.1, 0.1, 0.1, 0, 0] }]),
      20,
      'test',
    );
    expect(read).toMatchObject({ perVertex: 8, maxInfluences: 6, unnormalisedCount: 0, isTidied: false });
  });

  it('are made to add up to 1, and how many did not is counted', () => {
    const rows = [
      { joints: [1, 2, 0, 0], weights: [1, 3, 0, 0] },
      { joints: [1, 0, 0, 0], weights: [1, 0, 0, 0] },
    ];
    expect(weightsOf(rows)).toEqual([0.25, 0.75, 0, 0, 1, 0, 0, 0]);
    expect(readInfluences(primitive(rows), 20, 'test')?.unnormalisedCount).toBe(1);
  });

  it('join a joint that a vertex names twice, and forget joints of unused slots', () => {
    const read = readInfluences(primitive([{ joints: [3, 3, 9, 0], weights: [0.5, 0.5, 0, 0] }]), 20, 'test');
    expect([...(read?.joints ?? [])]).toEqual([3, 0, 0, 0]);
    expect([...(read?.weights ?? [])]).toEqual([1, 0, 0, 0]);
    expect(read).toMatchObject({ isTidied: true, maxInfluences: 1 });
  });

  it('treat negative and missing weights as none', () => {
    expect(weightsOf([{ joints: [1, 2, 3, 0], weights: [-0.5, NaN, 0.5, 0] }])).toEqual([0, 0, 1, 0]);
  });

  it('name the vertex that is bound to a joint its skin does not have', () => {
    const read = () =>
      readInfluences(
        primitive([
          { joints: [0, 0, 0, 0], weights: [1, 0, 0, 0] },
          { joints: [20, 0, 0, 0], weights: [1, 0, 0, 0] },
        ]),
        20,
        'coat.glb',
      );
    expect(read).toThrow(YarvoError);
    try {
      read();
    } catch (error) {
      expect((error as YarvoError).problem).toMatchObject({ code: 'bad-index', place: 'coat.glb, vertex 1' });
    }
  });

  it('are none for a mesh without skin attributes', () => {
    const document = new Document();
    expect(readInfluences(document.createPrimitive(), 3, 'test')).toBeNull();
  });
});
