import { Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { twistAngle } from '@/core/math/quat';
import { MotionCarrier } from '@/core/motion/carry-frames';
import { CARRYING, NO_ROOT_TRAVEL, type Carrying } from '@/core/motion/carry-options';
import { planCarry, type CarryTarget } from '@/core/motion/carry-plan';
import { fileSpaces } from '@/core/motion/joint-spaces';
import { JointWalk } from '@/core/motion/joint-walk';
import { readCarryCharacter, readMotionSource } from '@/pipeline/carry';
import { readSource } from '@/pipeline/read-files';
import { degreesBetween } from '../helpers/carry-maker';
import { LIVELY, PLAIN_FIGURE, writeFigureGlb } from '../helpers/moving-figure';
import { readFileSync } from 'node:fs';

const sourceOf = async () =>
  readMotionSource(
    await readSource({ path: 'motion.glb', bytes: await writeFigureGlb({ ...PLAIN_FIGURE, axes: 2 }, LIVELY) }, []),
    0,
    { definition: QUAY, reference: { kind: 'rest' }, framesPerSecond: null },
    'motion.glb',
  ).motion;

const castOf = async (file: string) =>
  readCarryCharacter(
    await readSource({ path: file, bytes: new Uint8Array(readFileSync(`demo/files/${file}`)) }, []),
    QUAY,
    file,
  ).target;

/** World turns and places of all bones in a frame. */
function worldsOf(
  motion: Awaited<ReturnType<typeof sourceOf>>,
  target: CarryTarget,
  carrying: Partial<Carrying>,
  frame: number,
) {
  const spaces = fileSpaces(target);
  const plan = planCarry(motion, target, {
    carrying: { ...CARRYING, ...carrying },
    travel: NO_ROOT_TRAVEL,
    spaces,
    fileSpaces: spaces,
  });
  const carrier = new MotionCarrier(plan);
  const walk = new JointWalk(plan, carrier.placedBones);
  walk.walk(carrier.carry(frame, 1), 0);
  const turn = (bone: number) => new Quaternion().fromArray(walk.rotations, bone * 4);
  const place = (bone: number) => new Vector3().fromArray(walk.places, bone * 3);
  return { plan, turn, place };
}

describe('twist bones', () => {
  it.each(['eel-seller.glb', 'ferry-pilot.fbx', 'net-mender.glb'])(
    'of %s turn by their share, and no joint moves for it',
    async (file) => {
      const [motion, target] = [await sourceOf(), await castOf(file)];
      for (const frame of [9, 31, 50]) {
        const [off, on] = [false, true].map((hasTwist) => worldsOf(motion, target, { hasTwist }, frame));
        const driven = new Set(on.plan.report.twist.map(({ boneIndex }) => boneIndex));
        for (const [role, bone] of target.roleBones) {
          expect(off.place(bone).distanceTo(on.place(bone)), role).toBeLessThan(1e-6);
          expect(degreesBetween(off.turn(bone), on.turn(bone)), role).toBeLessThan(1e-3);
        }
        for (const { boneIndex, role, share } of on.plan.report.twist) {
          const segment = target.roleBones.get(role) as number;
          const part = role.replace(/^(left|right)/, '');
          const side = role.slice(0, role.length - part.length);
          const isUpper = part.startsWith('Upper');
          const partner = isUpper ? role : `${side}${part === 'LowerArm' ? 'Hand' : 'Foot'}`;
          const above = isUpper
            ? part === 'UpperArm'
              ? target.roleBones.has(`${side}Shoulder`)
                ? `${side}Shoulder`
                : 'chest'
              : 'hips'
            : role;
          const { standing } = on.plan;
          const turned = (bone: number) => on.turn(bone).multiply(new Quaternion(...standing.rotations[bone]).invert());
          const against = (from: number, to: number) => turned(from).invert().multiply(turned(to));
          const axis = new Vector3(
            ...standing.places[
              target.roleBones.get(isUpper ? `${side}${part.replace('Upper', 'Lower')}` : partner) as number
            ],
          )
            .sub(new Vector3(...standing.places[segment]))
            .normalize()
            .toArray();
          const whole = twistAngle(
            against(target.roleBones.get(above) as number, target.roleBones.get(partner) as number).toArray(),
            axis,
          );
          const own = twistAngle(against(segment, boneIndex).toArray(), axis);
          // A chain below another twist bone turns with that one; both are told against the segment.
          expect(own * (180 / Math.PI), `${role} ${share}`).toBeCloseTo(
            (isUpper ? share - 1 : share) * whole * (180 / Math.PI),
            0,
          );
        }
        expect(driven.size).toBe(on.plan.report.twist.length);
      }
    },
  );

  it('are found on figures that have them, and a share of a person counts instead of the place', async () => {
    const [motion, target] = [await sourceOf(), await castOf('eel-seller.glb')];
    const { plan } = worldsOf(motion, target, {}, 0);
    expect(plan.report.twist.length).toBeGreaterThan(0);
    const [{ boneIndex }] = plan.report.twist;
    const set = worldsOf(motion, target, { twistShares: { [boneIndex]: 0.25 } }, 0);
    expect(set.plan.report.twist[0].share).toBe(0.25);
  });
});

describe('layers', () => {
  const FRAME = 21;
  it('turn the local rotation and nothing below it', async () => {
    const [motion, target] = [await sourceOf(), await castOf('lamplighter.glb')];
    const offset = { id: 'a', role: 'leftUpperArm', about: 'bone' as const, degrees: 30, isOn: true };
    const [plain, turned] = [
      worldsOf(motion, target, {}, FRAME),
      worldsOf(motion, target, { offsets: [offset] }, FRAME),
    ];
    const [upper, lower, hand] = ['leftUpperArm', 'leftLowerArm', 'leftHand'].map(
      (role) => target.roleBones.get(role) as number,
    );
    expect(degreesBetween(plain.turn(upper), turned.turn(upper))).toBeCloseTo(30, 3);
    // About the bone's own length the elbow stays; the forearm follows with its own local turn.
    expect(plain.place(lower).distanceTo(turned.place(lower))).toBeLessThan(1e-4);
    const local = ({ turn }: typeof plain) => turn(lower).invert().multiply(turn(hand));
    expect(degreesBetween(local(plain), local(turned))).toBeLessThan(1e-3);
  });

  it('go in the order of the list, can be switched off, and leave no trace when they go', async () => {
    const [motion, target] = [await sourceOf(), await castOf('lamplighter.glb')];
    const hand = target.roleBones.get('rightHand') as number;
    const [a, b] = (['hinge', 'bone'] as const).map((about) => ({
      id: about,
      role: 'rightHand',
      about,
      degrees: 40,
      isOn: true,
    }));
    const turnOf = (offsets: Carrying['offsets']) => worldsOf(motion, target, { offsets }, FRAME).turn(hand);
    expect(degreesBetween(turnOf([a, b]), turnOf([b, a]))).toBeGreaterThan(5);
    expect(degreesBetween(turnOf([a, { ...b, isOn: false }]), turnOf([a]))).toBeLessThan(1e-4);
    expect(turnOf([]).toArray()).toEqual(turnOf([{ ...a, isOn: false }]).toArray());
  });

  it('of a heavy body hold both arms away from it, as mirror images', async () => {
    const [motion, target] = [await sourceOf(), await castOf('harbour-diver.glb')];
    const away = { ...target, armOffsetDeg: { left: 12, right: 12 } };
    for (const side of ['left', 'right'] as const) {
      const [upper, lower] = ['UpperArm', 'LowerArm'].map((part) => target.roleBones.get(side + part) as number);
      const outOf = (figure: CarryTarget) => {
        const { place, turn, plan } = worldsOf(motion, figure, {}, FRAME);
        const chest = target.roleBones.get('chest') ?? (target.roleBones.get('spine') as number);
        const body = turn(chest).multiply(new Quaternion(...plan.standing.rotations[chest]).invert());
        return place(lower).sub(place(upper)).applyQuaternion(body.invert()).normalize().x * (side === 'left' ? 1 : -1);
      };
      expect(outOf(away)).toBeGreaterThan(outOf(target) + 0.05);
    }
  });
});

describe('joints that slide', () => {
  it('keep their lengths, slide by the ratio of the limbs, or as far as in the source', async () => {
    const motion = await sourceOf();
    const slide = Float32Array.from({ length: motion.frameCount * 3 }, (_, at) => (at % 3 === 0 ? 0.1 : 0));
    const sliding = { ...motion, own: null, shifts: [{ role: 'leftLowerArm', values: slide }] };
    const target = await castOf('lamplighter.glb');
    const [upper, lower] = ['leftUpperArm', 'leftLowerArm'].map((role) => target.roleBones.get(role) as number);
    const lengthOf = (shifts: Carrying['shifts']) => {
      const { place, plan } = worldsOf(sliding, target, { shifts }, 10);
      const [a, b] = [upper, lower].map((bone) => new Vector3(...plan.standing.places[bone]));
      return { now: place(lower).distanceTo(place(upper)), rest: a.distanceTo(b), direction: b.sub(a).normalize() };
    };
    const kept = lengthOf('keep');
    expect(kept.now).toBeCloseTo(kept.rest, 5);
    // The slide goes along +X, as the arm of the reference pose does.
    expect(lengthOf('copy').now - kept.rest).toBeCloseTo(0.1 * motion.legMetres, 3);
    const limb = kept.rest / (motion.limbs.leftLowerArm * motion.legMetres);
    expect(lengthOf('ratio').now - kept.rest).toBeCloseTo(0.1 * motion.legMetres * limb, 3);
  });
});
