import { describe, expect, it } from 'vitest';
import { fromAxisAngle, multiply } from '@/core/math/quat';
import type { Layer } from '@/core/motion/layer';
import { movedTo } from '@/ui/OrderButtons';
import { keyedLayer, layerText, targetOf, turnLayerOf, turnOnTop, withLayer } from './layer-edits';

const RAD = Math.PI / 180;
const fresh = { id: 'a', name: 'A', role: 'leftHand', motion: 'm' };
const key = { at: 1, turn: fromAxisAngle([1, 0, 0], 10 * RAD) };

describe('layers made on the stage', () => {
  it('a turn in the world comes on top of what stands, layer and all', () => {
    const carried = fromAxisAngle([0, 1, 0], 70 * RAD);
    const before = fromAxisAngle([1, 0, 0], 15 * RAD);
    const change = multiply(carried, before);
    const world = fromAxisAngle([0, 0, 1], 30 * RAD);
    const q = turnOnTop(before, change, world);
    const [want, is] = [multiply(world, change), multiply(carried, q)];
    for (let k = 0; k < 4; k++) expect(is[k]).toBeCloseTo(want[k], 12);
  });

  it('the first key stands between two that turn nothing, within the motion', () => {
    expect(keyedLayer(null, fresh, key, 3).keys.map(({ at }) => at)).toEqual([0.6, 1, 1.4]);
    expect(keyedLayer(null, fresh, { ...key, at: 0.1 }, 0.3).keys).toHaveLength(1);
  });

  it('a further key is put in order, and takes the place of one at the same moment', () => {
    const first = keyedLayer(null, fresh, key, 3);
    const later = keyedLayer(first, fresh, { ...key, at: 0.2 }, 3);
    expect(later.keys.map(({ at }) => at)).toEqual([0.2, 0.6, 1, 1.4]);
    expect(keyedLayer(later, fresh, { ...key, at: 1.01 }, 3).keys).toHaveLength(4);
  });

  it('knows the layer that keys go to: of that role, on that motion, switched on', () => {
    const layer = keyedLayer(null, fresh, key, 3);
    expect(turnLayerOf([layer], 'leftHand', 'm')).toBe(layer);
    expect(turnLayerOf([layer], 'leftHand', 'other')).toBeNull();
    expect(turnLayerOf([{ ...layer, isOn: false }], 'leftHand', 'm')).toBeNull();
  });

  it('keeps a hand where and how it is, in the world or with the figure', () => {
    const heading = fromAxisAngle([0, 1, 0], 90 * RAD);
    const change = multiply(heading, fromAxisAngle([1, 0, 0], 30 * RAD));
    const stance = {
      frame: 0,
      changes: { leftHand: change },
      heldTurns: {},
      places: { leftHand: [1, 2, 3] as const },
      inFigure: { leftHand: [3, 2, -1] as const },
      heading,
    };
    expect(targetOf(stance, 'leftHand', 'world')).toMatchObject({ place: [1, 2, 3], turn: change, holdsTurn: true });
    const along = targetOf(stance, 'leftHand', 'figure');
    expect(along?.place).toEqual([3, 2, -1]);
    expect(along?.turn?.[0]).toBeCloseTo(Math.sin(15 * RAD), 12);
    expect(targetOf(stance, 'rightHand', 'world')).toBeNull();
    const layer = { id: 'a', name: 'A', isOn: true, motion: null, span: null, ...along } as Layer;
    expect(layerText(layer, String)).toBe('goes along with the figure, turned as it was');
  });

  it('replaces by id, adds at the end, and moves', () => {
    const [a, b] = [keyedLayer(null, fresh, key, 3), keyedLayer(null, { ...fresh, id: 'b' }, key, 3)];
    expect(withLayer({ layers: [a] }, b).layers.map(({ id }) => id)).toEqual(['a', 'b']);
    expect(withLayer({ layers: [a, b] }, { ...a, name: 'New' }).layers.map(({ name }) => name)).toEqual(['New', 'A']);
    expect(movedTo([a, b], 1, 0).map(({ id }) => id)).toEqual(['b', 'a']);
  });
});
