import type { ClipTracks, Track } from '../clips/motion-tracks';
import { spendBytes } from '../errors/byte-budget';
import { pathsOf } from '../rig/local-pose';
import { skeletonSignature } from '../rig/skeleton-signature';
import { standingFigure, type FittedRig } from './fitted-rig';
import type { FrameTimes } from './frame-times';
import { lineSlots } from './line-slots';
import { sampleWeights } from './morph-weights';
import type { Motion, OwnBone } from './motion';
import { saysMore, TrackReader } from './track-reader';

/** Local values that differ by less are the same. */
const SLACK = 1e-6;

/**
 * What roles do not tell of a clip: turns of bones without a role, translations and scales of all. A character of the
 * same skeleton takes them over as they are.
 */
export function ownOf(source: FittedRig, clip: ClipTracks, times: FrameTimes, groundMetres: number): Motion['own'] {
  const { rig, roleBones } = source;
  const told = new Set(lineSlots(source, standingFigure(source).places).map(({ boneIndex }) => boneIndex));
  const hips = roleBones.get('hips') as number;
  const paths = pathsOf(rig);
  const bones: OwnBone[] = [];
  for (const { index, rest } of rig.bones) {
    const keyed = (path: Track['path']): Float32Array | null => {
      const track = clip.tracks.find((each) => each.bone === index && each.path === path);
      return track && saysMore(track, rest[path], SLACK) ? sampled(track, times) : null;
    };
    const rotations = told.has(index) ? null : keyed('rotation');
    const translations = index === hips ? null : keyed('translation');
    const scales = keyed('scale');
    if (rotations || translations || scales) bones.push({ path: paths[index], rotations, translations, scales });
  }
  const morphs = clip.morphs.map((track) => ({ nodeIndex: track.nodeIndex, ...sampleWeights(track, times) }));
  return { signature: skeletonSignature(rig), bones, groundMetres, morphs };
}

function sampled(track: Track, times: FrameTimes): Float32Array {
  const reader = new TrackReader(track);
  const { size } = reader;
  spendBytes(times.frameCount * size * 4, 'clip');
  const out = new Float32Array(times.frameCount * size);
  const seconds = times.seconds(0, times.frameCount);
  for (let frame = 0; frame < times.frameCount; frame++) reader.read(out, frame * size, seconds[frame]);
  return out;
}
