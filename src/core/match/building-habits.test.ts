import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import type { Rig } from '../rig/rig';
import { biped, both, weightless } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { matchBones } from './match-bones';

type Place = [number, number, number];

/** The rig with names that say nothing, and the names it had, for reading the answer. */
function nameless(bones: readonly PlainBone[], { withSkin = true, bare = /^$/ } = {}) {
  const rig = weightless(makeRig(bones, withSkin), bare);
  return matched({ ...rig, bones: rig.bones.map((bone) => ({ ...bone, name: `q${bone.index}` })) }, rig);
}

function matched(rig: Rig, told: Rig = rig) {
  const { assignments, creature } = matchBones(rig, QUAY);
  return {
    creature,
    sure: (role: string) => assignments[role]?.confidence ?? 0,
    states: (role: string) => assignments[role]?.state ?? 'vacant',
    bones: (...roles: string[]) =>
      roles.map((role) => (assignments[role] ? told.bones[assignments[role].boneIndex].name : null)),
  };
}

const moved = (bones: readonly PlainBone[], places: Readonly<Record<string, Place>>): PlainBone[] =>
  bones.map((bone) => ({ ...bone, position: places[bone.name] ?? bone.position }));
const TRUNK = ['hips', 'spine', 'chest', 'upperChest', 'neck', 'head'] as const;
const ARM = ['leftShoulder', 'leftUpperArm', 'leftLowerArm', 'leftHand'] as const;

/** A strand of bones on both sides, from a place by equal steps. */
const strand = (name: string, parent: string, count: number, from: Place, step: Place): PlainBone[] =>
  Array.from({ length: count }, (_, at) =>
    both(
      `${name}${at}`,
      at === 0 ? parent : `${name}${at - 1}*`,
      [0, 1, 2].map((axis) => from[axis] + step[axis] * at) as Place,
    ),
  ).flat();

describe('bones that begin where their parent does, as in motion files', () => {
  it('clavicles in the middle of the body are a pair, told by where they lead', () => {
    const bones = moved(biped(), { collar_l: [0, 1.42, 0], collar_r: [0, 1.42, 0] });
    for (const withSkin of [true, false]) {
      const figure = nameless(bones, { withSkin });
      expect(figure.bones(...ARM, 'rightShoulder')).toEqual([
        'collar_l',
        'upper_arm_l',
        'forearm_l',
        'hand_l',
        'collar_r',
      ]);
      expect(ARM.map(figure.states)).toEqual(['proposed', 'proposed', 'proposed', 'proposed']);
    }
  });

  it('a bone beside such clavicles at their place begins the neck, however long that makes it', () => {
    const bones = moved(biped([{ name: 'neck2', parent: 'neck', position: [0, 1.44, 0] }]), {
      chest: [0, 1.32, 0],
      neck: [0, 1.32, 0],
      collar_l: [0, 1.32, 0],
      collar_r: [0, 1.32, 0],
    })
      .map((bone) => (bone.name === 'head' ? { ...bone, parent: 'neck2' } : bone))
      .sort((a, b) => Number(a.name === 'head') - Number(b.name === 'head'));
    expect(nameless(bones).bones(...TRUNK)).toEqual(['hips', 'spine', 'chest', null, 'neck', 'head']);
  });

  it('thighs behind joints that lie in the hips are the thighs', () => {
    const bones = biped(both('joint', 'hips', [0, 0.95, 0])).map((bone) =>
      /^thigh/.test(bone.name) ? { ...bone, parent: bone.name.replace('thigh', 'joint') } : bone,
    );
    const order = [...bones].sort((a, b) => Number(!/hips|joint/.test(a.name)) - Number(!/hips|joint/.test(b.name)));
    expect(nameless(order).bones('leftUpperLeg', 'rightUpperLeg', 'leftFoot')).toEqual([
      'thigh_l',
      'thigh_r',
      'foot_l',
    ]);
  });
});

