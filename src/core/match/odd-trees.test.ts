import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import type { Rig } from '../rig/rig';
import { makeBiped, type MadeRig } from '../../../bench/match/make-rig';
import { HELD_HABITS, TUNING_HABITS } from '../../../bench/match/naming';
import { Random } from '../../../bench/match/random';
import { TUNING_TOPOLOGIES } from '../../../bench/match/topologies';
import { matchBones } from './match-bones';

const habit = (id: string) =>
  [...TUNING_HABITS, ...HELD_HABITS].find((candidate) => candidate.id === id) ?? TUNING_HABITS[0];
const made = (seed: number, naming = 'plain', topology = 0): MadeRig =>
  makeBiped(new Random(seed), TUNING_TOPOLOGIES[topology], habit(naming));

/** Roles whose bone differs from the truth, as text. */
function mistakes({ truth }: MadeRig, rig: Rig): string[] {
  const wanted = new Map(
    truth.flatMap((role, bone) => (QUAY.roles.some(({ id }) => id === role) ? [[role, bone] as const] : [])),
  );
  const { assignments } = matchBones(rig, QUAY);
  return [...wanted].filter(([role, bone]) => assignments[role]?.boneIndex !== bone).map(([role]) => role);
}

/** The same bones under other parents, world places unchanged. */
function reparented(rig: Rig, parentOf: (bone: number) => number): Rig {
  const order = orderOf(rig, parentOf);
  const at = new Map(order.map((bone, index) => [bone, index]));
  const bones = order.map((bone, index) => ({
    ...rig.bones[bone],
    index,
    parent: parentOf(bone) < 0 ? -1 : (at.get(parentOf(bone)) as number),
  }));
  return { ...rig, bones };
}

function orderOf(rig: Rig, parentOf: (bone: number) => number): number[] {
  const order: number[] = [];
  const visit = (parent: number) =>
    rig.bones.forEach((bone) => {
      if (parentOf(bone.index) === parent) {
        order.push(bone.index);
        visit(bone.index);
      }
    });
  visit(-1);
  return order;
}

const shuffledTruth = (subject: MadeRig, rig: Rig): MadeRig => ({
  ...subject,
  rig,
  truth: rig.bones.map((bone) => subject.truth[bone.nodeIndex]),
});

describe('trees that do not follow the body', () => {
  it.each([1, 2, 3, 4, 5, 6])('a flat rig, every bone on the root, is told by names and places (seed %i)', (seed) => {
    const subject = made(seed);
    const root = subject.truth.indexOf('root');
    const rig = reparented(subject.rig, (bone) => (bone === root ? -1 : root));
    const flat = shuffledTruth(subject, rig);
    expect(mistakes(flat, rig)).toEqual([]);
  });

  it.each([11, 12, 13])('limbs without a parent are found by where they stand (seed %i)', (seed) => {
    const subject = made(seed);
    const rig = reparented(subject.rig, (bone) =>
      /UpperLeg$|Shoulder$/.test(subject.truth[bone]) ? -1 : subject.rig.bones[bone].parent,
    );
    const loose = shuffledTruth(subject, rig);
    expect(mistakes(loose, rig)).toEqual([]);
  });

  it.each([21, 22, 23])('thighs under the lowest spine bone keep their roles (seed %i)', (seed) => {
    const subject = made(seed);
    const spine = subject.truth.indexOf('spine');
    const rig = reparented(subject.rig, (bone) =>
      /UpperLeg$/.test(subject.truth[bone]) ? spine : subject.rig.bones[bone].parent,
    );
    const odd = shuffledTruth(subject, rig);
    expect(mistakes(odd, rig)).toEqual([]);
  });

  it.each([31, 32, 33, 34])('the order of bones in the file changes nothing (seed %i)', (seed) => {
    const subject = made(seed, 'opaque', 2);
    const reversed = { ...subject.rig, bones: [...subject.rig.bones].reverse() };
    const at = new Map(reversed.bones.map((bone, index) => [bone.index, index]));
    const rig = reparented(
      {
        ...reversed,
        bones: reversed.bones.map((bone, index) => ({
          ...bone,
          index,
          parent: bone.parent < 0 ? -1 : (at.get(bone.parent) as number),
        })),
      },
      (bone) => (reversed.bones[bone].parent < 0 ? -1 : (at.get(reversed.bones[bone].parent) as number)),
    );
    const byNode = (subjectRig: Rig) =>
      Object.fromEntries(
        Object.values(matchBones(subjectRig, QUAY).assignments).map((match) => [
          match.role,
          subjectRig.bones[match.boneIndex].nodeIndex,
        ]),
      );
    expect(byNode(rig)).toEqual(byNode(subject.rig));
  });

  it('names that say left on the right side are followed by geometry, said, and doubted', () => {
    const subject = made(41);
    const swap = (name: string) => name.replace(/_(l|r)$/, (_, side: string) => (side === 'l' ? '_r' : '_l'));
    const rig = { ...subject.rig, bones: subject.rig.bones.map((bone) => ({ ...bone, name: swap(bone.name) })) };
    const match = matchBones(rig, QUAY);
    expect(match.frame.namesAreSwapped).toBe(true);
    expect(match.assignments.leftHand.boneIndex).toBe(subject.truth.indexOf('leftHand'));
  });

  it('a symmetric figure without names, toes or mesh is doubtful about its sides', () => {
    const subject = makeBiped(
      new Random(51),
      { ...TUNING_TOPOLOGIES[0], toes: 0, skin: 0, face: 0, digits: [0, 0] },
      habit('nameless'),
    );
    const rig = { ...subject.rig, bones: subject.rig.bones.map((bone) => ({ ...bone, skinWeight: 0 })) };
    const match = matchBones(rig, QUAY);
    if (match.frame.confidence < 0.9) expect(match.assignments.leftUpperLeg.state).toBe('doubtful');
    expect(match.assignments.leftUpperLeg.confidence).toBeLessThanOrEqual(match.frame.confidence);
  });
});
