import { fromAxisAngle, type Quat } from '@/core/math/quat';
import { between } from '../figure/skeleton';
import { townsfolk, type TownsfolkOptions } from '../figure/townsfolk';
import { SkeletonBuilder, type Joint } from '../figure/skeleton';
import { CENTIMETRES_Z_UP, METRES_Y_UP } from '../formats/gather';
import type { TruthTable } from '../figure/write-figure';
import { play, type Actor } from './actor';
import { BECKON, LANTERN_ROUND, LEAP, NET_HAUL, TIDE_BELL, WEIGH_BASKET } from './performances';
import { playedBvh, playedFbx, playedGlb } from './write-motions';

/** A motion of the demo: the file, and what its joints are. */
export interface MotionFile {
  readonly make: () => Promise<Uint8Array>;
  readonly truth: TruthTable;
}

const text = (content: string): Uint8Array => new TextEncoder().encode(content);

type NamingHabit = Readonly<Record<string, string>>;

/** Names by part, the side before or behind. */
function namer(names: NamingHabit, sided: (part: string, side: 'left' | 'right') => string): (role: string) => string {
  return (role) => {
    const [, side, part] = /^(left|right)(.*)$/.exec(role) ?? [];
    return part ? sided(names[part] ?? part.toLowerCase(), side as 'left' | 'right') : (names[role] ?? role);
  };
}

function actorOf(
  options: Pick<TownsfolkOptions, 'nameOf' | 'rootName' | 'without' | 'axes'> & { readonly size: number },
  pose: Pick<Actor, 'armsDownDegrees' | 'startsInT'>,
  change: (joints: readonly Joint[]) => readonly Joint[] = (joints) => joints,
): Actor {
  const { builder } = townsfolk({ ...options, breadth: 1, girth: 1 });
  return { joints: change(builder.joints), size: options.size, ...pose };
}

const DIGIT_PARTS = ['Thumb', 'Index', 'Middle', 'Ring', 'Little'].flatMap((digit) =>
  ['Metacarpal', 'Proximal', 'Intermediate', 'Distal'].map((part) => `${digit}${part}`),
);
const NO_FINGERS = ['left', 'right'].flatMap((side) => DIGIT_PARTS.map((part) => side + part));

/** Two more bones in the back: one between the hips and the first, one between the first and the second. */
function withFiveInTheBack(joints: readonly Joint[]): readonly Joint[] {
  const builder = new SkeletonBuilder();
  const renamed = new Map<string, string>();
  for (const { name, parent, position, truth, rotation } of joints) {
    let above = parent === null ? null : (renamed.get(parent) ?? parent);
    if (truth === 'chest' || truth === 'upperChest') {
      const from = builder.place(above as string);
      above = builder.add(`${name}_half`, above, between(from, position, 0.5), 'member', rotation);
    }
    builder.add(name, above, position, truth, rotation);
    renamed.set(name, name);
  }
  return builder.joints;
}

/** Joints whose own axes are turned, as a tool of its own kind leaves them. */
function withAxes(joints: readonly Joint[], axes: Quat): readonly Joint[] {
  return joints.map((joint) => ({ ...joint, rotation: axes }));
}

const LANTERN: Actor = actorOf(
  {
    size: 1.04,
    rootName: null,
    axes: 'world',
    without: ['upperChest', ...NO_FINGERS],
    nameOf: namer(
      {
        hips: 'Middle',
        spine: 'Belly',
        chest: 'Bust',
        neck: 'Nape',
        head: 'Crown',
        Shoulder: 'Collar',
        UpperArm: 'ArmTop',
        LowerArm: 'ArmLow',
        Hand: 'Palm',
        UpperLeg: 'LegTop',
        LowerLeg: 'LegLow',
        Foot: 'Heel',
        Toes: 'Toe',
      },
      (part, side) => `${part}_${side === 'left' ? 'L' : 'R'}`,
    ),
  },
  { armsDownDegrees: 76, startsInT: true },
);

const HAUL: Actor = actorOf(
  {
    size: 0.96,
    rootName: 'deck',
    axes: 'bones',
    nameOf: namer(
      {
        hips: 'pelvis',
        spine: 'back low',
        chest: 'back mid',
        upperChest: 'back top',
        neck: 'neck',
        head: 'head',
        Shoulder: 'collar',
        UpperArm: 'upper arm',
        LowerArm: 'forearm',
        Hand: 'hand',
        UpperLeg: 'thigh',
        LowerLeg: 'shin',
        Foot: 'foot',
        Toes: 'toes',
      },
      (part, side) => `${side} ${part}`,
    ),
  },
  { armsDownDegrees: 40, startsInT: false },
);

