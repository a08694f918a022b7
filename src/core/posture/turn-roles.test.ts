import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import { readGlb } from '@/pipeline/read-files';
import { eelSeller } from '../../../demo/cast/eel-seller';
import { writeFigure } from '../../../demo/figure/write-figure';
import { QUAY } from '../definition/quay';
import { initialFit, roleBonesOf } from '../fit/fit';
import { angleBetween, type Vec3 } from '../math/vec3';
import { computeWorlds, REST_POSE, type RigPose } from '../rig/pose';
import { alignPosture } from './align-posture';
import type { AlignInput } from './align-order';
import { mirrorPosture } from './mirror-posture';
import { computeRoleFrames } from './role-frames';
import { TURN_AXES, turnRoles, type TurnAxis } from './turn-roles';

let input: AlignInput;
let aligned: RigPose;
beforeAll(async () => {
  const { rig } = await readGlb(await writeFigure(eelSeller()), 'eel-seller');
  const first = runFirstPass(rig, QUAY);
  input = { rig, ...first, definition: QUAY, roleBones: roleBonesOf(initialFit(first.match, QUAY)) };
  aligned = alignPosture(input, REST_POSE);
});

const DEGREE = Math.PI / 180;
const turned = (roles: string[], about: TurnAxis, degrees: number, start = aligned): RigPose =>
  turnRoles(input, start, { roles: new Set(roles), about, radians: degrees * DEGREE });
const directionOf = (pose: RigPose, role: string): Vec3 => {
  const frame = computeRoleFrames({ ...input, worlds: computeWorlds(input.rig, pose) }).get(role);
  if (!frame) throw new Error(`no frame of ${role}`);
  return frame.direction;
};
const near = (a: Vec3, b: readonly number[]) => a.forEach((value, axis) => expect(value).toBeCloseTo(b[axis], 4));
const [c30, s30] = [Math.cos(30 * DEGREE), Math.sin(30 * DEGREE)];

describe('turning by hand', () => {
  it('raises both arms at once, each on its own side, and children follow', () => {
    const pose = turned(['leftUpperArm', 'rightUpperArm'], 'front', 30);
    for (const part of ['UpperArm', 'LowerArm', 'Hand']) {
      near(directionOf(pose, `left${part}`), [c30, s30, 0]);
      near(directionOf(pose, `right${part}`), [-c30, s30, 0]);
    }
    const toHand = (of: RigPose) => angleBetween(directionOf(of, 'leftHand'), directionOf(of, 'leftIndexProximal'));
    expect(toHand(pose)).toBeCloseTo(toHand(aligned), 6);
  });

  it('takes arms ahead about the up axis, bends elbows about their hinge', () => {
    near(directionOf(turned(['leftUpperArm', 'rightUpperArm'], 'up', 30), 'rightUpperArm'), [-c30, 0, s30]);
    const bent = turned(['leftLowerArm', 'rightLowerArm'], 'hinge', 30);
    near(directionOf(bent, 'leftLowerArm'), [c30, 0, s30]);
    near(directionOf(bent, 'rightLowerArm'), [-c30, 0, s30]);
    near(directionOf(bent, 'leftUpperArm'), [1, 0, 0]);
    near(directionOf(turned(['leftLowerLeg'], 'hinge', 30), 'leftLowerLeg'), [0, -c30, -s30]);
  });

  it('curls every segment of a finger by the step, so that the tip turns by their sum', () => {
    const roles = ['Proximal', 'Intermediate', 'Distal'].map((segment) => `leftIndex${segment}`);
    const pose = turned(roles, 'hinge', 10);
    const before = directionOf(aligned, 'leftIndexProximal');
    roles.forEach((role, at) =>
      expect(angleBetween(before, directionOf(pose, role)) / DEGREE).toBeCloseTo(10 * (at + 1), 2),
    );
  });

  it('twists a segment without moving its direction, and its children with it', () => {
    const pose = turned(['leftUpperArm'], 'bone', 30);
    near(directionOf(pose, 'leftUpperArm'), directionOf(aligned, 'leftUpperArm'));
    expect(pose.rotations).not.toEqual(aligned.rotations);
  });

  it('of a whole limb turns the topmost only about an axis of the body', () => {
    const whole = turned(['leftUpperArm', 'leftLowerArm', 'leftHand'], 'front', 30);
    near(directionOf(whole, 'leftHand'), [c30, s30, 0]);
  });

  it('there and back is where it was, whatever is turned', () => {
    const roles = [...input.roleBones.keys()];
    fc.assert(
      fc.property(
        fc.constantFrom(...roles),
        fc.constantFrom(...TURN_AXES),
        fc.integer({ min: -60, max: 60 }),
        (role, about, degrees) => {
          const there = turned([role], about, degrees);
          // A hinge that a bend shows itself turns round where the bend crosses the straight line.
          if (about === 'hinge') return;
          const back = computeWorlds(input.rig, turned([role], about, -degrees, there));
          computeWorlds(input.rig, aligned).forEach((world, bone) =>
            world.forEach((value, at) => expect(back[bone][at]).toBeCloseTo(value, 6)),
          );
        },
      ),
      { numRuns: 60 },
    );
  });

  it('says nothing of roles without a bone', () => {
    const jawless = { ...input, roleBones: new Map([...input.roleBones].filter(([role]) => role !== 'jaw')) };
    const turn = { roles: new Set(['jaw']), about: 'front' as const, radians: 1 };
    expect(turnRoles(jawless, aligned, turn)).toEqual(aligned);
  });
});

describe('mirroring', () => {
  it('puts what one side does onto the other, roll and all', () => {
    const left = turned(
      ['leftLowerArm'],
      'hinge',
      40,
      turned(['leftUpperArm'], 'bone', 20, turned(['leftUpperArm'], 'front', -25)),
    );
    const both = mirrorPosture(input, left, 'left');
    for (const part of ['UpperArm', 'LowerArm', 'Hand', 'IndexProximal', 'ThumbProximal', 'UpperLeg']) {
      const [x, y, z] = directionOf(both, `left${part}`);
      near(directionOf(both, `right${part}`), [-x, y, z]);
    }
    // Twice is once.
    const again = computeWorlds(input.rig, mirrorPosture(input, both, 'left'));
    computeWorlds(input.rig, both).forEach((world, bone) =>
      world.forEach((value, at) => expect(again[bone][at]).toBeCloseTo(value, 6)),
    );
  });

  it('mirrors only the roles it is given, named on either side', () => {
    const left = turned(['leftUpperArm'], 'front', 30, turned(['leftUpperLeg'], 'left', 20));
    const arm = mirrorPosture(input, left, 'left', new Set(['rightUpperArm']));
    near(directionOf(arm, 'rightUpperArm'), [-c30, s30, 0]);
    near(directionOf(arm, 'rightUpperLeg'), directionOf(aligned, 'rightUpperLeg'));
  });
});
