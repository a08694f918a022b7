import type { Vec3 } from '@/core/math/vec3';
import { subtract } from '@/core/math/vec3';
import type { Joint } from '../figure/skeleton';
import { digits } from './gather';

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
