import type { Vec3 } from '@/core/math/vec3';
import { townsfolk } from '../figure/townsfolk';
import { writeBvh } from '../formats/write-bvh';

const NAMES: Record<string, string> = {
  hips: 'Hips',
  spine: 'Back',
  chest: 'Ribs',
  neck: 'Neck',
  head: 'Head',
  Shoulder: 'Collar',
  UpperArm: 'UpArm',
  LowerArm: 'LowArm',
  Hand: 'Wrist',
  UpperLeg: 'UpLeg',
  LowerLeg: 'LowLeg',
  Foot: 'Ankle',
  Toes: 'Ball',
};
const FINGERS = ['left', 'right'].flatMap((side) =>
  ['Thumb', 'Index', 'Middle', 'Ring', 'Little'].flatMap((digit) =>
    ['Metacarpal', 'Proximal', 'Intermediate', 'Distal'].map((part) => `${side}${digit}${part}`),
  ),
);
const nameOf = (role: string): string => {
  const sided = /^(left|right)(.*)$/.exec(role);
  return sided ? `${sided[1] === 'left' ? 'Left' : 'Right'}${NAMES[sided[2]]}` : NAMES[role];
};

const wave = (phase: number, degrees: number, shift = 0): number =>
  Math.sin((phase * 2 + shift) * 2 * Math.PI) * degrees;

/** Two strides along the quay: a motion without a mesh. */
export function walk(): { text: string; truth: Record<string, string> } {
  const { builder } = townsfolk({
    size: 1,
    breadth: 1,
    girth: 1,
    nameOf,
    rootName: null,
    without: ['upperChest', ...FINGERS],
    axes: 'world',
  });
  const leg = (shift: number) => ({
    up: (phase: number): Vec3 => [0, -wave(phase, 26, shift), 0],
    low: (phase: number): Vec3 => [0, 22 + wave(phase, 20, shift - 0.25), 0],
    foot: (phase: number): Vec3 => [0, -10 + wave(phase, 12, shift + 0.1), 0],
  });
  const [left, right] = [leg(0), leg(0.5)];
  const text = writeBvh(builder.joints, {
    frames: 73,
    framesPerSecond: 30,
    hips: (phase) => [Math.sin(phase * 4 * Math.PI) * 0.02, 0.935 + Math.cos(phase * 8 * Math.PI) * 0.015, phase * 2.6],
    turns: {
      Hips: (phase) => [wave(phase, 2), 2, wave(phase, 6)],
      Back: (phase) => [0, 3, -wave(phase, 5)],
      Ribs: (phase) => [0, 2, -wave(phase, 6)],
      LeftUpLeg: left.up,
      LeftLowLeg: left.low,
      LeftAnkle: left.foot,
      RightUpLeg: right.up,
      RightLowLeg: right.low,
      RightAnkle: right.foot,
      LeftUpArm: (phase) => [-72, wave(phase, 22), 0],
      RightUpArm: (phase) => [72, -wave(phase, 22), 0],
      LeftLowArm: (phase) => [0, 0, -18 + wave(phase, 8)],
      RightLowArm: (phase) => [0, 0, 18 + wave(phase, 8)],
    },
  });
  // Where no joint follows, the format has an end site; it is read as a tip.
  const tips = builder.joints
    .filter((joint) => !builder.joints.some((other) => other.parent === joint.name))
    .map((joint) => [`${joint.name} end`, 'tip']);
  return {
    text,
    truth: Object.fromEntries([...builder.joints.map((joint) => [joint.name, joint.truth]), ...tips]) as Record<
      string,
      string
    >,
  };
}
