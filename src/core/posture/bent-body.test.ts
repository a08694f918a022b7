import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { initialFit, roleBonesOf } from '../fit/fit';
import { runFirstPass } from '@/pipeline/match';
import { fromAxisAngle, multiply, type Quat } from '../math/quat';
import { normalise, type Vec3 } from '../math/vec3';
import { computeWorlds, REST_POSE, type RigPose } from '../rig/pose';
import { ALIGN_CHOICES, alignPosture } from './align-posture';
import { classifyPosture } from './classify-posture';
import { measurePosture } from './measure-posture';

const DEGREE = Math.PI / 180;
const rig = makeRig(biped());
const first = runFirstPass(rig, QUAY);
const roleBones = roleBonesOf(initialFit(first.match, QUAY));
const input = { rig, definition: QUAY, normalisation: first.normalisation, roleBones };
const boneOf = (role: string): number => roleBones.get(role) as number;
const measured = (pose: RigPose) => measurePosture({ ...input, worlds: computeWorlds(rig, pose) });
const off = (pose: RigPose, role: string): number =>
  (measured(pose).deviations.find((each) => each.role === role)?.deviationRad ?? NaN) / DEGREE;
const stopping = (pose: RigPose): string[] =>
  measured(pose)
    .deviations.filter(({ isStopping }) => isStopping)
    .map(({ role }) => role);
const aligned = (pose: RigPose): RigPose => alignPosture(input, pose);
const straightened = (pose: RigPose): RigPose =>
  alignPosture(input, pose, { choices: { ...ALIGN_CHOICES, body: 'straighten' } });

/** The rest pose with bones turned about axes of the body; rests of this rig have no rotation. */
const turned = (...turns: readonly (readonly [role: string, axis: Vec3, degrees: number])[]): RigPose => ({
  rotations: Object.fromEntries(
    turns.map(([role, axis, angle]) => [boneOf(role), fromAxisAngle(axis, angle * DEGREE)]),
  ),
  shift: null,
});

describe('a figure that is bent or turned', () => {
  it('is upright at rest, and nothing of it stops a handoff once it is aligned', () => {
    expect(stopping(aligned(REST_POSE))).toEqual([]);
    expect(classifyPosture(measured(aligned(REST_POSE)), QUAY).class).toBe('T');
  });

  it.each([
    ['hips', [1, 0, 0], 140],
    ['hips', [1, 0, 0], 45],
    ['spine', [1, 0, 0], 60],
    ['neck', [1, 0, 0], 44],
    ['neck', [0, 0, 1], -50],
    ['leftShoulder', [0, 0, 1], 95],
    ['rightShoulder', [0, 1, 0], 150],
    ['chest', [0, 1, 0], 45],
  ] as const)('is stopped with its %s turned about %j by %d degrees, also when all is aligned', (role, axis, angle) => {
    const pose = aligned(turned([role, axis, angle]));
    expect(stopping(pose).length).toBeGreaterThan(0);
    const { class: kind, sentence } = classifyPosture(measured(pose), QUAY);
    expect(kind).toBe('other');
    expect(sentence).toMatch(/bent or turned.*degrees off/);
  });

  it('says what leans more than allowed and less than stops', () => {
    const pose = aligned(turned(['leftShoulder', [0, 1, 0], 35.5]));
    expect(stopping(pose)).toEqual([]);
    const { class: kind, sentence } = classifyPosture(measured(pose), QUAY);
    expect(kind).toBe('T');
    expect(sentence).toMatch(/left collar 3\d\.\d degrees off/);
  });

  it('is straightened, whatever way it is bent, and its legs keep their directions', () => {
    const roles = ['hips', 'spine', 'chest', 'neck', 'leftShoulder', 'rightShoulder'];
    const bend = fc.tuple(
      fc.constantFrom(...roles),
      fc.tuple(
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: -0.4, max: 0.4, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
      ),
      fc.double({ min: -110, max: 110, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(bend, { minLength: 1, maxLength: 4 }), (bends) => {
        const rotations: Record<string, Quat> = {};
        for (const [role, axis, angle] of bends) {
          const unit = normalise(axis);
          if (unit)
            rotations[boneOf(role)] = multiply(
              rotations[boneOf(role)] ?? [0, 0, 0, 1],
              fromAxisAngle(unit, angle * DEGREE),
            );
        }
        const pose = straightened({ rotations, shift: null });
        expect(stopping(pose)).toEqual([]);
        for (const role of ['hips', 'spine', 'chest', 'neck']) expect(off(pose, role), role).toBeLessThan(16);
        for (const role of ['leftUpperLeg', 'rightUpperLeg']) expect(off(pose, role), role).toBeLessThan(0.01);
      }),
      { numRuns: 200 },
    );
  });

  it('leaves an upright figure as it is', () => {
    expect(straightened(REST_POSE)).toEqual(aligned(REST_POSE));
  });
});
