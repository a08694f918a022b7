import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { carryTo, withSoles, type CarrySubject } from '@/core/drill/carry-subject';
import type { Geometry } from '@/core/geometry/geometry';
import { houseEntry } from '@/core/house/house-set';
import { sampleHouse } from '@/core/house/house-motion';
import { angleOf, conjugate, fromAxisAngle, multiply, rotate, type Quat } from '@/core/math/quat';
import { add, distance, subtract, type Vec3 } from '@/core/math/vec3';
import { forMotion, NO_ROOT_TRAVEL, type Carrying } from '@/core/motion/carry-options';
import { JointWalk } from '@/core/motion/joint-walk';
import { layerShare, type Layer } from '@/core/motion/layer';
import { readGeometry } from '@/document/read-geometry';
import { readCarryCharacter } from '@/pipeline/carry';
import { readSource } from '@/pipeline/read-files';

const walk = sampleHouse(houseEntry('walk').make(houseEntry('walk').settings), QUAY, 30);
const RAD = Math.PI / 180;
let subject: CarrySubject;
let geometry: Geometry;
beforeAll(async () => {
  const bytes = new Uint8Array(readFileSync('demo/files/lamplighter.glb'));
  const reading = await readSource({ path: 'lamplighter.glb', bytes }, []);
  geometry = readGeometry(reading.document, reading.rig, 'lamplighter.glb');
  const { target, carrying, soles } = readCarryCharacter(reading, QUAY, 'lamplighter.glb');
  subject = { target, carrying, soles };
});

const BASE = { id: 'a', name: 'A', isOn: true, motion: null, span: null } as const;
const boneOf = (role: string): number => subject.target.roleBones.get(role) as number;

/** Carries the walk with some layers and answers where bones are, and how they are turned. */
function played(layers: readonly Layer[], change: Partial<Carrying> = {}) {
  const carrying = forMotion({ ...subject.carrying, ...change, layers: [...layers] }, 'house-walk');
  const { carrier } = carryTo(walk, withSoles({ ...subject, carrying }, geometry), NO_ROOT_TRAVEL);
  const frames = carrier.carry(0, walk.frameCount);
  const joints = new JointWalk(carrier.plan, carrier.placedBones);
  const of = (values: 'places' | 'rotations', size: number, bone: number, frame: number): number[] => {
    joints.walk(frames, frame);
    return [...joints[values].subarray(bone * size, bone * size + size)];
  };
  return {
    frames,
    plan: carrier.plan,
    place: (role: string, frame: number) => of('places', 3, boneOf(role), frame) as unknown as Vec3,
    turn: (role: string, frame: number) => of('rotations', 4, boneOf(role), frame) as unknown as Quat,
  };
}
const apart = (a: Quat, b: Quat): number => angleOf(multiply(conjugate(a), b)) / RAD;