describe('hips and head', () => {
  const aside = biped().map((bone) =>
    bone.name === 'spine' ? { ...bone, parent: 'cog' } : bone.name === 'hips' ? { ...bone, parent: 'cog' } : bone,
  );
  const led: PlainBone[] = [{ name: 'cog', parent: null, position: [0, 0.97, 0] }, ...aside];

  it('a bone that moves nothing and leads pelvis and spine is not the hips where the pelvis moves the mesh', () => {
    expect(nameless(led, { bare: /^cog$/ }).bones('hips', 'spine')).toEqual(['hips', 'spine']);
  });

  it('a jaw beside the eyes is no head above a neck', () => {
    const toothed = moved(
      biped([{ name: 'jaw', parent: 'head', position: [0, 1.56, 0.1] }, ...both('eye', 'head', [0.04, 1.64, 0.1])])
        .filter(({ name }) => name !== 'neck')
        .map((bone) => (bone.name === 'head' ? { ...bone, parent: 'chest' } : bone)),
      { head: [0, 1.52, 0] },
    );
    expect(nameless(toothed, { withSkin: false }).bones('neck', 'head')).toEqual([null, 'head']);
  });

  it('what moves the mesh straight above a bone on the neck puts it in doubt as the head, a tip does not', () => {
    const long = (bare: RegExp) =>
      nameless(
        moved(biped([{ name: 'top', parent: 'head', position: [0, 1.68, 0] }]), {
          neck: [0, 1.45, 0],
          head: [0, 1.5, 0],
        }),
        { bare },
      );
    expect(long(/^top$/).bones('head')).toEqual(['head']);
    expect(long(/^top$/).sure('head') - long(/^$/).sure('head')).toBeGreaterThan(0.03);
  });
});

describe('a trunk that leans aside and turns', () => {
  /** Everything above the hips but the legs, leant and turned about the first bone of the spine; degrees. */
  const leaning = (lean: number, turn: number): PlainBone[] => {
    const [l, t] = [lean, turn].map((degrees) => (degrees * Math.PI) / 180);
    return biped(both('eye', 'head', [0.03, 1.64, 0.08])).map((bone) => {
      if (/hips|thigh|shin|foot|toes|^spine/.test(bone.name)) return bone;
      const [x, y, z] = [bone.position[0], bone.position[1] - 1.08, bone.position[2]];
      const [tx, tz] = [x * Math.cos(t) + z * Math.sin(t), z * Math.cos(t) - x * Math.sin(t)];
      return {
        ...bone,
        position: [tx * Math.cos(l) - y * Math.sin(l), 1.08 + y * Math.cos(l) + tx * Math.sin(l), tz] as Place,
      };
    });
  };
  const expected = ['hips', 'spine', 'chest', 'neck', 'head', 'upper_arm_l', 'hand_r', 'foot_l'];

  it.each([
    [20, 0],
    [0, 40],
    [-15, 30],
    [25, -35],
  ])('leant by %d and turned by %d degrees has its arms and head, without names too', (lean, turn) => {
    for (const withSkin of [true, false]) {
      expect(
        nameless(leaning(lean, turn), { withSkin }).bones(
          'hips',
          'spine',
          'chest',
          'neck',
          'head',
          'leftUpperArm',
          'rightHand',
          'leftFoot',
        ),
      ).toEqual(expected);
    }
    expect(matched(makeRig(leaning(lean, turn))).bones('head', 'leftEye')).toEqual(['head', 'eye_l']);
  });

  it('and the eyes of a head that leans with it', () => {
    expect(nameless(leaning(20, 0)).bones('leftEye', 'rightEye')).toEqual(['eye_l', 'eye_r']);
  });
});

