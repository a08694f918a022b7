import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { compose, translationOf } from '../math/mat4';
import { normalise as unitQuat, shortestArc, type Quat } from '../math/quat';
import { angleBetween, normalise, subtract, type Vec3 } from '../math/vec3';
import { boneDirections, pointedAt } from './bone-axis';
import { computeRigShape } from './rig-shape';
import type { Rig } from './rig';

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
  [0, 0, 1],
  [0, 0, -1],
];
const digits: PlainBone[] = ['l', 'r'].flatMap((side) => {
  const s = side === 'l' ? 1 : -1;
  return [1, 2, 3].map((at): PlainBone => ({
    name: `index_${at}_${side}`,
    parent: at === 1 ? `hand_${side}` : `index_${at - 1}_${side}`,
    position: [(0.72 + 0.04 * at) * s, 1.42 - 0.004 * at * at, 0.03],
  }));
});

/** The rig with each bone turned so that the axis leads to its first child; leaves go on as their parents do. */
function alongAxis(rig: Rig, axis: Vec3): Rig {
  const { children, positions, parents } = computeRigShape(rig);
  const wayOf = (bone: number): Vec3 => {
    const next = children[bone][0];
    if (next !== undefined) return subtract(positions[next], positions[bone]);
    return parents[bone] >= 0 ? subtract(positions[bone], positions[parents[bone]]) : axis;
  };
  return turnedBy(rig, (bone) => {
    const way = normalise(wayOf(bone));
    return way ? shortestArc(axis, way) : [0, 0, 0, 1];
  });
}
const turnedBy = (rig: Rig, turn: (bone: number) => Quat): Rig => ({
  ...rig,
  bones: rig.bones.map((bone, at) => ({
    ...bone,
    restWorld: compose(translationOf(bone.restWorld), turn(at), [1, 1, 1]),
  })),
});

describe('the axis that bones lie along', () => {
  it('is found whichever it is, and tells each bone its child', () => {
    const rig = makeRig(biped(digits));
    const shape = computeRigShape(rig);
    for (const axis of AXES) {
      const directions = boneDirections(alongAxis(rig, axis), shape);
      expect(directions).not.toBeNull();
      shape.children.forEach(([next], bone) => {
        if (next === undefined) return;
        const direction = directions?.[bone];
        expect(
          direction && angleBetween(direction, subtract(shape.positions[next], shape.positions[bone])),
        ).toBeCloseTo(0, 3);
      });
    }
  });

  it('is found without a tree, and points at what the tree would hold', () => {
    const rig = alongAxis(makeRig(biped(digits)), [0, 1, 0]);
    const loose = { ...rig, bones: rig.bones.map((bone) => ({ ...bone, parent: -1 })) };
    const shape = computeRigShape(loose);
    const directions = boneDirections(loose, shape);
    const pointed = pointedAt(shape, directions ?? []);
    const name = (bone: number) => (bone < 0 ? null : rig.bones[bone].name);
    const of = (bone: string) => name(pointed[rig.bones.findIndex((each) => each.name === bone)]);
    expect([of('upper_arm_l'), of('forearm_r'), of('thigh_l'), of('index_1_r')]).toEqual([
      'forearm_l',
      'hand_r',
      'shin_l',
      'index_2_r',
    ]);
  });

  it('is not found where rotations have nothing to do with it', () => {
    const rig = makeRig(biped(digits));
    const shape = computeRigShape(rig);
    const part = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(part, part, part), { minLength: 60, maxLength: 60 }), (turns) => {
        const turned = turnedBy(rig, (bone) => unitQuat([...turns[bone % turns.length], 0.4]));
        expect(boneDirections(turned, shape)).toBeNull();
      }),
      { numRuns: 40 },
    );
    // Joints without any turn, as motion files have them.
    expect(boneDirections(rig, shape)).toBeNull();
  });
});
