import { describe, expect, it } from 'vitest';
import { fromAxisAngle, multiply } from '@/core/math/quat';
import { movedTo } from '@/ui/OrderButtons';
import { keyedLayer, turnLayerOf, turnOnTop, withLayer } from './layer-edits';

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

  it('replaces by id, adds at the end, and moves', () => {
    const [a, b] = [keyedLayer(null, fresh, key, 3), keyedLayer(null, { ...fresh, id: 'b' }, key, 3)];
    expect(withLayer({ layers: [a] }, b).layers.map(({ id }) => id)).toEqual(['a', 'b']);
    expect(withLayer({ layers: [a, b] }, { ...a, name: 'New' }).layers.map(({ name }) => name)).toEqual(['New', 'A']);
    expect(movedTo([a, b], 1, 0).map(({ id }) => id)).toEqual(['b', 'a']);
  });
});
