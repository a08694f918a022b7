import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { matchBones } from './match-bones';
import { MatchSchema } from './context/match-types';

const WORDS = [
  'hips',
  'spine',
  'spine_2',
  'chest',
  'neck',
  'head',
  'eye_l',
  'eye_r',
  'shoulder_l',
  'shoulder_r',
  'arm_l',
  'arm_r',
  'forearm_l',
  'forearm_r',
  'hand_l',
  'hand_r',
  'thumb_l',
  'index_r',
  'finger_l',
  'leg_l',
  'leg_r',
  'shin_l',
  'shin_r',
  'foot_l',
  'foot_r',
  'toe_l',
  'toe_r',
  'root',
  'tail',
  'twist_l',
  'arm_zq_l',
  'w1',
  'w2',
  '',
];
const anyBone = fc.record({
  parent: fc.nat(),
  word: fc.constantFrom(...WORDS),
  x: fc.integer({ min: -3, max: 3 }),
  y: fc.integer({ min: 0, max: 6 }),
  z: fc.integer({ min: -1, max: 1 }),
  carries: fc.boolean(),
});

describe('any rig at all', () => {
  it('gets an answer that holds together: one bone, one role, and every other bone explained or in a run', () => {
    fc.assert(
      fc.property(fc.array(anyBone, { maxLength: 48 }), fc.boolean(), (bones, withSkin) => {
        // A parent every now and then is none; places repeat, so that many bones coincide and many sizes are zero.
        const parentOf = (at: number) => (at === 0 || bones[at].parent % 11 === 0 ? null : `b${bones[at].parent % at}`);
        const made = makeRig(
          bones.map(({ x, y, z }, at): PlainBone => ({
            name: `b${at}`,
            parent: parentOf(at),
            position: [x * 0.3, y * 0.3, z * 0.2],
          })),
          withSkin,
        );
        const rig = {
          ...made,
          bones: made.bones.map((bone, at) => ({
            ...bone,
            name: bones[at].word,
            isNamed: bones[at].word !== '',
            skinWeight: withSkin && bones[at].carries ? 5 : 0,
          })),
        };
        const match = matchBones(rig, QUAY);
        expect(() => MatchSchema.parse(match)).not.toThrow();
        const roleBones = Object.values(match.assignments).map(({ boneIndex }) => boneIndex);
        expect(new Set(roleBones).size).toBe(roleBones.length);
        const explained = new Set([
          ...roleBones,
          ...match.spares.map(({ boneIndex }) => boneIndex),
          ...match.lines.flatMap((line) => line.bones),
          match.rootBone,
        ]);
        expect(rig.bones.filter(({ index }) => !explained.has(index))).toEqual([]);
        if (!match.creature.isHumanoid)
          expect(Object.values(match.assignments).filter(({ state }) => state === 'proposed')).toEqual([]);
      }),
      { numRuns: 300, seed: 41 },
    );
  });
});
