import { conjugate, multiply, type Quat } from '../../math/quat';
import type { Vec3 } from '../../math/vec3';
import type { FrameSource } from '../../motion/carry-frames';
import { BLOCK_FRAMES } from '../../motion/clip-poses';
import { JointWalk } from '../../motion/joint-walk';

/** Worlds of some bones of a carried motion, body frame, metres; frame-major. */
export interface FigureTrack {
  readonly frameCount: number;
  readonly turnOf: (bone: number, frame: number) => Quat;
  readonly placeOf: (bone: number, frame: number) => Vec3;
  /** Turn of a bone against the reference posture, D. */
  readonly changeOf: (bone: number, frame: number) => Quat;
}

/** Plays a carried motion, layers and all, and keeps the wanted bones. */
export function trackFigure(carrier: FrameSource, bones: readonly number[]): FigureTrack {
  const { plan } = carrier;
  const walk = new JointWalk(plan, carrier.placedBones, bones);
  const { frameCount } = plan.motion;
  const slot = new Map(bones.map((bone, at) => [bone, at]));
  const turns = new Float32Array(frameCount * bones.length * 4);
  const places = new Float32Array(frameCount * bones.length * 3);
  for (let from = 0; from < frameCount; from += BLOCK_FRAMES) {
    const block = carrier.carry(from, Math.min(BLOCK_FRAMES, frameCount - from));
    for (let frame = 0; frame < block.count; frame++) {
      walk.walk(block, frame);
      bones.forEach((bone, at) => {
        const row = (from + frame) * bones.length + at;
        for (let k = 0; k < 4; k++) turns[row * 4 + k] = walk.rotations[bone * 4 + k];
        for (let k = 0; k < 3; k++) places[row * 3 + k] = walk.places[bone * 3 + k];
      });
    }
  }
  const rowOf = (bone: number, frame: number): number => frame * bones.length + (slot.get(bone) as number);
  const turnOf = (bone: number, frame: number): Quat => {
    const at = rowOf(bone, frame) * 4;
    return [turns[at], turns[at + 1], turns[at + 2], turns[at + 3]];
  };
  const undo = new Map(bones.map((bone) => [bone, conjugate(plan.standing.rotations[bone])]));
  return {
    frameCount,
    turnOf,
    placeOf: (bone, frame) => {
      const at = rowOf(bone, frame) * 3;
      return [places[at], places[at + 1], places[at + 2]];
    },
    changeOf: (bone, frame) => multiply(turnOf(bone, frame), undo.get(bone) as Quat),
  };
}
