import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { makeBiped, type MadeRig, type Topology } from '../../bench/match/make-rig';
import { TUNING_HABITS } from '../../bench/match/naming';
import { Random } from '../../bench/match/random';
import { TUNING_TOPOLOGIES } from '../../bench/match/topologies';

const NAMELESS = TUNING_HABITS.find(({ id }) => id === 'nameless')!;
const ROLES = new Set(QUAY.roles.map(({ id }) => id));
const SEEDS = Array.from({ length: 12 }, (_, index) => 400 + index);

const rigs = (change: Partial<Topology>): MadeRig[] =>
  SEEDS.map((seed) =>
    makeBiped(new Random(seed), { ...TUNING_TOPOLOGIES[0], skin: 1, face: 0, hair: 0, props: 0, ...change }, NAMELESS),
  );

/** Roles that a match has wrong, with what stands there instead; those that a pattern names. */
function mistakes({ rig, truth }: MadeRig, which: RegExp, least = 0): string[] {
  const { assignments } = matchBones(rig, QUAY);
  const wanted = truth.flatMap((role, bone) => (ROLES.has(role) && which.test(role) ? [[role, bone] as const] : []));
  const wrong = wanted
    .filter(([role, bone]) => assignments[role]?.boneIndex !== bone && (assignments[role]?.confidence ?? 1) >= least)
    .map(([role]) => `${role} is ${assignments[role] ? truth[assignments[role].boneIndex] : 'vacant'}`);
  const extra = Object.values(assignments)
    .filter(({ role, confidence }) => which.test(role) && confidence >= least && !truth.includes(role))
    .map(({ role, boneIndex }) => `extra ${role} is ${truth[boneIndex]}`);
  return [...wrong, ...extra];
}

describe('oddities without any name', () => {
  it('bones of the palm are no fingers, whether three phalanges follow or two', () => {
    for (const segments of [2, 3] as const) {
      for (const made of rigs({ metacarpals: 1, digits: [5, 5], digitSegments: [segments, segments], fingerTips: 0 }))
        expect(mistakes(made, /Thumb|Index|Middle|Ring|Little/)).toEqual([]);
    }
  });

  it('hands without bones in the palm keep their first phalanges', () => {
    for (const made of rigs({ metacarpals: 0, digits: [4, 5], digitSegments: [2, 3], fingerTips: 0 }))
      expect(mistakes(made, /Index|Middle|Ring|Little/)).toEqual([]);
  });

  it('a neck that carries the clavicles is not sure to be a chest', () => {
    for (const made of rigs({ claviclesOnNeck: 1, neck: [1, 2], spine: [2, 3], root: 1 }))
      expect(mistakes(made, /^(hips|spine|chest|upperChest|neck|head)$/, 0.75)).toEqual([]);
  });

  it('a neck of three bones ends below the head, which carries the most', () => {
    for (const made of rigs({ neck: [3, 3], spine: [3, 3], headTip: 0 }))
      expect(mistakes(made, /^(neck|head)$/)).toEqual([]);
    for (const made of rigs({ neck: [3, 3], spine: [3, 3], headTip: 1 }))
      expect(mistakes(made, /^(neck|head)$/)).toEqual([]);
  });

  it('an end bone on top of the head does not make a neck of the head, with skin or without', () => {
    for (const skin of [0, 1])
      for (const made of rigs({ neck: [0, 0], headTip: 1, skin }))
        expect(mistakes(made, /^(neck|head)$/, 0.75)).toEqual([]);
  });

  it('a twist bone inside one thigh only leaves the legs a pair, in any pose', () => {
    const made = rigs({ twists: 'chain' });
    const uneven = made.filter(
      ({ truth, rig }) =>
        truth.filter((kind, bone) => kind === 'spare:twist' && /UpperLeg$/.test(truth[rig.bones[bone].parent] ?? ''))
          .length === 1,
    );
    expect(uneven.length).toBeGreaterThan(2);
    for (const one of made) expect(mistakes(one, /Leg|Foot|Arm|Hand/)).toEqual([]);
  });

  it('a last segment that may be an end bone is in doubt where neither name nor skin tells', () => {
    for (const { rig, truth } of rigs({
      skin: 0,
      digits: [2, 2],
      digitSegments: [1, 1],
      fingerTips: 1,
      metacarpals: 0,
    })) {
      const { assignments } = matchBones(rig, QUAY);
      for (const { role, boneIndex, state } of Object.values(assignments))
        if (truth[boneIndex] === 'spare:tip') expect(`${role} ${state}`).toBe(`${role} doubtful`);
    }
  });
});