describe('layers on carried motion', () => {
  const turned: Layer = {
    ...BASE,
    kind: 'turn',
    role: 'leftUpperArm',
    keys: [{ at: 0, turn: fromAxisAngle([0, 0, 1], 20 * RAD) }],
  };

  it('without them, switched off, or on another motion, every number is the same to the bit', () => {
    const bare = played([]).frames;
    for (const layer of [
      { ...turned, isOn: false },
      { ...turned, motion: 'house-run' },
    ]) {
      const { rotations, translations } = played([layer]).frames;
      expect(Buffer.from(rotations.buffer).equals(Buffer.from(bare.rotations.buffer))).toBe(true);
      expect(Buffer.from(translations.buffer).equals(Buffer.from(bare.translations.buffer))).toBe(true);
    }
    expect(played([turned]).frames.rotations).not.toEqual(bare.rotations);
  });

  it('a turn comes on top of the role, in the axes of the reference pose, and goes with its span', () => {
    const bare = played([]);
    const full = played([turned]);
    for (const frame of [0, 20, 50])
      expect(apart(bare.turn('leftUpperArm', frame), full.turn('leftUpperArm', frame))).toBeCloseTo(20, 3);
    const eased = played([{ ...turned, span: { from: 0.5, to: 1.5, ease: 0.25 } }]);
    const byFrame = (frame: number) => apart(bare.turn('leftUpperArm', frame), eased.turn('leftUpperArm', frame));
    expect(byFrame(5)).toBeLessThan(0.01);
    expect(byFrame(30)).toBeCloseTo(20, 3);
    expect(byFrame(55)).toBeLessThan(0.01);
  });

  it('keys are passed through, eased between them', () => {
    const keyed: Layer = {
      ...turned,
      keys: [
        { at: 0.5, turn: [0, 0, 0, 1] },
        { at: 1.5, turn: fromAxisAngle([0, 0, 1], 30 * RAD) },
      ],
    };
    const [bare, with_] = [played([]), played([keyed])];
    const byFrame = (frame: number) => apart(bare.turn('leftUpperArm', frame), with_.turn('leftUpperArm', frame));
    expect(byFrame(0)).toBeLessThan(0.01);
    expect(byFrame(30)).toBeCloseTo(15, 3);
    expect(byFrame(60)).toBeCloseTo(30, 3);
  });

  it('keeps a hand on a rail that the walk passes, and with the figure where it goes along', () => {
    const bare = played([]);
    // At the height of the elbow, so that the arm has way to both sides.
    const at = add(bare.place('leftHand', 20), [0.05, 0.35, 0.05]);
    const rail: Layer = {
      ...BASE,
      kind: 'target',
      part: 'leftHand',
      in: 'world',
      place: at,
      span: { from: 0.5, to: 0.84, ease: 0 },
    };
    const held = played([rail]);
    for (let frame = 16; frame <= 24; frame++) expect(distance(held.place('leftHand', frame), at)).toBeLessThan(1e-3);
    expect(distance(held.place('leftHand', 40), bare.place('leftHand', 40))).toBeLessThan(1e-6);
    const along: Layer = { ...BASE, kind: 'target', part: 'leftHand', in: 'figure', place: [0.25, 1.05, 0.25] };
    const carried = played([along]);
    const from = (frame: number): Vec3 => subtract(carried.place('leftHand', frame), carried.place('hips', frame));
    // Hips turn by five degrees to either side in a walk: what goes along turns with them.
    for (const frame of [10, 30, 50])
      expect(Math.abs(Math.hypot(from(frame)[0], from(frame)[2]) - Math.hypot(0.25, 0.25))).toBeLessThan(1e-3);
  });

  it('holds the turn of a hand on a rail as well, and lets go of it over the ease', () => {
    const bare = played([]);
    const at = add(bare.place('leftHand', 20), [0.05, 0.35, 0.05]);
    const flat = fromAxisAngle([0, 0, 1], 90 * RAD);
    const rail: Layer = {
      ...BASE,
      kind: 'target',
      part: 'leftHand',
      in: 'world',
      place: at,
      turn: flat,
      holdsTurn: true,
      span: { from: 0.5, to: 1.5, ease: 0.2 },
    };
    const held = played([rail]);
    const changeOf = (figure: typeof bare, frame: number): Quat =>
      multiply(figure.turn('leftHand', frame), conjugate(figure.plan.standing.rotations[boneOf('leftHand')]));
    for (const frame of [22, 30, 38]) expect(apart(changeOf(held, frame), flat)).toBeLessThan(0.05);
    expect(apart(changeOf(held, 50), changeOf(bare, 50))).toBeLessThan(0.01);
    const own = played([{ ...rail, holdsTurn: false }]);
    expect(apart(changeOf(own, 30), changeOf(bare, 30))).toBeLessThan(0.05);
    // What goes along is turned with the figure: on one that is turned round it comes out a quarter turn further.
    const along: Layer = { ...rail, in: 'figure', place: [0.25, 1.05, 0.25] };
    const round: Layer = { ...BASE, kind: 'figure', heightMetres: 0, headingDeg: 90 };
    const turned = changeOf(played([round, along]), 30);
    const straight = changeOf(played([along]), 30);
    expect(apart(turned, multiply(fromAxisAngle([0, 1, 0], 90 * RAD), straight))).toBeLessThan(0.05);
  });

  it('lifts and turns the whole figure as one', () => {
    const [bare, lifted] = [played([]), played([{ ...BASE, kind: 'figure', heightMetres: 0.4, headingDeg: 90 }])];
    const pivot = bare.place('hips', 0);
    for (const frame of [0, 33, 60])
      for (const role of ['head', 'leftHand', 'rightFoot']) {
        const [x, y, z] = subtract(bare.place(role, frame), [pivot[0], 0, pivot[2]]);
        const [tx, , tz] = rotate(fromAxisAngle([0, 1, 0], Math.PI / 2), [x, 0, z]);
        const wanted: Vec3 = [pivot[0] + tx, y + 0.4, pivot[2] + tz];
        expect(distance(lifted.place(role, frame), wanted)).toBeLessThan(1e-5);
      }
  });

  it('holds a pose of some roles against what they hang on', () => {
    const bent = fromAxisAngle([0, -1, 0], 80 * RAD);
    const { turn, plan } = played([{ ...BASE, kind: 'held', turns: { leftLowerArm: bent } }]);
    const change = (role: string, frame: number): Quat =>
      multiply(turn(role, frame), conjugate(plan.standing.rotations[boneOf(role)]));
    for (const frame of [0, 25, 60])
      expect(
        apart(multiply(conjugate(change('leftUpperArm', frame)), change('leftLowerArm', frame)), bent),
      ).toBeLessThan(0.01);
  });

  it('planted feet move with the whole figure: they are planted first', () => {
    const lowered: Layer = { ...BASE, kind: 'figure', heightMetres: -0.08, headingDeg: 0 };
    const [bare, low] = [played([], { grounding: 'plant' }), played([lowered], { grounding: 'plant' })];
    for (const frame of [5, 12]) {
      for (const role of ['leftFoot', 'hips'])
        expect(low.place(role, frame)[1] - bare.place(role, frame)[1]).toBeCloseTo(-0.08, 5);
    }
  });
});

it('a span eases in and out within itself', () => {
  const layer: Layer = { ...BASE, kind: 'figure', heightMetres: 1, headingDeg: 0, span: { from: 1, to: 3, ease: 0.5 } };
  expect([0.9, 1, 1.25, 2, 2.75, 3, 3.1].map((at) => layerShare(layer, at))).toEqual([0, 0, 0.5, 1, 0.5, 0, 0]);
});
