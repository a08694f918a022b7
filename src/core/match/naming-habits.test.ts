import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import type { Rig } from '../rig/rig';
import { biped, both, weightless } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { matchBones } from './match-bones';

const answers = (rig: Rig, roles: readonly string[]) => {
  const { assignments } = matchBones(rig, QUAY);
  return roles.map((role) => {
    const match = assignments[role];
    return match ? rig.bones[match.boneIndex].name : null;
  });
};
const state = (rig: Rig, role: string) => matchBones(rig, QUAY).assignments[role]?.state ?? 'vacant';
const renamed = (words: Readonly<Record<string, string>>) => (name: string) =>
  name.replace(/^[a-z]+/, (word) => words[word] ?? word);
const TRUNK = ['hips', 'spine', 'chest', 'neck', 'head'];

describe('habits of naming', () => {
  it('one numbered word for everything from hips to head is told by place, behind a prefix too', () => {
    for (const prefix of ['', 'wq-']) {
      const names = {
        hips: `${prefix}back0`,
        spine: `${prefix}back1`,
        chest: `${prefix}back2`,
        neck: `${prefix}back3`,
        head: `${prefix}back4`,
      };
      const rig = makeRig(
        biped(
          [],
          renamed({
            ...names,
            ...Object.fromEntries(
              ['collar', 'upper_arm', 'forearm', 'hand', 'thigh', 'shin', 'foot', 'toes'].map((word) => [
                word,
                prefix + word,
              ]),
            ),
          }),
        ),
        true,
      );
      expect(matchBones(rig, QUAY).creature.isHumanoid).toBe(true);
      expect(answers(rig, TRUNK)).toEqual(Object.values(names));
    }
  });

  it('a spine numbered under a head of its own stays a spine', () => {
    const rig = makeRig(biped([], renamed({ hips: 'spine0', spine: 'spine1', chest: 'spine2', neck: 'spine3' })), true);
    expect(answers(rig, ['neck', 'head'])).toEqual(['spine3', 'head']);
  });

  it('hips that are called root lead the legs, whatever parts of the root stand above them', () => {
    const bones = biped([], renamed({ hips: 'Root' })).flatMap((bone): PlainBone[] =>
      bone.name === 'spine'
        ? [
            { name: 'RootPart', parent: 'Root', position: [0, 1, 0] },
            { ...bone, parent: 'RootPart' },
          ]
        : [bone],
    );
    const rig = makeRig(bones, true);
    expect(answers(rig, ['hips', 'spine'])).toEqual(['Root', 'spine']);
  });

  it('a root at the floor is not the hips of a figure whose limbs hang on its only trunk bone', () => {
    const toy: PlainBone[] = [
      { name: 'root', parent: null, position: [0, 0, 0] },
      { name: 'torso', parent: 'root', position: [0, 1.1, 0] },
      { name: 'head', parent: 'torso', position: [0, 1.5, 0] },
      ...both('arm', 'torso', [0.2, 1.4, 0]),
      ...both('leg', 'torso', [0.1, 0.9, 0]),
    ];
    const rig = weightless(makeRig(toy, true), /root/);
    expect(answers(rig, ['hips', 'head', 'leftUpperArm', 'rightUpperLeg', 'leftLowerArm'])).toEqual([
      'torso',
      'head',
      'arm_l',
      'leg_r',
      null,
    ]);
  });

  it('a toy with one bone a limb is a humanoid by its names, on one root as well, and not without them', () => {
    const toy: PlainBone[] = [
      { name: 'root', parent: null, position: [0, 0, 0] },
      { name: 'body', parent: 'root', position: [0, 1.1, 0] },
      { name: 'head', parent: 'root', position: [0, 1.5, 0] },
      ...both('arm', 'root', [0.2, 1.4, 0]),
      ...both('leg', 'root', [0.1, 0.9, 0]),
    ];
    const rig = makeRig(toy);
    expect(matchBones(rig, QUAY).creature.isHumanoid).toBe(true);
    expect(
      answers(rig, ['head', 'leftUpperArm', 'rightUpperArm', 'leftUpperLeg', 'rightUpperLeg', 'leftFoot']),
    ).toEqual(['head', 'arm_l', 'arm_r', 'leg_l', 'leg_r', null]);
    expect(
      matchBones({ ...rig, bones: rig.bones.map((bone) => ({ ...bone, name: `q${bone.index}` })) }, QUAY).creature
        .isHumanoid,
    ).toBe(false);
  });

  it('"ankle" and below it "foot": the second is the toes', () => {
    const rig = makeRig(biped([], renamed({ foot: 'ankle', toes: 'foot' })), true);
    expect(answers(rig, ['leftFoot', 'rightToes'])).toEqual(['ankle_l', 'foot_r']);
  });

  it('"wrist" and below it "hand": the second is no digit, what hangs on it may be one', () => {
    const wrists = makeRig(
      biped([], renamed({ hand: 'wrist' })).concat(
        both('hand', 'wrist*', [0.73, 1.42, -0.01]),
        both('thumb', 'hand*', [0.74, 1.4, 0.03]),
      ),
      true,
    );
    expect(answers(wrists, ['leftHand', 'leftThumbMetacarpal', 'leftIndexProximal'])).toEqual([
      'wrist_l',
      'thumb_l',
      null,
    ]);
  });

  it('"fingers", once in a hand, stand for several: whichever they are taken for is in doubt', () => {
    const mitten = [
      ...both('thumb1', 'hand*', [0.7, 1.4, 0.02]),
      ...both('thumb2', 'thumb1*', [0.72, 1.39, 0.04]),
      ...both('fingers1', 'hand*', [0.78, 1.42, -0.01]),
      ...both('fingers2', 'fingers1*', [0.82, 1.42, -0.01]),
    ];
    const rig = makeRig(biped(mitten), true);
    expect([state(rig, 'leftThumbMetacarpal'), state(rig, 'leftIndexProximal')]).toEqual(['proposed', 'doubtful']);
  });

  it('base, middle and tip are three segments; an end after numbered ones is none', () => {
    const finger = (parts: readonly string[]) =>
      parts.flatMap((part, at) =>
        both(`index${part}`, at === 0 ? 'hand*' : `index${parts[at - 1]}*`, [0.78 + 0.03 * at, 1.42, 0.01]),
      );
    const words = makeRig(biped(finger(['Base', 'Mid', 'Tip'])));
    expect(answers(words, ['leftIndexProximal', 'leftIndexDistal'])).toEqual(['indexBase_l', 'indexTip_l']);
    const numbers = makeRig(biped(finger(['1', '2', 'Tip'])));
    expect(answers(numbers, ['leftIndexProximal', 'leftIndexDistal'])).toEqual(['index1_l', null]);
  });

  it('a name with a word more that says nothing gives way to the plain one', () => {
    const more = (name: string) => name.replace('collar', 'collar_zx');
    const rig = makeRig(
      biped().flatMap((bone): PlainBone[] =>
        bone.name.startsWith('collar')
          ? [
              { ...bone, name: more(bone.name) },
              { ...bone, parent: more(bone.name) },
            ]
          : [bone],
      ),
    );
    expect(answers(rig, ['leftShoulder', 'rightShoulder'])).toEqual(['collar_l', 'collar_r']);
  });

  it('numbers that run through all bones count no segment, whatever else is numbered', () => {
    const finger = ['Base', 'Mid', 'Tip'].flatMap((part, at, parts) =>
      both(`index${part}`, at === 0 ? 'hand*' : `index${parts[at - 1]}*`, [0.78 + 0.03 * at, 1.42, 0.01]),
    );
    const rig = makeRig(biped(finger));
    const numbered = { ...rig, bones: rig.bones.map((bone) => ({ ...bone, name: `${bone.name}_${bone.index}` })) };
    expect(
      answers(numbered, ['leftIndexProximal', 'leftIndexDistal']).map((name) => name?.replace(/_\d+$/, '')),
    ).toEqual(['indexBase_l', 'indexTip_l']);
    expect(matchBones(numbered, QUAY).assignments).toMatchObject(
      Object.fromEntries(
        Object.values(matchBones(rig, QUAY).assignments).map(({ role, boneIndex }) => [role, { boneIndex }]),
      ),
    );
  });

  it('sides numbered against each other are still a pair', () => {
    const number = {
      upper_arm: ['arm_joint__4', 'arm_joint'],
      forearm: ['arm_joint__3', 'arm_joint__2'],
      hand: ['arm_joint__2', 'arm_joint__3'],
    } as const;
    const rig = makeRig(
      biped([], (name) => {
        const [, word, side] = /^(.*)_([lr])$/.exec(name) ?? [];
        const names = number[word as keyof typeof number];
        return names ? `${names[side === 'l' ? 0 : 1]}_${side}` : name;
      }),
    );
    expect(
      answers(rig, ['leftUpperArm', 'leftLowerArm', 'leftHand', 'rightUpperArm', 'rightLowerArm', 'rightHand']),
    ).toEqual([
      'arm_joint__4_l',
      'arm_joint__3_l',
      'arm_joint__2_l',
      'arm_joint_r',
      'arm_joint__2_r',
      'arm_joint__3_r',
    ]);
  });
});

