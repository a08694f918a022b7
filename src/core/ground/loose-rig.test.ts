import { describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { carryTo, withSoles, type CarrySubject } from '../drill/carry-subject';
import { initialFit, roleBonesOf } from '../fit/fit';
import { houseEntry } from '../house/house-set';
import { sampleHouse } from '../house/house-motion';
import { distance, type Vec3 } from '../math/vec3';
import { CARRYING, NO_ROOT_TRAVEL, type Carrying } from '../motion/carry-options';
import { JointWalk } from '../motion/joint-walk';
import { alignPosture } from '../posture/align-posture';
import { REST_POSE } from '../rig/pose';

const walk = sampleHouse(houseEntry('walk').make(houseEntry('walk').settings), QUAY, 30);

/** A biped, and the same with some bones that hang on nothing. */
function subjectOf(loose: readonly RegExp[], change: Partial<Carrying>): CarrySubject {
  const whole = makeRig(biped());
  const first = runFirstPass(whole, QUAY);
  const names = whole.bones.map(({ name }) => name);
  const rig = makeRig(
    biped().map((bone) => (loose.some((name) => name.test(bone.name)) ? { ...bone, parent: null } : bone)),
  );
  const byName = new Map(rig.bones.map(({ name, index }) => [name, index]));
  const roleBones = new Map(
    [...roleBonesOf(initialFit(first.match, QUAY))].map(([role, bone]) => [role, byName.get(names[bone]) as number]),
  );
  const input = { rig, definition: QUAY, normalisation: first.normalisation, roleBones };
  const target = {
    ...{ ...input, pose: alignPosture(input, REST_POSE) },
    ...{ spares: [], rootBone: null, armOffsetDeg: null },
  };
  return withSoles({ target, carrying: { ...CARRYING, ...change }, soles: null }, null);
}

function played(loose: readonly RegExp[], change: Partial<Carrying>) {
  const subject = subjectOf(loose, change);
  const { carrier, report } = carryTo(walk, subject, NO_ROOT_TRAVEL);
  const frames = carrier.carry(0, walk.frameCount);
  const joints = new JointWalk(carrier.plan, carrier.placedBones);
  return {
    report,
    loose: carrier.plan.loose.size,
    at: (role: string, frame: number): Vec3 => {
      joints.walk(frames, frame);
      return joints.placeOf(subject.target.roleBones.get(role) as number);
    },
  };
}

const LIFT = {
  ...{ id: 'l', name: 'Lift', isOn: true, motion: null, span: null },
  ...{ kind: 'figure' as const, heightMetres: 0.2, headingDeg: 30 },
};
const ROLES = ['hips', 'leftFoot', 'rightFoot', 'leftHand', 'head'];

describe('a rig whose bones do not hang on what carries them', () => {
  it.each([
    ['legs', [/^thigh/]],
    ['hands', [/^hand/]],
  ] as const)('%s: stands and moves like the one whose bones do', (_name, loose) => {
    const plain = played([], { grounding: 'plant', layers: [LIFT] });
    const torn = played(loose, { grounding: 'plant', layers: [LIFT] });
    expect(torn.loose).toBeGreaterThan(0);
    expect(torn.report.kind).toBe('planted');
    // A segment whose end hangs elsewhere is not aligned, so the two postures are a little apart.
    for (const frame of [0, 17, 40])
      for (const role of ROLES) expect(distance(torn.at(role, frame), plain.at(role, frame))).toBeLessThan(2e-3);
  });
});
