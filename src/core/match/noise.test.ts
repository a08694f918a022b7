import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import { shippedDialect } from '../dialect/dialect';
import { biped, both } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { createContext } from './context';
import { matchBones } from './match-bones';
import { mayBeChance } from './noise';

/** The plain figure with a few bones called something, all others by numbers that say nothing. */
const figure = (said: Readonly<Record<string, string>>, extra: readonly PlainBone[] = []) => {
  const bones = biped(extra);
  return { told: bones.map(({ name }) => name), rig: makeRig(biped(extra, (name) => said[name] ?? `q${bones.findIndex((bone) => bone.name === name)}`), true) };
};
const ROLES = ['hips', 'spine', 'chest', 'neck', 'head', 'leftHand', 'rightUpperLeg', 'leftToes'];
const BONES = ['hips', 'spine', 'chest', 'neck', 'head', 'hand_l', 'thigh_r', 'toes_l'];
const answers = ({ told, rig }: ReturnType<typeof figure>) => {
  const { assignments, creature } = matchBones(rig, QUAY);
  return { bones: ROLES.map((role) => (assignments[role] ? told[assignments[role].boneIndex] : null)), isAside: creature.reasons.some((reason) => reason.includes('names were left aside')) };
};

describe('names that say something by chance', () => {
  it.each([
    ['words for parts on bones that are others', { hips: 'crane', toes_l: 'ring', forearm_r: 'peach', head: 'lumber' }],
    ['words for things on bones of the body', { toes_l: 'candle', toes_r: 'bucket', clavicle_l: 'rope', chest: 'lantern' }],
  ])('%s are left aside, and that is said', (_what, said) => {
    expect(answers(figure(said))).toEqual({ bones: BONES, isAside: true });
  });

  it('a few names that the body bears out are kept', () => {
    expect(answers(figure({ head: 'head', hand_l: 'hand.L', hand_r: 'hand.R' }))).toEqual({ bones: BONES, isAside: false });
    // What hangs on the body may be called what it likes.
    expect(answers(figure({ lamp_l: 'lamp' }, both('lamp', 'hand*', [0.7, 1.4, 0.1])))).toMatchObject({ isAside: false });
  });

  it('are asked about only where few names say something', () => {
    const context = (bones: readonly PlainBone[]) => createContext(makeRig(bones), shippedDialect());
    expect(mayBeChance(context(biped()))).toBe(false);
    expect(mayBeChance(context(figure({}).rig.bones.map(({ name }, at): PlainBone => ({ name, parent: null, position: [0, at, 0] }))))).toBe(false);
    expect(mayBeChance(context(figure({ head: 'head' }).rig.bones.map(({ name }, at): PlainBone => ({ name, parent: null, position: [0, at, 0] }))))).toBe(true);
  });
});
