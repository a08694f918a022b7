import * as three from 'three';
import { expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { FigureSet } from './figure-set';

/** A model whose nodes are those of a rig. */
function modelOf(rig: ReturnType<typeof makeRig>) {
  const scene = new three.Group();
  const nodes = new Map(rig.bones.map(({ nodeIndex }) => [nodeIndex, new three.Object3D()]));
  for (const node of nodes.values()) scene.add(node);
  return { scene, nodes } as unknown as Parameters<FigureSet['setModel']>[0];
}

it('lets a frame go that was carried to a reading with more bones, when the folded one takes its place', () => {
  const [whole, folded] = [makeRig(biped()), makeRig(biped().slice(0, 10))];
  const figures = new FigureSet();
  figures.setModel(modelOf(whole), whole);
  const last = whole.bones.length - 1;
  const frame = {
    turned: { bones: [0, last], values: Float32Array.of(0, 0, 0, 1, 0, 1, 0, 0), at: 0 },
    placed: { bones: [last], values: Float32Array.of(1, 2, 3), at: 0 },
    morphs: { names: [], values: new Float32Array(0), at: 0 },
    guests: [],
  };
  figures.play(frame);
  const model = modelOf(folded);
  expect(() => figures.setModel(model, folded)).not.toThrow();
  expect(() => figures.play(frame)).not.toThrow();
  const first = model.nodes.get(folded.bones[0].nodeIndex) as three.Object3D;
  expect(first.position.toArray()).toEqual([...folded.bones[0].rest.translation]);
});