describe('trees of control rigs', () => {
  /** Each bone of the biped leads without skin, and carries a copy at its place that moves the mesh. */
  const copies = (): PlainBone[] =>
    biped().flatMap((bone) => [
      { ...bone, name: `lead_${bone.name}`, parent: bone.parent && `lead_${bone.parent}` },
      { ...bone, name: `skin_${bone.name}`, parent: `lead_${bone.name}` },
    ]);

  it('the copy that carries the mesh plays the role, not the bone that leads it', () => {
    const rig = weightless(makeRig(copies(), true), /^lead/);
    expect(answers(rig, [...TRUNK, 'leftUpperArm', 'rightHand', 'leftLowerLeg', 'rightFoot'])).toEqual(
      [...TRUNK, 'upper_arm_l', 'hand_r', 'shin_l', 'foot_r'].map((name) => `skin_${name}`),
    );
  });

  it.each([true, false])(
    'transforms that an exporter put above every bone are none of them (with skin: %s)',
    (withSkin) => {
      const fingers = ['thumb', 'index', 'middle'].flatMap((name, at) =>
        [1, 2, 3].flatMap((segment) =>
          both(
            `${name}${segment}`,
            segment === 1 ? 'hand*' : `${name}${segment - 1}*`,
            at === 0 ? [0.7 + 0.02 * segment, 1.4, 0.02 * segment] : [0.72 + 0.03 * segment, 1.42, 0.01 - 0.02 * at],
          ),
        ),
      );
      const stacked = biped(fingers).flatMap((bone): PlainBone[] => [
        { ...bone, name: `${bone.name}_$w$_Shift`, parent: bone.parent },
        { ...bone, name: `${bone.name}_$w$_Turn`, parent: `${bone.name}_$w$_Shift` },
        { ...bone, parent: `${bone.name}_$w$_Turn` },
      ]);
      const rig = weightless(makeRig(stacked, withSkin), /\$/);
      expect(
        answers(rig, [
          ...TRUNK,
          'leftShoulder',
          'leftUpperArm',
          'rightHand',
          'leftIndexProximal',
          'leftIndexDistal',
          'rightMiddleIntermediate',
          'rightFoot',
          'leftToes',
        ]),
      ).toEqual([
        ...TRUNK,
        'collar_l',
        'upper_arm_l',
        'hand_r',
        'index1_l',
        'index3_l',
        'middle2_r',
        'foot_r',
        'toes_l',
      ]);
      expect(
        Object.values(matchBones(rig, QUAY).assignments)
          .map(({ boneIndex }) => rig.bones[boneIndex].name)
          .filter((name) => name.includes('$')),
      ).toEqual([]);
    },
  );

  it('parts that hang scattered on a root are put together along the body', () => {
    const loose = /^(thigh|collar|upper_arm|hand)/;
    const rig = makeRig(
      [
        { name: 'root', parent: null, position: [0, 0, 0] },
        ...biped().map((bone) => (bone.parent === null || loose.test(bone.name) ? { ...bone, parent: 'root' } : bone)),
      ],
      true,
    );
    expect(
      answers(weightless(rig, /root/), [
        ...TRUNK,
        'leftShoulder',
        'leftUpperArm',
        'leftHand',
        'rightUpperLeg',
        'rightFoot',
      ]),
    ).toEqual([...TRUNK, 'collar_l', 'upper_arm_l', 'hand_l', 'thigh_r', 'foot_r']);
  });
});

