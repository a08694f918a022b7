import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { shippedDialect } from '../../dialect/dialect';
import { readNames } from '../../dialect/read-names';
import { computeRigShape } from '../../rig/rig-shape';
import { parentsAlongBody } from './body-tree';

const BODY: readonly PlainBone[] = [
  { name: 'hips', parent: null, position: [0, 1, 0] },
  { name: 'spine', parent: 'hips', position: [0, 1.15, 0] },
  { name: 'chest', parent: 'spine', position: [0, 1.3, 0] },
  { name: 'neck', parent: 'chest', position: [0, 1.5, 0] },
  { name: 'head', parent: 'neck', position: [0, 1.6, 0] },
  ...(
    [
      ['l', 1],
      ['r', -1],
    ] as const
  ).flatMap(([side, k]): PlainBone[] => [
    { name: `thigh_${side}`, parent: 'hips', position: [0.1 * k, 0.95, 0] },
    { name: `shin_${side}`, parent: `thigh_${side}`, position: [0.1 * k, 0.5, 0] },
    { name: `foot_${side}`, parent: `shin_${side}`, position: [0.1 * k, 0.08, 0] },
    { name: `upper_arm_${side}`, parent: 'chest', position: [0.2 * k, 1.42, 0] },
    { name: `forearm_${side}`, parent: `upper_arm_${side}`, position: [0.45 * k, 1.42, 0] },
    { name: `hand_${side}`, parent: `forearm_${side}`, position: [0.7 * k, 1.42, 0] },
  ]),
];

/** Name of each bone's parent along the body, by the bone's name; null where the rig's own tree will do. */
function grown(
  bones: readonly PlainBone[],
  { isNamed = true, skinless = [] as readonly string[] } = {},
): Record<string, string | null> | null {
  const rig = makeRig(bones);
  const shape = { ...computeRigShape(rig), hasSkin: skinless.length > 0 };
  const names = readNames(
    rig.bones.map(({ name }) => (isNamed ? name : '')),
    shippedDialect(),
    shape.parents,
  );
  const parents = parentsAlongBody(shape, names, (bone) => !skinless.includes(rig.bones[bone].name));
  return (
    parents &&
    Object.fromEntries(
      rig.bones.map(({ name }, bone) => [name, parents[bone] < 0 ? null : rig.bones[parents[bone]].name]),
    )
  );
}

const own = (bones: readonly PlainBone[]) => Object.fromEntries(bones.map(({ name, parent }) => [name, parent]));
const hangOn = (bones: readonly PlainBone[], parent: string | null, which: (name: string) => boolean): PlainBone[] =>
  bones.map((bone) => (which(bone.name) ? { ...bone, parent } : bone));

