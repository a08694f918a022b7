import { describe, expect, it } from 'vitest';
import { QUAY } from '../../definition/quay';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { matchBones } from '../match-bones';

type Place = [number, number, number];
const chain = (prefix: string, parent: string, places: Place[]): PlainBone[] =>
  places.map((position, at) => ({
    name: `${prefix}${at}`,
    parent: at === 0 ? parent : `${prefix}${at - 1}`,
    position,
  }));
const sides = [
  ['l', 1],
  ['r', -1],
] as const;

/** A walking animal; `dig` is how far the hocks and elbows stand out. */
function fourLegged(leg: number, body: number, neck: number, dig: number): PlainBone[] {
  const bones: PlainBone[] = [
    { name: 'p', parent: null, position: [0, leg, -body / 2] },
    ...chain(
      's',
      'p',
      [1, 2, 3].map((at): Place => [0, leg + 0.02 * at, -body / 2 + (body * at) / 3]),
    ),
    ...chain(
      'n',
      's2',
      [1, 2].map((at): Place => [0, leg + 0.05 + (neck * at) / 2, body / 2 + (neck * at) / 3]),
    ),
    { name: 'h', parent: 'n1', position: [0, leg + 0.08 + neck, body / 2 + neck * 0.9] },
    ...chain(
      't',
      'p',
      [1, 2, 3, 4].map((at): Place => [0, leg - 0.03 * at, -body / 2 - 0.1 * at]),
    ),
  ];
  for (const [side, k] of sides) {
    const x = k * (0.12 * leg + 0.04);
    bones.push(
      ...chain(`b${side}`, 'p', [
        [x, leg * 0.92, -body / 2],
        [x, leg * 0.55, -body / 2 + dig],
        [x, leg * 0.25, -body / 2 - dig],
        [x, leg * 0.05, -body / 2],
        [x, 0.01, -body / 2 + 0.08],
      ]),
      ...chain(`f${side}`, 's2', [
        [x, leg * 0.98, body / 2 - 0.03],
        [x, leg * 0.8, body / 2 + 0.04],
        [x, leg * 0.45, body / 2 - dig * 0.5],
        [x, leg * 0.08, body / 2],
        [x, 0.01, body / 2 + 0.07],
      ]),
    );
  }
  return bones;
}

const heron = (): PlainBone[] => [
  { name: 'p', parent: null, position: [0, 0.5, 0] },
  ...chain('s', 'p', [
    [0, 0.58, 0.05],
    [0, 0.64, 0.1],
  ]),
  ...chain('n', 's1', [
    [0, 0.72, 0.13],
    [0, 0.82, 0.12],
    [0, 0.92, 0.16],
  ]),
  { name: 'h', parent: 'n2', position: [0, 1, 0.18] },
  { name: 'k', parent: 'h', position: [0, 0.99, 0.3] },
  ...chain('t', 'p', [
    [0, 0.48, -0.1],
    [0, 0.46, -0.2],
  ]),
  ...sides.flatMap(([side, k]) => [
    ...chain(`w${side}`, 's1', [
      [0.05 * k, 0.64, 0.09],
      [0.25 * k, 0.66, 0.05],
      [0.45 * k, 0.64, 0.1],
      [0.7 * k, 0.62, 0],
    ]),
    ...chain(`g${side}`, 'p', [
      [0.05 * k, 0.47, 0],
      [0.06 * k, 0.35, 0.08],
      [0.06 * k, 0.18, -0.03],
      [0.06 * k, 0.02, 0.02],
      [0.06 * k, 0.01, 0.1],
    ]),
  ]),
];

