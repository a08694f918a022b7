import { describe, expect, it } from 'vitest';
import { plainBiped, type BipedFront, type SideNames } from '../../../../tests/helpers/plain-biped';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { QUAY } from '../../definition/quay';
import { fromAxisAngle, rotate, type Quat } from '../../math/quat';
import type { Vec3 } from '../../math/vec3';
import { matchBones, type MatchOptions } from '../match-bones';

const matchOf = (bones: readonly PlainBone[], options?: MatchOptions) => matchBones(makeRig(bones), QUAY, options);
const biped = (front: BipedFront, sides: SideNames = null) => matchOf(plainBiped(front, sides));
const turned = (bones: readonly PlainBone[], turn: Quat): PlainBone[] =>
  bones.map((bone) => ({ ...bone, position: rotate(turn, bone.position) }));
const isNear = (a: Vec3, b: Vec3) => a.forEach((value, axis) => expect(value).toBeCloseTo(b[axis], 2));
/** x of the bone that was taken for the left thigh: positive where it truly is the left one. */
const leftThighX = (bones: readonly PlainBone[], options?: MatchOptions) =>
  bones[matchOf(bones, options).assignments.leftUpperLeg.boneIndex].position[0];

describe('telling the front', () => {
  it.each([
    ['toes ahead of the ankles', { toes: 0.12 }, /toes point forward/],
    ['folded knees', { knees: 0.04 }, /knees bend forward/],
    ['folded elbows', { elbows: 0.04 }, /elbows bend backward/],
    ['thumbs', { thumbs: 0.03 }, /thumbs point forward/],
    ['eyes and jaw', { face: 0.09 }, /eyes and jaw/],
  ] as const)('by %s, whichever way the figure stands in the file', (_, front, reason) => {
    for (const degrees of [0, 90, 180, 250]) {
      const turn = fromAxisAngle([0, 1, 0], (degrees * Math.PI) / 180);
      const { frame, creature } = matchOf(turned(plainBiped(front), turn));
      expect(creature.isHumanoid).toBe(true);
      isNear(frame.facing, rotate(turn, [0, 0, 1]));
      isNear(frame.left, rotate(turn, [1, 0, 0]));
      expect(frame.reasons.join('; ')).toMatch(reason);
    }
  });

  it('by arms that reach ahead, and not by arms that swing', () => {
    const reaching = (left: number, right: number) =>
      plainBiped().map((bone) => {
        const [x, y] = bone.position;
        const out = Math.max(0, Math.abs(x) - 0.18);
        const ahead = y > 1.4 && y < 1.47 ? out * (x > 0 ? left : right) : 0;
        return { ...bone, position: [x, y, bone.position[2] + ahead] as const };
      });
    const { frame } = matchOf(reaching(1, 1));
    expect(frame.reasons).toContain('the arms reach forward');
    isNear(frame.facing, [0, 0, 1]);
    expect(matchOf(reaching(-1, -1)).frame.facing[2]).toBeLessThan(-0.9);
    expect(matchOf(reaching(1, -1)).frame.reasons).not.toContain('the arms reach forward');
  });

  it('is in doubt where limbs are hardly bent', () => {
    const { frame } = biped({ knees: 0.01, elbows: 0.004 });
    expect(frame.confidence).toBeLessThan(0.75);
  });

  it('is surer by toes than by elbows, and surer still by both', () => {
    const [elbows, toes, both] = [
      biped({ elbows: 0.04 }),
      biped({ toes: 0.12 }),
      biped({ toes: 0.12, elbows: 0.04 }),
    ].map(({ frame }) => frame.confidence);
    expect(toes).toBeGreaterThan(elbows);
    expect(both).toBeGreaterThan(toes);
  });

  it('is in doubt on a figure that shows nothing: no limb is proposed, but the trunk is', () => {
    const { frame, assignments } = biped({});
    expect(frame.confidence).toBeLessThan(0.75);
    for (const { role, state } of Object.values(assignments))
      if (/^(left|right)/.test(role)) expect(`${role} ${state}`).toBe(`${role} doubtful`);
    for (const role of ['hips', 'spine', 'head']) expect(assignments[role].state).toBe('proposed');
  });

  it('follows what a person said against all that the figure shows', () => {
    const bones = plainBiped({ toes: 0.12 });
    expect(leftThighX(bones)).toBeGreaterThan(0);
    expect(leftThighX(bones, { facing: [0, 0, -1] })).toBeLessThan(0);
    expect(leftThighX(bones, { facing: [0, 0, 1] })).toBeGreaterThan(0);
  });
});

describe('names of the sides', () => {
  it('tell the sides of a figure that shows nothing else', () => {
    for (const marks of [
      ['left', 'right'],
      ['L', 'R'],
      ['links', 'rechts'],
    ] as const) {
      const right = matchOf(plainBiped({}, marks));
      expect(right.frame.confidence).toBeGreaterThan(0.9);
      expect(leftThighX(plainBiped({}, marks))).toBeGreaterThan(0);
      expect(leftThighX(plainBiped({}, [marks[1], marks[0]]))).toBeLessThan(0);
      expect(right.frame.reasons).toContain('the names say left and right');
    }
  });

  it('that agree are not overruled by weak geometry', () => {
    const { frame } = biped({ elbows: 0.02 }, ['right', 'left']);
    expect(frame.namesAreSwapped).toBe(false);
    expect(leftThighX(plainBiped({ elbows: 0.02 }, ['right', 'left']))).toBeLessThan(0);
  });

  it('against strong geometry are said to be swapped, and the body is followed', () => {
    const front = { toes: 0.12, knees: 0.04, face: 0.09 };
    expect(biped(front, ['left', 'right']).frame.namesAreSwapped).toBe(false);
    const swapped = biped(front, ['right', 'left']);
    expect(swapped.frame.namesAreSwapped).toBe(true);
    expect(leftThighX(plainBiped(front, ['right', 'left']))).toBeGreaterThan(0);
    expect(swapped.frame.confidence).toBeLessThan(biped(front, ['left', 'right']).frame.confidence);
  });
});

it('a figure lying in the file keeps its own axes', () => {
  const turn = fromAxisAngle([1, 0, 0], -Math.PI / 2);
  const { frame } = matchOf(turned(plainBiped({ toes: 0.12 }), turn));
  isNear(frame.up, [0, 0, -1]);
  isNear(frame.facing, [0, 1, 0]);
  isNear(frame.left, [1, 0, 0]);
});
