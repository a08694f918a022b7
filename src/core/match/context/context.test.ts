import { describe, expect, it } from 'vitest';
import { biped, both, weightless } from '../../../../tests/helpers/named-biped';
import { makeRig } from '../../../../tests/helpers/rig-maker';
import { shippedDialect } from '../../dialect/dialect';
import type { Rig } from '../../rig/rig';
import { createContext } from './context';

const DIALECT = shippedDialect();
const plain = (): Rig => makeRig(biped());
const at = (rig: Rig, name: string) => rig.bones.findIndex((bone) => bone.name === name);

describe('what the matcher knows of a rig', () => {
  it.each([
    ['+Y', [0, 1, 0], [0, 0, 1]],
    ['+Z', [0, 0, 1], [0, -1, 0]],
    ['-Y', [0, -1, 0], null],
    ['+X', [1, 0, 0], null],
    [null, [0, 1, 0], [0, 0, 1]],
  ] as const)('a file with %s up', (up, fileUp, fileFront) => {
    const rig = plain();
    const context = createContext({ ...rig, source: { ...rig.source, up } }, DIALECT);
    expect(context.fileUp).toEqual(fileUp);
    expect(context.fileFront).toEqual(fileFront);
  });

  it('all evidence counts unless it is left out', () => {
    expect(createContext(plain(), DIALECT).use).toEqual({ names: true, tree: true, place: true });
    expect(createContext(plain(), DIALECT, { use: { tree: false } }).use).toEqual({
      names: true,
      tree: false,
      place: true,
    });
  });

  it('names are read where the file gives them and where they count', () => {
    const rig = plain();
    const hand = at(rig, 'hand_l');
    const halfNamed: Rig = {
      ...rig,
      bones: rig.bones.map((bone) => (bone.index === hand ? { ...bone, isNamed: false } : bone)),
    };
    expect(createContext(rig, DIALECT).names.bones[hand].words).toEqual(['hand']);
    expect(createContext(halfNamed, DIALECT).names.bones[hand].words).toEqual([]);
    expect(createContext(halfNamed, DIALECT).names.bones[at(rig, 'hand_r')].words).toEqual(['hand']);
    const silent = createContext(rig, DIALECT, { use: { names: false } });
    expect(silent.names.meaningfulShare).toBe(0);
    expect(silent.nameScore(hand, 'hand')).toBe(0);
  });

  it('what the file states of a bone speaks for it, unless names are left out', () => {
    const rig: Rig = {
      ...plain(),
      statedRoles: { leftHand: at(plain(), 'forearm_l'), head: at(plain(), 'head'), tailTip: 3 },
    };
    const { stated } = createContext(rig, DIALECT);
    expect([...stated]).toEqual([
      [at(rig, 'forearm_l'), { concept: 'hand', side: 'left' }],
      [at(rig, 'head'), { concept: 'head', side: null }],
    ]);
    expect(createContext(rig, DIALECT, { use: { names: false } }).stated.size).toBe(0);
    const [said, unsaid] = [rig, plain()].map((each) =>
      createContext(each, DIALECT).nameScore(at(rig, 'forearm_l'), 'hand'),
    );
    expect(said - unsaid).toBeCloseTo(6, 6);
  });

  it('a front is given only by a person', () => {
    expect(createContext(plain(), DIALECT).givenFront).toBeNull();
    expect(createContext(plain(), DIALECT, { givenFront: [0, 0, -1] }).givenFront).toEqual([0, 0, -1]);
  });

  it('every bone moves something where there is no skin; with one, those with weight', () => {
    const rig = makeRig(biped(both('target', 'hand*', [0.68, 1.42, -0.01])), true);
    const skinned = createContext(weightless(rig, /target/), DIALECT);
    expect([skinned.moves(at(rig, 'target_l')), skinned.moves(at(rig, 'hand_l'))]).toEqual([false, true]);
    const bare = createContext(weightless(rig, /./), DIALECT);
    expect(bare.moves(at(rig, 'target_l'))).toBe(true);
  });

  it("the body has a tree of its own only where the rig's does not follow it", () => {
    const followed = createContext(plain(), DIALECT);
    expect(followed.body).toBe(followed.shape);
    const flat = makeRig(biped().map((bone, index) => (index === 0 ? bone : { ...bone, parent: 'hips' })));
    const grown = createContext(flat, DIALECT);
    expect(grown.shape.parents[at(flat, 'forearm_l')]).toBe(0);
    expect(grown.body.parents[at(flat, 'forearm_l')]).toBe(at(flat, 'upper_arm_l'));
    const asGiven = createContext(flat, DIALECT, { use: { tree: false } });
    expect(asGiven.body).toBe(asGiven.shape);
  });
});