const crab = (): PlainBone[] => [
  { name: 'b', parent: null, position: [0, 0.3, 0] },
  { name: 'h', parent: 'b', position: [0, 0.3, 0.2] },
  { name: 'a', parent: 'b', position: [0, 0.35, -0.2] },
  ...sides.flatMap(([side, k]) =>
    [0, 1, 2, 3].flatMap((at) =>
      chain(`g${at}${side}`, 'b', [
        [0.08 * k, 0.3, 0.12 - 0.08 * at],
        [0.3 * k, 0.5, 0.2 - 0.13 * at],
        [0.5 * k, 0.3, 0.25 - 0.17 * at],
        [0.6 * k, 0, 0.3 - 0.2 * at],
      ]),
    ),
  ),
];

const named = (bones: PlainBone[], rename: Record<string, string>): PlainBone[] => {
  const text = (name: string | null) =>
    name === null
      ? null
      : name.replace(
          /^([a-z])([lr])(\d)$/,
          (_, limb: string, side: string, at: string) => `${rename[limb] ?? limb}_${at}_${side}`,
        );
  return bones.map((bone) => ({ ...bone, name: text(bone.name) as string, parent: text(bone.parent) }));
};

describe('what kind of creature', () => {
  it.each([
    ['a dog-sized one', fourLegged(0.5, 0.6, 0.25, 0.08)],
    ['a cat-sized one', fourLegged(0.25, 0.35, 0.08, 0.06)],
    ['a horse-sized one', fourLegged(1.3, 1.4, 0.7, 0.06)],
    ['a stout one', fourLegged(0.7, 1.1, 0.2, 0.02)],
  ])('four legs without names, %s, are no humanoid', (_size, bones) => {
    for (const withSkin of [true, false])
      expect(matchBones(makeRig(bones, withSkin), QUAY).creature).toMatchObject({
        isHumanoid: false,
        kind: 'four-legged',
      });
  });

  it('front and hind legs by name are no humanoid', () => {
    const { creature } = matchBones(
      makeRig(named(fourLegged(0.5, 0.6, 0.25, 0.08), { b: 'hind_leg', f: 'front_leg' }), true),
      QUAY,
    );
    expect(creature).toMatchObject({ isHumanoid: false, kind: 'four-legged' });
    expect(creature.reasons[0]).toMatch(/front and hind|parts of an animal/);
  });

  it('a standing bird is no humanoid, with wings by name and without any name', () => {
    expect(matchBones(makeRig(heron(), true), QUAY).creature).toMatchObject({ isHumanoid: false, kind: 'bird' });
    expect(matchBones(makeRig(named(heron(), { w: 'wing', g: 'leg' }), true), QUAY).creature).toMatchObject({
      isHumanoid: false,
      kind: 'bird',
    });
  });

  it("four legs that are named after a person's arms and hands are four legs, until the hands have fingers (somebody crawls)", () => {
    const words = (bone: string) =>
      bone
        .replace(
          /^b([lr])(\d)$/,
          (_all, side: string, at: string) => `${['thigh', 'shin', 'foot', 'toe', 'toe_end'][Number(at)]}_${side}`,
        )
        .replace(
          /^f([lr])(\d)$/,
          (_all, side: string, at: string) =>
            `${['clavicle', 'upper_arm', 'forearm', 'hand', 'finger'][Number(at)]}_${side}`,
        );
    const bones = fourLegged(0.5, 0.6, 0.25, 0.08).map((bone) => ({
      ...bone,
      name: words(bone.name),
      parent: bone.parent && words(bone.parent),
    }));
    expect(matchBones(makeRig(bones, true), QUAY).creature).toMatchObject({ isHumanoid: false, kind: 'four-legged' });
    const fingers = sides.flatMap(([side, k]) =>
      ['thumb', 'index', 'ring'].flatMap((name, at) =>
        chain(`${name}_${side}`, `hand_${side}`, [
          [k * (0.08 + 0.02 * at), 0.03, 0.33],
          [k * (0.08 + 0.02 * at), 0.02, 0.36],
        ]),
      ),
    );
    expect(
      matchBones(makeRig([...bones.filter(({ name }) => !/^t\d/.test(name)), ...fingers], true), QUAY).creature
        .isHumanoid,
    ).toBe(true);
  });

  it('a level trunk on two legs with a tail behind is no humanoid, an upright one with a tail is', () => {
    const lizard = (isUpright: boolean): PlainBone[] => {
      const trunk = (along: number): Place => (isUpright ? [0, 1 + along, 0] : [0, 1.05, along]);
      const [shoulder] = [trunk(0.45)];
      return [
        { name: 'p', parent: null, position: [0, 1, 0] },
        ...chain('s', 'p', [trunk(0.15), trunk(0.3), trunk(0.45)]),
        ...chain('n', 's2', [trunk(0.55)]),
        { name: 'h', parent: 'n0', position: trunk(0.62) },
        ...chain('t', 'p', [
          [0, 0.98, -0.2],
          [0, 0.96, -0.4],
          [0, 0.94, -0.6],
        ]),
        ...sides.flatMap(([side, k]) => [
          ...chain(`g${side}`, 'p', [
            [0.1 * k, 0.95, 0],
            [0.11 * k, 0.55, 0.05],
            [0.11 * k, 0.12, -0.03],
            [0.11 * k, 0.02, 0.1],
          ]),
          ...chain(`a${side}`, 's2', [
            [0.12 * k, shoulder[1] - 0.03, shoulder[2]],
            [0.16 * k, shoulder[1] - 0.2, shoulder[2]],
            [0.16 * k, shoulder[1] - 0.36, shoulder[2] + 0.05],
          ]),
        ]),
      ];
    };
    expect(matchBones(makeRig(lizard(false), true), QUAY).creature).toMatchObject({
      isHumanoid: false,
      kind: 'level-backed',
    });
    expect(matchBones(makeRig(lizard(true), true), QUAY).creature.isHumanoid).toBe(true);
  });

  it('a head larger than the trunk is no long neck', () => {
    const toy: PlainBone[] = [
      { name: 'p', parent: null, position: [0, 0.4, 0] },
      ...chain('s', 'p', [
        [0, 0.46, 0],
        [0, 0.55, 0],
      ]),
      { name: 'n', parent: 's1', position: [0, 0.63, 0] },
      { name: 'h', parent: 'n', position: [0, 0.66, 0] },
      { name: 'e', parent: 'h', position: [0, 1.1, 0] },
      ...sides.flatMap(([side, k]) => [
        ...chain(`g${side}`, 'p', [
          [0.06 * k, 0.38, 0],
          [0.06 * k, 0.2, 0.01],
          [0.06 * k, 0.05, -0.01],
          [0.06 * k, 0.01, 0.06],
        ]),
        ...chain(`a${side}`, 's1', [
          [0.09 * k, 0.6, 0],
          [0.19 * k, 0.6, -0.01],
          [0.29 * k, 0.6, 0],
        ]),
      ]),
    ];
    expect(matchBones(makeRig(toy, true), QUAY).creature.isHumanoid).toBe(true);
  });

  it('eight legs are no humanoid', () => {
    const { creature } = matchBones(makeRig(crab(), true), QUAY);
    expect(creature.isHumanoid).toBe(false);
    expect(creature.reasons[0]).toMatch(/pairs of limbs/);
  });

  it('assignments on what is no humanoid are all doubtful', () => {
    const { assignments } = matchBones(makeRig(fourLegged(0.5, 0.6, 0.25, 0.08), true), QUAY);
    expect(Object.values(assignments).filter((match) => match.state === 'proposed')).toEqual([]);
  });

  it('what is no figure stands as its file says, whichever axis that calls up', () => {
    const rig = makeRig(fourLegged(1.3, 1.4, 0.7, 0.06), true);
    expect(matchBones(rig, QUAY).frame).toMatchObject({ up: [0, 1, 0], facing: [0, 0, 1], left: [1, 0, 0] });
    const lying = { ...rig, source: { ...rig.source, up: '+Z' as const } };
    expect(matchBones(lying, QUAY).frame).toMatchObject({ up: [0, 0, 1], facing: [0, -1, 0] });
  });
});