describe('the tree along the body', () => {
  it("is the rig's own where that follows the body, and where there are too few bones to tell", () => {
    expect(grown(BODY)).toBeNull();
    expect(grown(hangOn(BODY.slice(0, 5), null, () => true))).toBeNull();
  });

  it.each([true, false])(
    'grows outward from the hips where every bone hangs on the root (with names: %s)',
    (isNamed) => {
      const flat: PlainBone[] = [
        { name: 'root', parent: null, position: [0, 0, 0] },
        ...hangOn(BODY, 'root', () => true),
      ];
      const tree = grown(flat, { isNamed });
      // Without names a knee is as near to the hips as to the thigh that starts beside them.
      const told = isNamed
        ? [
            ['shin_l', 'thigh_l'],
            ['forearm_l', 'upper_arm_l'],
            ['thigh_r', 'hips'],
          ]
        : [];
      for (const [child, parent] of [...told, ['head', 'neck'], ['foot_r', 'shin_r'], ['hand_r', 'forearm_r']])
        expect([child, tree?.[child]]).toEqual([child, parent]);
    },
  );

  it('keeps a hand that hangs beside a thigh off the leg, by their names', () => {
    const down = BODY.map((bone) =>
      /forearm|hand/.test(bone.name)
        ? {
            ...bone,
            position: [Math.sign(bone.position[0]) * 0.2, bone.name.startsWith('hand') ? 0.94 : 1.18, 0] as const,
          }
        : bone,
    );
    const tree = grown(hangOn(down, null, () => true));
    expect(tree?.hand_l).toBe('forearm_l');
    expect(tree?.forearm_r).toBe('upper_arm_r');
  });

  it('takes no rig for flat because of targets on its root that move nothing', () => {
    const targets = Array.from({ length: 20 }, (_, at): PlainBone => ({
      name: `goal${at}`,
      parent: 'hips',
      position: [at * 0.1, 0, 1],
    }));
    expect(grown([...BODY, ...targets], { skinless: targets.map(({ name }) => name) })).toBeNull();
    expect(grown([...BODY, ...targets])).not.toBeNull();
  });

  it('joins limbs without a parent to the nearest fitting bone of the trunk', () => {
    const tree = grown(hangOn(BODY, null, (name) => /^(thigh|upper_arm)/.test(name)));
    expect(tree).toMatchObject({ thigh_l: 'hips', thigh_r: 'hips' });
    expect(['chest', 'neck', 'spine']).toContain(tree?.upper_arm_l);
    expect(tree).toMatchObject({ hand_l: 'forearm_l', head: 'neck', hips: null });
  });

  it('gives the digits of a target at the hand to the hand that carries the mesh', () => {
    const fingers = ['thumb_l', 'index_l', 'ring_l'].map((name, at): PlainBone => ({
      name,
      parent: 'goal_hand_l',
      position: [0.76, 1.42, (at - 1) * 0.02],
    }));
    const bones: PlainBone[] = [...BODY, { name: 'goal_hand_l', parent: 'hips', position: [0.7, 1.42, 0] }, ...fingers];
    expect(grown(bones, { skinless: ['goal_hand_l'] })).toEqual({
      ...own(bones),
      thumb_l: 'hand_l',
      index_l: 'hand_l',
      ring_l: 'hand_l',
    });
    // Without a mesh the arm that leads to it tells the hand from the target.
    expect(grown(bones)).toMatchObject({ thumb_l: 'hand_l', ring_l: 'hand_l' });
    // A target away from the hand keeps what lies away from it too; digits by the hand go to it by their names.
    const away = bones.map((bone) =>
      bone.name === 'goal_hand_l' ? { ...bone, position: [0.7, 1.2, 0] as const } : bone,
    );
    expect(grown(away, { skinless: ['goal_hand_l'] })).toMatchObject({ thumb_l: 'hand_l', ring_l: 'hand_l' });
    const farther = away.map((bone) =>
      fingers.some(({ name }) => name === bone.name) ? { ...bone, position: [0.76, 1.2, 0] as const } : bone,
    );
    expect(grown(farther, { skinless: ['goal_hand_l'] })).toBeNull();
  });

  it('is a tree of all bones whatever the rig: every climb ends at a top', () => {
    const words = ['arm_l', 'arm_zq_l', 'hand_r', 'spine', 'root', 'w1', 'head', 'leg_r', 'leg_zq_wv_r', 'hips'];
    const bone = fc.record({
      parent: fc.nat(),
      word: fc.constantFrom(...words),
      x: fc.integer({ min: -1, max: 1 }),
      y: fc.integer({ min: 0, max: 2 }),
      carries: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(bone, { minLength: 6, maxLength: 40 }), fc.boolean(), (bones, hasSkin) => {
        // Few places and few names, so that bones lie on one another and repeat one another all the time.
        const rig = makeRig(
          bones.map(({ parent, word, x, y }, at): PlainBone => ({
            name: `${word}.${at}`,
            parent: at === 0 || parent % 9 === 0 ? null : `${bones[parent % at].word}.${parent % at}`,
            position: [x, y, 0],
          })),
        );
        const shape = { ...computeRigShape(rig), hasSkin };
        const names = readNames(
          bones.map(({ word }) => word),
          shippedDialect(),
          shape.parents,
        );
        const parents = parentsAlongBody(shape, names, (at) => bones[at].carries) ?? shape.parents;
        for (let at = 0; at < bones.length; at++) {
          let steps = 0;
          for (let above = at; above >= 0; above = parents[above])
            if (++steps > bones.length) throw new Error(`bone ${at} hangs on itself`);
        }
      }),
      { numRuns: 400, seed: 20 },
    );
  });
});
