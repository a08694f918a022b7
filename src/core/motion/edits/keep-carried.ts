import type { ClipTracks, Track } from '../../clips/motion-tracks';
import { captureMotion } from '../capture-motion';
import { columnOf, type MotionCarrier } from '../carry-frames';
import type { CarryTarget } from '../carry-plan';
import type { Motion } from '../motion';

/**
 * What a character does under a carried motion, layers and planting included, as a motion of its own. Contacts are those
 * of the motion that was carried.
 * @param carrier for the spaces of the character's own file.
 */
export function motionOfCarried(carrier: MotionCarrier, target: CarryTarget, motion: Motion, name: string): Motion {
  const { frameCount, framesPerSecond } = motion;
  const frames = carrier.carry(0, frameCount);
  const times = Float32Array.from({ length: frameCount }, (_, frame) => frame / framesPerSecond);
  const { driven } = carrier.plan;
  const placed = carrier.placedBones;
  const track = (bone: number, path: Track['path'], values: Float32Array): Track => ({
    bone,
    path,
    interpolation: 'LINEAR',
    times,
    values,
  });
  const clip: ClipTracks = {
    name,
    tracks: [
      ...driven.map(({ boneIndex }, at) =>
        track(boneIndex, 'rotation', columnOf(frames.rotations, driven.length * 4, at * 4, 4)),
      ),
      ...placed.map((bone, at) =>
        track(bone, 'translation', columnOf(frames.translations, placed.length * 3, at * 3, 3)),
      ),
    ],
    morphs: [],
  };
  const kept = captureMotion(target, clip, { framesPerSecond, mostFrames: frameCount });
  return { ...kept, name, contacts: motion.contacts, morphs: motion.morphs };
}
