import { describe, expect, it } from 'vitest';
import { biped } from '../../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { QUAY } from '../../definition/quay';
import { matchBones } from '../match-bones';

/** The plain figure with some of its bones called something else. */
const renamed = (names: Readonly<Record<string, string>>): PlainBone[] => biped([], (name) => names[name] ?? name);
const judge = (bones: readonly PlainBone[]) => matchBones(makeRig(bones, true), QUAY).creature;
const onBothSides = (names: Readonly<Record<string, string>>) =>
  Object.fromEntries(
    Object.entries(names).flatMap(([from, to]) => ['l', 'r'].map((side) => [`${from}_${side}`, `${to}_${side}`])),
  );

describe('what the names say of a creature', () => {
  it('two arms, two legs and a head make a humanoid, a tail none the less', () => {
    expect(judge(biped())).toEqual({
      kind: 'humanoid',
      isHumanoid: true,
      reasons: ['two arms, two legs and a head were found'],
    });
    const tailed = judge(
      biped(
        ['tail1', 'tail2'].map((name, at): PlainBone => ({
          name,
          parent: at === 0 ? 'hips' : 'tail1',
          position: [0, 0.9, -0.1 - at * 0.1],
        })),
      ),
    );
    expect(tailed.isHumanoid).toBe(true);
    expect(tailed.reasons).toContain('it has a tail, which is left aside');
  });

  it('four limb bones named front and hind make it four-legged, three do not', () => {
    const four = onBothSides({ thigh: 'rear_thigh', upper_arm: 'front_upperleg' });
    expect(judge(renamed(four))).toMatchObject({
      kind: 'four-legged',
      reasons: ['4 limb bones are named as front and hind ones'],
    });
    const { upper_arm_r: _spared, ...three } = four;
    expect(judge(renamed(three)).isHumanoid).toBe(true);
    // A word for front or rear on what is no limb counts nothing.
    expect(judge(renamed({ ...three, chest: 'front_chest', hips: 'rear_hips', neck: 'front_neck' })).isHumanoid).toBe(
      true,
    );
  });

  it('three parts of an animal make it an animal, two do not; a figure that stands upright on its paws stays a figure', () => {
    const bent = (bone: PlainBone): PlainBone =>
      /foot|toes|shin|thigh|paw|claw/.test(bone.name)
        ? { ...bone, position: [bone.position[0], 0.92, bone.position[1] - 0.92] }
        : bone;
    expect(judge(renamed(onBothSides({ foot: 'hoof', toes: 'claw' })).map(bent))).toMatchObject({
      kind: 'four-legged',
      reasons: ['4 bones are named after parts of an animal'],
    });
    expect(judge(renamed(onBothSides({ toes: 'claw' })).map(bent)).isHumanoid).toBe(true);
    expect(judge(renamed(onBothSides({ hand: 'paw', foot: 'hindpaw', toes: 'claw' }))).isHumanoid).toBe(true);
  });

  it('wings and no hands make it a bird; with hands it is a figure that has wings', () => {
    const winged = onBothSides({ upper_arm: 'wing1', forearm: 'wing2', hand: 'wing3' });
    expect(judge(renamed(winged))).toMatchObject({
      kind: 'bird',
      reasons: ['6 bones are named as wings, none as hands'],
    });
    expect(
      judge(
        biped(
          ['l', 'r'].map((side, at): PlainBone => ({
            name: `wing_${side}`,
            parent: 'chest',
            position: [at ? -0.2 : 0.2, 1.3, -0.3],
          })),
        ),
      ).isHumanoid,
    ).toBe(true);
  });

  it('parts of a machine make it a prop, unless a body is named as well', () => {
    const machine = {
      hips: 'hull',
      spine: 'mast',
      chest: 'turret',
      neck: 'q1',
      head: 'q2',
      ...onBothSides({
        collar: 'q3',
        upper_arm: 'q4',
        forearm: 'q5',
        hand: 'q6',
        thigh: 'q7',
        shin: 'q8',
        foot: 'q9',
        toes: 'q10',
      }),
    };
    expect(judge(renamed(machine))).toMatchObject({
      kind: 'prop',
      reasons: ['3 bones are named after parts of a machine'],
    });
    expect(
      judge(
        biped(
          ['hull', 'mast', 'rudder'].map((name, at): PlainBone => ({
            name,
            parent: 'hips',
            position: [0, 0.5, 0.4 + at * 0.2],
          })),
        ),
      ).isHumanoid,
    ).toBe(true);
  });

  it('too few bones are no body', () => {
    expect(judge(biped().slice(0, 7)).reasons).toEqual(['7 bones are too few for two arms, two legs and a head']);
    expect(judge([])).toMatchObject({ kind: 'prop', reasons: ['there is no skeleton in the file'] });
  });
});
