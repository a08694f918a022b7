import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { angleOf, conjugate, fromAxisAngle, multiply } from '../math/quat';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { isAbove } from './bone-tree';
import { computeCarriers, computeWorlds, REST_POSE, turnedLocalRotation } from './pose';
import { decompose } from '../math/mat4';
import { commonAncestor, computeRigShape, isAncestor, pathBelow } from './rig-shape';

const tree: PlainBone[] = [
  { name: 'a', parent: null, position: [0, 0, 0] },
  { name: 'b', parent: 'a', position: [0, 1, 0] },
  { name: 'c', parent: 'b', position: [0, 1, 2] },
  { name: 'd', parent: 'a', position: [3, 0, 0] },
  { name: 'e', parent: null, position: [9, 0, 0] },
];
const shape = computeRigShape(makeRig(tree));

describe('the shape of a rig', () => {
  it('counts, measures and reaches down the tree', () => {
    expect([...shape.subtreeCounts]).toEqual([4, 2, 1, 1, 1]);
    expect([...shape.leafCounts]).toEqual([2, 1, 1, 1, 1]);
    expect([...shape.depths]).toEqual([0, 1, 2, 1, 0]);
    expect([...shape.reaches]).toEqual([3, 2, 0, 0, 0]);
    expect([...shape.tips]).toEqual([2, 2, 2, 3, 4]);
    expect(shape.size).toBe(9);
  });

  it('knows what lies above what', () => {
    expect(isAncestor(shape, 0, 2)).toBe(true);
    expect(isAncestor(shape, 2, 0)).toBe(false);
    expect(isAncestor(shape, 2, 2)).toBe(false);
    expect(commonAncestor(shape, 2, 3)).toBe(0);
    expect(commonAncestor(shape, 1, 2)).toBe(1);
    expect(commonAncestor(shape, 2, 4)).toBe(-1);
    expect(pathBelow(shape, 0, 2)).toEqual([1, 2]);
    expect(pathBelow(shape, 3, 2)).toBeNull();
    expect(pathBelow(shape, -1, 2)).toEqual([0, 1, 2]);
  });

  it('tells ancestors by their place in the walk as a climb up the parents does, however the bones are numbered', () => {
    const anyTree = fc.array(fc.tuple(fc.nat(), fc.double({ min: -1, max: 1, noNaN: true })), {
      minLength: 1,
      maxLength: 40,
    });
    fc.assert(
      fc.property(anyTree, fc.nat(), (seeds, turn) => {
        // Each bone hangs on one made before it; the list is then turned round, so that parents come after children too.
        const bones = seeds.map(([seed, x], at): PlainBone => ({
          name: `b${at}`,
          parent: seed % 5 === 0 || at === 0 ? null : `b${seed % at}`,
          position: [x, at, 0],
        }));
        const rig = makeRig([...bones.slice(turn % bones.length), ...bones.slice(0, turn % bones.length)]);
        const made = computeRigShape(rig);
        for (let above = 0; above < made.boneCount; above++) {
          let below = 0;
          for (let bone = 0; bone < made.boneCount; bone++) {
            expect(isAncestor(made, above, bone)).toBe(isAbove(made.parents, above, bone));
            if (isAncestor(made, above, bone)) below++;
          }
          expect(below).toBe(made.subtreeCounts[above] - 1);
          expect(made.children[made.tips[above]]).toHaveLength(0);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('refuses a parent list of another length', () => {
    expect(() => computeRigShape(makeRig(tree), { parents: [0] })).toThrow(RangeError);
  });
});

describe('poses', () => {
  const rig = makeRig(tree);
  it('the rest pose gives the rest worlds', () => {
    computeWorlds(rig, REST_POSE).forEach((world, bone) =>
      world.forEach((value, at) => expect(value).toBeCloseTo(rig.bones[bone].restWorld[at], 12)),
    );
  });

  it('a bone turned by a world rotation ends turned by just that, and its children follow', () => {
    const angle = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(angle, angle, (first, second) => {
        const carriers = computeCarriers(rig);
        const start = { rotations: { 0: fromAxisAngle([1, 0, 0], first) }, shift: null };
        const before = computeWorlds(rig, start);
        const delta = fromAxisAngle([0, 0, 1], second);
        const pose = {
          rotations: { ...start.rotations, 1: turnedLocalRotation(rig, before, carriers, 1, delta) },
          shift: null,
        };
        const after = computeWorlds(rig, pose);
        for (const bone of [1, 2]) {
          const wanted = multiply(delta, decompose(before[bone]).rotation);
          expect(angleOf(multiply(conjugate(wanted), decompose(after[bone]).rotation))).toBeLessThan(1e-6);
        }
        expect(after[1].slice(12, 15).map((value, axis) => Math.abs(value - before[1][12 + axis]) < 1e-9)).toEqual([
          true,
          true,
          true,
        ]);
      }),
    );
  });

  it('a shift moves the bone and all below it in world space', () => {
    const shifted = computeWorlds(rig, { rotations: {}, shift: { boneIndex: 1, offset: [0, 0.5, 0] } });
    expect([shifted[0][13], shifted[1][13], shifted[2][13], shifted[3][13]]).toEqual([0, 1.5, 1.5, 0]);
  });
});