describe('places that mislead without names', () => {
  const unnamed = (rig: Rig): Rig => ({
    ...rig,
    bones: rig.bones.map((bone) => ({ ...bone, name: `q${(bone.index * 7) % 101}` })),
  });
  const places = (bones: readonly PlainBone[], roles: readonly string[]) => {
    const { assignments } = matchBones(unnamed(makeRig(bones, true)), QUAY);
    return roles.map((role) => {
      const match = assignments[role];
      return match ? bones[match.boneIndex].name : null;
    });
  };

  it('the head at the end of a neck of two bones is not an end bone', () => {
    const bones = biped([{ name: 'skull', parent: 'head', position: [0, 1.6, 0.005] }], renamed({ head: 'nape' }));
    expect(places(bones, ['neck', 'head'])).toEqual(['neck', 'skull']);
  });

  it('arms that hang unlike do not tilt the plane between the sides, however many fingers they carry', () => {
    const fingers = ['a', 'b', 'c', 'd'].flatMap((name, at) =>
      [1, 2, 3].flatMap((segment) =>
        both(`${name}${segment}`, segment === 1 ? 'hand*' : `${name}${segment - 1}*`, [
          0.72 + 0.03 * segment,
          1.42,
          0.03 - 0.02 * at,
        ]),
      ),
    );
    const lowered = biped(fingers).map((bone): PlainBone => {
      const [x, y, z] = bone.position;
      if (x < -0.18 && y > 1.3) {
        const away = -x - 0.17;
        return { ...bone, position: [-0.17 - away * 0.5, 1.42 - away * 0.866, z] };
      }
      return bone;
    });
    const { frame } = matchBones(makeRig(lowered, true), QUAY);
    expect(Math.abs(frame.left[0])).toBeGreaterThan(0.999);
  });

  it.each([true, false])(
    'a face with more bones than the rest of the figure leaves the tree as it is (with names: %s)',
    (isNamed) => {
      const face = Array.from({ length: 40 }, (_, at) =>
        both(`lid${at}`, 'head', [0.01 + 0.006 * (at % 5), 1.58 + 0.01 * Math.floor(at / 5), 0.08]),
      ).flat();
      const bones = biped(face);
      const rig = makeRig(bones, true);
      const { assignments } = matchBones(isNamed ? rig : unnamed(rig), QUAY);
      expect(
        [...TRUNK, 'leftShoulder', 'leftUpperArm', 'leftHand', 'rightUpperLeg', 'rightFoot'].map(
          (role) => assignments[role] && bones[assignments[role].boneIndex].name,
        ),
      ).toEqual([...TRUNK, 'collar_l', 'upper_arm_l', 'hand_l', 'thigh_r', 'foot_r']);
    },
  );

  it('a single digit that goes straight on may be the end of the hand, and is in doubt', () => {
    const rig = unnamed(makeRig(biped(both('palm', 'hand*', [0.75, 1.42, -0.01]))));
    expect(
      Object.values(matchBones(rig, QUAY).assignments).filter(
        ({ role, state: told }) => /Thumb|Index|Middle|Ring|Little/.test(role) && told === 'proposed',
      ),
    ).toEqual([]);
  });

  it('a pelvis above the bone that the legs hang on is not surely a root', () => {
    const bones = biped([], renamed({ hips: 'spine', spine: 'ribs' })).map((bone) =>
      bone.name === 'spine' ? { ...bone, parent: 'pelvis', position: [0, 1.02, 0] as [number, number, number] } : bone,
    );
    const rig = unnamed(makeRig([{ name: 'pelvis', parent: null, position: [0, 0.95, 0] }, ...bones], true));
    expect(state(rig, 'hips')).toBe('doubtful');
  });

  it('the joint nearer to the ball of the foot is the toes, not the bone half-way to it', () => {
    const bones = biped(both('ball', 'toes*', [0.1, 0.02, 0.12])).map((bone) =>
      bone.name.startsWith('toes')
        ? { ...bone, position: [bone.position[0], 0.05, 0.03] as [number, number, number] }
        : bone,
    );
    expect(places(bones, ['leftToes', 'rightToes'])).toEqual(['ball_l', 'ball_r']);
  });

  it('a name that another bone has without a further word says so among the evidence', () => {
    // The copy carries the mesh, so it is the one that is taken.
    const rig = weightless(
      makeRig(
        biped([...both('hand_zq', 'hand*', [0.68, 1.42, -0.01]), ...both('index', 'hand_zq*', [0.76, 1.42, 0.02])]),
        true,
      ),
      /^hand_[lr]$/,
    );
    const said = matchBones(rig, QUAY).assignments.leftHand;
    expect(rig.bones[said.boneIndex].name).toBe('hand_zq_l');
    expect(said.evidence).toContain('another bone has this name without the further word');
  });
});