describe('what hangs on a figure that stands on two legs', () => {
  it.each([
    [
      'a skirt to the floor',
      [0.1, 0.9, 1.8, 2.6].flatMap((turn, at) =>
        strand(
          `skirt${at}_`,
          'hips',
          7,
          [0.05 + 0.1 * Math.sin(turn), 0.95, 0.12 * Math.cos(turn)],
          [0.005, -0.12, 0.01 * Math.cos(turn)],
        ),
      ),
    ],
    [
      'a cape',
      [0, 1].flatMap((at) => strand(`cape${at}_`, 'chest', 6, [0.06 + 0.08 * at, 1.42, -0.12], [0.01, -0.2, -0.02])),
    ],
    ['tails of hair down both sides', strand('tail', 'head', 8, [0.12, 1.7, -0.05], [0.03, -0.17, -0.01])],
  ])('%s does not make further legs or a neck of it, without any name', (_what, cloth) => {
    for (const withSkin of [true, false]) {
      const figure = nameless(biped(cloth), { withSkin });
      expect(figure.creature.reasons).toEqual(['two arms, two legs and a head were found']);
      expect(figure.bones('leftUpperLeg', 'leftFoot', 'head')).toEqual(['thigh_l', 'foot_l', 'head']);
    }
  });

  it('hair that falls down the back is no long neck', () => {
    const hair = Array.from({ length: 10 }, (_, at): PlainBone => ({
      name: `hair${at}`,
      parent: at === 0 ? 'head' : `hair${at - 1}`,
      position: [0, 1.7 - 0.11 * at, -0.08 - 0.01 * at],
    }));
    expect(nameless(biped(hair)).creature.isHumanoid).toBe(true);
  });
});

describe('feet and hands that stay where they are put', () => {
  const planted = (withTip: boolean): PlainBone[] => [
    { name: 'root', parent: null, position: [0, 0, 0] as Place },
    ...biped().flatMap((bone): PlainBone[] => {
      if (bone.name === 'hips') return [{ ...bone, parent: 'root' }];
      if (!/^foot/.test(bone.name)) return [bone];
      return [
        { ...bone, parent: 'root' },
        ...(withTip ? [{ ...bone, name: bone.name.replace('foot', 'shinend') }] : []),
      ];
    }),
  ];

  it('a foot that hangs on the root goes to the shin that ends in a leaf at its place, with or without names', () => {
    expect(nameless(planted(true), { bare: /^root$|^shinend/ }).bones('leftFoot', 'rightFoot', 'leftToes')).toEqual([
      'foot_l',
      'foot_r',
      'toes_l',
    ]);
    expect(matched(makeRig(planted(true))).bones('leftFoot', 'rightLowerLeg')).toEqual(['foot_l', 'shin_r']);
  });

  it('such a foot says that it goes on from the shin by its place', () => {
    const { assignments } = matchBones(makeRig(planted(true)), QUAY);
    expect(assignments.leftFoot.evidence).toEqual(
      expect.arrayContaining(['not below the left shin', 'by its place it goes on from shin_l']),
    );
  });

  it('a foot by name goes to the only shin of its side that ends in nothing', () => {
    expect(matched(makeRig(planted(false))).bones('leftFoot', 'rightFoot')).toEqual(['foot_l', 'foot_r']);
  });

  it('a target at the foot stays a spare', () => {
    const bones: PlainBone[] = [
      { name: 'root', parent: null, position: [0, 0, 0] },
      ...biped().map((bone) => (bone.name === 'hips' ? { ...bone, parent: 'root' } : bone)),
      ...both('foot_ik', 'root', [0.09, 0.09, -0.02]),
    ];
    for (const rig of [makeRig(bones), weightless(makeRig(bones, true), /_ik|root/)])
      expect(matched(rig).bones('leftFoot', 'leftToes')).toEqual(['foot_l', 'toes_l']);
  });
});

describe('toes', () => {
  it('are found behind two bones of the ankle by their name', () => {
    const bones = biped([
      ...both('subtalar', 'foot*', [0.09, 0.05, -0.02]),
      ...both('midtarsal', 'subtalar*', [0.09, 0.03, 0.03]),
      ...both('metatarsal', 'midtarsal*', [0.1, 0.02, 0.1]),
    ]).filter(({ name }) => !/^toes/.test(name));
    expect(matched(makeRig(bones)).bones('leftToes')).toEqual(['metatarsal_l']);
  });
});
