import { describe, expect, it } from 'vitest';
import { QUAY } from '../../definition/quay';
import { shippedDialect } from '../../dialect/dialect';
import { biped, both } from '../../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { createContext } from '../context/context';
import { matchBones } from '../match-bones';
import { mayBeChance } from './noise';

/** The plain figure with a few bones called something, all others by numbers that say nothing. */
const figure = (said: Readonly<Record<string, string>>, extra: readonly PlainBone[] = []) => {
  const bones = biped(extra);
  return {
    told: bones.map(({ name }) => name),
    rig: makeRig(
      biped(extra, (name) => said[name] ?? `q${bones.findIndex((bone) => bone.name === name)}`),
      true,
    ),
  };
};
const ROLES = ['hips', 'spine', 'chest', 'neck', 'head', 'leftHand', 'rightUpperLeg', 'leftToes'];
const BONES = ['hips', 'spine', 'chest', 'neck', 'head', 'hand_l', 'thigh_r', 'toes_l'];
const answers = ({ told, rig }: ReturnType<typeof figure>) => {
  const { assignments, creature } = matchBones(rig, QUAY);
  return {
    bones: ROLES.map((role) => (assignments[role] ? told[assignments[role].boneIndex] : null)),
    isAside: creature.reasons.some((reason) => reason.includes('names were left aside')),
  };
};

describe('names that say something by chance', () => {
  it.each([
    ['words for parts on bones that are others', { hips: 'crane', toes_l: 'ring', forearm_r: 'peach', head: 'lumber' }],
    [
      'words for things on bones of the body',
      { toes_l: 'candle', toes_r: 'bucket', collar_l: 'rope', chest: 'lantern' },
    ],
  ])('%s are left aside, and that is said', (_what, said) => {
    expect(answers(figure(said))).toEqual({ bones: BONES, isAside: true });
  });

  it('a few names that the body bears out are kept', () => {
    expect(answers(figure({ head: 'head', hand_l: 'hand.L', hand_r: 'hand.R' }))).toEqual({
      bones: BONES,
      isAside: false,
    });
    // What hangs on the body may be called what it likes.
    expect(answers(figure({ lamp_l: 'lamp' }, both('lamp', 'hand*', [0.7, 1.4, 0.1])))).toMatchObject({
      isAside: false,
    });
  });

  it("do not include a lone hand's, which without names might pass for a body", () => {
    const chain = (name: string, x: number): PlainBone[] =>
      [0, 1, 2].map((at) => ({
        name: `${name}_${at}`,
        parent: at === 0 ? 'wrist' : `${name}_${at - 1}`,
        position: [0.02 * x, 0.1 + 0.04 * at, 0],
      }));
    const hand: PlainBone[] = [
      { name: 'forearm', parent: null, position: [0, -0.25, 0] },
      { name: 'wrist', parent: 'forearm', position: [0, 0, 0] },
      ...[-2, -1, 0, 1, 2].flatMap((x, at) => chain(`finger_${at}`, x)),
    ];
    expect(matchBones(makeRig(hand, true), QUAY).creature.isHumanoid).toBe(false);
  });

  it('a figure whose body is named keeps its names among any number of spares that no word fits', () => {
    const strands = Array.from({ length: 90 }, (_, at): PlainBone => ({
      name: `zq${at}`,
      parent: at % 3 === 0 ? 'hips' : `zq${at - 1}`,
      position: [0.2 * Math.sin(at), 0.9 - 0.1 * (at % 3), 0.2 * Math.cos(at)],
    }));
    const rig = makeRig(biped(strands), true);
    expect(mayBeChance(createContext(rig, shippedDialect()), undefined)).toBe(true);
    const { creature, assignments } = matchBones(rig, QUAY);
    expect(creature.reasons).toEqual(['two arms, two legs and a head were found']);
    expect(assignments.head.evidence).toContain('name says head');
  });

  it('are asked about only where few names say something', () => {
    const context = (bones: readonly PlainBone[]) => createContext(makeRig(bones), shippedDialect());
    expect(mayBeChance(context(biped()), undefined)).toBe(false);
    expect(
      mayBeChance(
        context(figure({}).rig.bones.map(({ name }, at): PlainBone => ({ name, parent: null, position: [0, at, 0] }))),
        undefined,
      ),
    ).toBe(false);
    expect(
      mayBeChance(
        context(
          figure({ head: 'head' }).rig.bones.map(({ name }, at): PlainBone => ({
            name,
            parent: null,
            position: [0, at, 0],
          })),
        ),
        undefined,
      ),
    ).toBe(true);
  });
});