const BELL: Actor = actorOf(
  {
    size: 1,
    rootName: null,
    axes: 'world',
    without: NO_FINGERS.filter((role) => !/Index|Thumb/.test(role)),
    nameOf: namer(
      {
        hips: 'hip',
        spine: 'spine1',
        chest: 'spine3',
        upperChest: 'spine5',
        neck: 'neck',
        head: 'head',
        Shoulder: 'clav',
        UpperArm: 'uparm',
        LowerArm: 'loarm',
        Hand: 'hand',
        UpperLeg: 'upleg',
        LowerLeg: 'loleg',
        Foot: 'foot',
        Toes: 'ball',
      },
      (part, side) => `${side[0]}_${part}`,
    ),
  },
  { armsDownDegrees: 0, startsInT: false },
  withFiveInTheBack,
);

const STALL: Actor = actorOf(
  {
    size: 0.92,
    rootName: 'stall',
    axes: 'world',
    without: ['upperChest', 'leftToes', 'rightToes'],
    nameOf: namer(
      {
        hips: 'Hips',
        spine: 'Waist',
        chest: 'Ribs',
        neck: 'Neck',
        head: 'Head',
        Shoulder: 'Shoulder',
        UpperArm: 'Arm',
        LowerArm: 'Elbow',
        Hand: 'Wrist',
        UpperLeg: 'Leg',
        LowerLeg: 'Knee',
        Foot: 'Ankle',
      },
      (part, side) => `${side === 'left' ? 'Left' : 'Right'}${part}`,
    ),
  },
  { armsDownDegrees: 55, startsInT: false },
  (joints) => withAxes(joints, fromAxisAngle([0.6, 0.64, 0.48], 1.9)),
);

const BOAT: Actor = actorOf(
  {
    size: 1.1,
    rootName: 'jetty',
    axes: 'bones',
    without: NO_FINGERS,
    nameOf: namer(
      {
        hips: 'root_hips',
        spine: 'torso_a',
        chest: 'torso_b',
        upperChest: 'torso_c',
        neck: 'neck_a',
        head: 'head_a',
        Shoulder: 'shoulder',
        UpperArm: 'arm_a',
        LowerArm: 'arm_b',
        Hand: 'arm_c',
        UpperLeg: 'leg_a',
        LowerLeg: 'leg_b',
        Foot: 'leg_c',
        Toes: 'leg_d',
      },
      (part, side) => `${part}.${side[0]}`,
    ),
  },
  { armsDownDegrees: 20, startsInT: false },
);

const truthOf = ({ joints }: Actor): TruthTable => Object.fromEntries(joints.map(({ name, truth }) => [name, truth]));

/** In BVH each last joint has a tip, named after it. */
const withTips = (actor: Actor): TruthTable => ({
  ...truthOf(actor),
  ...Object.fromEntries(
    actor.joints
      .filter(({ name }) => !actor.joints.some(({ parent }) => parent === name))
      .map(({ name }) => [`${name} end`, 'tip']),
  ),
});

/** Five motions of the town, each with a skeleton and a rest of its own. */
export const MOTIONS: Readonly<Record<string, MotionFile>> = {
  // The T-pose is its first frame; at rest the arms hang.
  'lantern-round.bvh': {
    make: async () => text(playedBvh(play(LANTERN, { round: LANTERN_ROUND }, METRES_Y_UP))),
    truth: withTips(LANTERN),
  },
  // Centimetres, Z up, in a format that is Y up: it lies on its back.
  'net-haul.glb': {
    make: () => playedGlb(play(HAUL, { haul: NET_HAUL }, CENTIMETRES_Z_UP)),
    truth: truthOf(HAUL),
  },
  // Five bones in the back.
  'tide-bell.bvh': {
    make: async () => text(playedBvh(play(BELL, { bell: TIDE_BELL }, { unitsPerMetre: 100, up: 'Y' }))),
    truth: withTips(BELL),
  },
  // Two takes.
  'stall-keeper.fbx': {
    make: async () =>
      text(playedFbx(play(STALL, { beckon: BECKON, weigh: WEIGH_BASKET }, CENTIMETRES_Z_UP), CENTIMETRES_Z_UP)),
    truth: truthOf(STALL),
  },
  // A jump that travels.
  'boat-leap.glb': {
    make: () => playedGlb(play(BOAT, { leap: LEAP }, METRES_Y_UP)),
    truth: truthOf(BOAT),
  },
};
