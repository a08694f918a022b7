import type { Vec3 } from '@/core/math/vec3';
import { subtract } from '@/core/math/vec3';
import type { Joint } from '../figure/skeleton';
import type { Quat } from '@/core/math/quat';
import { digits, eulerXyz } from './gather';

export interface Motion {
  readonly frames: number;
  readonly framesPerSecond: number;
  /** Place of the hips, metres. */
  readonly hips: (phase: number) => Vec3;
  /** Angles about z, x and y in degrees, by joint; others stay. `phase` runs from 0 to 1. */
  readonly turns: Readonly<Record<string, (phase: number) => Vec3>>;
}

/** Joints with world axes as BVH, centimetres: the hips lead, hands and feet end in end sites. */
export function writeBvh(joints: readonly Joint[], motion: Motion): string {
  const order: Joint[] = [];
  const text = (joint: Joint, depth: number): string => {
    order.push(joint);
    const pad = '\t'.repeat(depth);
    const parent = joints.find((other) => other.name === joint.parent);
    const offset = subtract(joint.position, parent?.position ?? [0, 0, 0]);
    const below = joints.filter((other) => other.parent === joint.name);
    const channels = parent
      ? 'CHANNELS 3 Zrotation Xrotation Yrotation'
      : 'CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation';
    const tip = `${pad}\tEnd Site\n${pad}\t{\n${pad}\t\tOFFSET ${metres(subtract(offset, [0, 0, 0]).map((value) => value * 0.5) as unknown as Vec3)}\n${pad}\t}`;
    return `${pad}${parent ? 'JOINT' : 'ROOT'} ${joint.name}\n${pad}{\n${pad}\tOFFSET ${metres(parent ? offset : [0, 0, 0])}\n${pad}\t${channels}\n${below.length > 0 ? below.map((other) => text(other, depth + 1)).join('\n') : tip}\n${pad}}`;
  };
  const root = joints.find((joint) => joint.parent === null) as Joint;
  const hierarchy = text(root, 0);
  const lines = Array.from({ length: motion.frames }, (_, frame) => {
    const phase = frame / (motion.frames - 1);
    return order
      .map((joint) => {
        const [z, x, y] = motion.turns[joint.name]?.(phase) ?? [0, 0, 0];
        return `${joint === root ? `${metres(motion.hips(phase))} ` : ''}${[z, x, y].map(digits).join(' ')}`;
      })
      .join(' ');
  });
  return `HIERARCHY\n${hierarchy}\nMOTION\nFrames: ${motion.frames}\nFrame Time: ${digits(1 / motion.framesPerSecond)}\n${lines.join('\n')}\n`;
}

/** Centimetres from metres. */
const metres = (point: Vec3): string => point.map((value) => digits(value * 100)).join(' ');

export interface BvhContent {
  readonly names: readonly string[];
  readonly parents: readonly number[];
  readonly offsets: readonly Vec3[];
  /** Places of the first joint, frame by frame. */
  readonly rootPlaces: readonly Vec3[];
  /** Local turns, frame by frame and joint by joint. */
  readonly turns: readonly (readonly Quat[])[];
  readonly framesPerSecond: number;
}

/** Joints and frames as BVH, in whatever unit they are given. The first joint leads. */
export function bvhText({ names, parents, offsets, rootPlaces, turns, framesPerSecond }: BvhContent): string {
  const order: number[] = [];
  const write = (joint: number, depth: number): string => {
    order.push(joint);
    const pad = '\t'.repeat(depth);
    const below = names.flatMap((_, other) => (parents[other] === joint ? [other] : []));
    const channels =
      parents[joint] < 0
        ? '6 Xposition Yposition Zposition Xrotation Yrotation Zrotation'
        : '3 Xrotation Yrotation Zrotation';
    const end = `${pad}\tEnd Site\n${pad}\t{\n${pad}\t\tOFFSET ${placeText(offsets[joint].map((value) => value * 0.4) as unknown as Vec3)}\n${pad}\t}`;
    return `${pad}${parents[joint] < 0 ? 'ROOT' : 'JOINT'} ${names[joint]}\n${pad}{\n${pad}\tOFFSET ${placeText(offsets[joint])}\n${pad}\tCHANNELS ${channels}\n${below.length > 0 ? below.map((other) => write(other, depth + 1)).join('\n') : end}\n${pad}}`;
  };
  const hierarchy = write(0, 0);
  const lines = turns.map((row, frame) =>
    order
      .map((joint) => {
        const angles = placeText(eulerTurns(row[joint]));
        return parents[joint] < 0 ? `${placeText(rootPlaces[frame])} ${angles}` : angles;
      })
      .join(' '),
  );
  return `HIERARCHY\n${hierarchy}\nMOTION\nFrames: ${turns.length}\nFrame Time: ${digits(1 / framesPerSecond)}\n${lines.join('\n')}\n`;
}

const placeText = (place: Vec3): string => place.map((value) => digits(Math.abs(value) < 1e-7 ? 0 : value)).join(' ');

/** Degrees about x, y and z for a turn that is x, then y, then z in the frames that each leaves. */
function eulerTurns(q: Quat): Vec3 {
  // R = Rx Ry Rz, which is the transpose of the other order of the inverse turns.
  const [x, y, z] = eulerXyz([-q[0], -q[1], -q[2], q[3]]);
  return [-x, -y, -z];
}
