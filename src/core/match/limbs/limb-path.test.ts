import { describe, expect, it } from 'vitest';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { shippedDialect } from '../../dialect/dialect';
import { createContext, type EvidenceSwitches } from '../context/context';
import { limbPaths, type LimbPath } from './limb-path';

/** A leg and an arm on each side; `extra` adds bones, written for the left side and mirrored. */
function figure(extra: readonly PlainBone[] = [], kneeForward = 0): PlainBone[] {
  const left: PlainBone[] = [
    { name: 'thigh_l', parent: 'hips', position: [0.1, 0.9, 0] },
    { name: 'shin_l', parent: 'thigh_l', position: [0.1, 0.5, kneeForward] },
    { name: 'foot_l', parent: 'shin_l', position: [0.1, 0.1, 0] },
    { name: 'toe_l', parent: 'foot_l', position: [0.1, 0.05, 0.15] },
    { name: 'arm_l', parent: 'chest', position: [0.2, 1.4, 0] },
    { name: 'forearm_l', parent: 'arm_l', position: [0.5, 1.4, 0] },
    { name: 'hand_l', parent: 'forearm_l', position: [0.75, 1.4, 0] },
    ...extra,
  ];
  const right = left.map((bone): PlainBone => ({
    name: bone.name.replace(/_l$/, '_r'),
    parent: bone.parent?.replace(/_l$/, '_r') ?? null,
    position: [-bone.position[0], bone.position[1], bone.position[2]],
  }));
  return [
    { name: 'hips', parent: null, position: [0, 0.95, 0] },
    { name: 'chest', parent: 'hips', position: [0, 1.35, 0] },
    ...left,
    ...right,
  ];
}

/** The path down to a bone, with a way to ask it by the names of bones. */
function pathTo(bones: readonly PlainBone[], last: string, use: Partial<EvidenceSwitches> = {}) {
  const rig = makeRig(bones);
  const named = (bone: number) => rig.bones[bone].name;
  const path = limbPaths(createContext(rig, shippedDialect(), { use })).find(
    ({ pairs }) => named(pairs[pairs.length - 1][0]) === last,
  ) as LimbPath;
  const names = path.pairs.map(([a]) => named(a));
  const at = (from: string, to: string) => names.indexOf(from) * names.length + names.indexOf(to);
  return {
    path,
    names,
    between: (from: string, to: string) => path.between[at(from, to)],
    distance: (from: string, to: string) => path.distances.map((table) => table[at(from, to)]),
    turn: (from: string) => path.turns.map((turns) => turns[names.indexOf(from)]),
  };
}

describe('a way down both sides', () => {
  it('starts below the shared ancestor and measures both sides', () => {
    const { path, names, distance } = pathTo(figure(), 'hand_l');
    expect(names).toEqual(['arm_l', 'forearm_l', 'hand_l']);
    expect(path.pairs.every(([a, b]) => a !== b)).toBe(true);
    for (const [from, to, metres] of [
      ['arm_l', 'forearm_l', 0.3],
      ['forearm_l', 'hand_l', 0.25],
      ['arm_l', 'hand_l', 0.55],
    ] as const)
      distance(from, to).forEach((value) => expect(value).toBeCloseTo(metres, 9));
  });

  it('finds a bone on its segment cheap and one off it dear, unless place does not count', () => {
    const straight = pathTo(figure(), 'foot_l');
    const bent = pathTo(figure([], 0.1), 'foot_l');
    expect(straight.between('thigh_l', 'foot_l')).toBeCloseTo(2 * 0.35, 9);
    expect(bent.between('thigh_l', 'foot_l')).toBeCloseTo(2 * 1.2, 9);
    expect(bent.between('thigh_l', 'shin_l')).toBe(0);
    expect(pathTo(figure([], 0.1), 'foot_l', { place: false }).between('thigh_l', 'foot_l')).toBeCloseTo(2 * 0.35, 9);
    // Six hundredths of the segment's 0.8 m are 48 mm.
    expect(pathTo(figure([], 0.047), 'foot_l').between('thigh_l', 'foot_l')).toBeCloseTo(2 * 0.35, 9);
    expect(pathTo(figure([], 0.049), 'foot_l').between('thigh_l', 'foot_l')).toBeCloseTo(2 * 1.2, 9);
  });

  it('adds up the bones that lie between', () => {
    const { between } = pathTo(figure(), 'toe_l');
    expect(between('thigh_l', 'toe_l')).toBeGreaterThan(between('thigh_l', 'foot_l'));
    expect(between('shin_l', 'toe_l')).toBeCloseTo(2 * 1.2, 9);
  });

  it('tells a foot that turns from a hand that goes on, and says nothing of an end', () => {
    const fingers = ['a', 'b', 'c'].flatMap((finger, at): PlainBone[] => [
      { name: `digit_${finger}_l`, parent: 'hand_l', position: [0.83, 1.4, (at - 1) * 0.03] },
      { name: `digit_${finger}2_l`, parent: `digit_${finger}_l`, position: [0.88, 1.4, (at - 1) * 0.03] },
    ]);
    expect(pathTo(figure(), 'foot_l').turn('shin_l')).toEqual(['bent', 'bent']);
    const hand = pathTo(figure(fingers), 'hand_l');
    expect(hand.turn('forearm_l')).toEqual(['straight', 'straight']);
    expect(hand.path.fan).toBe(3);
    expect(pathTo(figure(), 'hand_l').turn('forearm_l')).toEqual(['unknown', 'unknown']);
    expect(pathTo(figure(), 'hand_l').path.fan).toBe(0);
    // What fans out is the hand: passing over it costs more than passing over a twist.
    expect(pathTo(figure(fingers), 'digit_b_l').between('forearm_l', 'digit_b_l')).toBeCloseTo(2.5 + 2 * 0.35, 9);
  });

  it.each([
    [37, 'straight'],
    [39, 'bent'],
  ] as const)('takes a turn of %d degrees for %s', (degrees, turn) => {
    const angle = (degrees * Math.PI) / 180;
    const onward: PlainBone = {
      name: 'digit_l',
      parent: 'hand_l',
      position: [0.75 + 0.1 * Math.cos(angle), 1.4, 0.1 * Math.sin(angle)],
    };
    expect(pathTo(figure([onward]), 'hand_l').turn('forearm_l')).toEqual([turn, turn]);
  });

  it('is not followed past ten pairs', () => {
    const strand = Array.from({ length: 9 }, (_, at): PlainBone => ({
      name: `strand${at}_l`,
      parent: at === 0 ? 'hand_l' : `strand${at - 1}_l`,
      position: [0.8 + at * 0.05, 1.4, 0],
    }));
    const rig = makeRig(figure(strand));
    const lengths = limbPaths(createContext(rig, shippedDialect())).map(({ pairs }) => pairs.length);
    expect(Math.max(...lengths)).toBe(10);
  });
});
