import type { ClipTracks } from '../clips/motion-tracks';
import { ClipPlayer } from './clip-player';
import { poseFromWorlds } from './local-pose';
import type { RigPose } from './pose';
import type { Rig } from './rig';

/**
 * The pose at a moment of a clip.
 * @param seconds from its first frame: readers let every clip begin at 0, wherever it lies in the file's own time.
 * @param hips bone that carries the figure, null for none.
 */
export const poseAtMoment = (rig: Rig, clip: ClipTracks, seconds: number, hips: number | null): RigPose =>
  poseFromWorlds(rig, new ClipPlayer(rig).worldsAt(clip, seconds), hips);
