import { expose, transfer } from 'comlink';
import { decodeMotionTracks, type MotionTracks } from '@/core/clips/motion-tracks';
import { YarvoError, problemOf, type Problem } from '@/core/errors/yarvo-error';
import { captureMotion } from '@/core/motion/capture-motion';
import { MotionCarrier } from '@/core/motion/carry-frames';
import type { Carrying, RootTravel } from '@/core/motion/carry-options';
import { planCarry, type CarryReport, type CarryTarget } from '@/core/motion/carry-plan';
import { ClipPoses, BLOCK_FRAMES } from '@/core/motion/clip-poses';
import type { FittedRig } from '@/core/motion/fitted-rig';
import { frameTimes } from '@/core/motion/frame-times';
import { fileSpaces } from '@/core/motion/joint-spaces';
import { JointWalk } from '@/core/motion/joint-walk';
import type { Contact, Motion } from '@/core/motion/motion';
import { encodeMotion } from '@/core/motion/motion-file';
import { ownRate } from '@/core/motion/own-rate';
import { rootPath } from '@/core/motion/root-path';

/** The clip that is played, and the figure that it moves. */
export interface DrillSource {
  readonly fitted: FittedRig;
  readonly tracksUrl: string;
  readonly clip: number;
  readonly framesPerSecond: number | null;
  /** As a person set them; null for those that are found. */
  readonly contacts: readonly Contact[] | null;
  readonly mostFrames: number;
}

export interface DrillTarget {
  readonly target: CarryTarget;
  readonly carrying: Carrying;
  readonly travel: RootTravel;
}

/** What a motion comes to on some characters, before its frames. */
export interface DrillInfo {
  readonly name: string;
  readonly frameCount: number;
  readonly framesPerSecond: number;
  readonly contacts: readonly Contact[];
  readonly figures: readonly {
    /** Bones whose local turns, and whose local places, a block holds. */
    readonly turned: readonly number[];
    readonly placed: readonly number[];
    readonly report: CarryReport;
    /** [n x 3] way of the hips on the floor, and of the root where it travels. */
    readonly hipsPath: Float32Array;
    /** Highest place of the hips, metres. */
    readonly hipsTop: number;
    readonly rootPath: Float32Array | null;
    readonly isSameSkeleton: boolean;
  }[];
}

/** Some frames of all that is shown. */
export interface DrillBlock {
  readonly from: number;
  readonly count: number;
  readonly figures: readonly {
    readonly rotations: Float32Array;
    readonly translations: Float32Array;
    /** [count x boneCount x 3] joints, metres, body axes. */
    readonly points: Float32Array;
  }[];
  /** Joints of the source, on the character's floor. */
  readonly source: Float32Array;
}

export type DrillAnswer =
  { readonly ok: true; readonly info: DrillInfo } | { readonly ok: false; readonly problem: Problem };

interface Held {
  readonly motion: Motion;
  readonly poses: ClipPoses;
  readonly source: DrillSource;
  readonly seconds: (from: number, count: number) => number[];
  /** How much the source is lowered to stand on the floor of the first character, metres. */
  readonly drop: number;
  readonly figures: readonly { readonly carrier: MotionCarrier; readonly walk: JointWalk }[];
}

/** A path is drawn with so many places at most. */
const PATH_PLACES = 600;

let held: Held | null = null;
const tracksOf = new Map<string, Promise<MotionTracks>>();
/** Clips of the last few sources stay at hand: a person goes back and forth between motions. */
const MOST_SOURCES = 4;

function fetchTracks(url: string): Promise<MotionTracks> {
  const known = tracksOf.get(url);
  if (known) return known;
  const fresh = fetch(url).then(async (response) => {
    if (!response.ok)
      throw new YarvoError({
        code: 'no-tracks',
        message: `The motion could not be fetched: the server answered ${response.status}.`,
        place: 'motion',
        remedy: 'Try again; if it stays so, open the source of the motion.',
      });
    return decodeMotionTracks(new Uint8Array(await response.arrayBuffer()));
  });
  tracksOf.set(url, fresh);
  fresh.catch(() => tracksOf.delete(url));
  for (const old of tracksOf.keys()) if (tracksOf.size > MOST_SOURCES && old !== url) tracksOf.delete(old);
  return fresh;
}

/** Carries motions and works out their frames: nothing of it may hold up the page. */
const api = {
  async open(source: DrillSource, targets: readonly DrillTarget[]): Promise<DrillAnswer> {
    try {
      const clip = (await fetchTracks(source.tracksUrl))[source.clip];
      if (!clip)
        throw new YarvoError({
          code: 'no-clip',
          message: 'The file no longer holds this clip.',
          place: 'motion',
          remedy: 'Take the motion off the shelf, or choose another clip.',
        });
      const { rig } = source.fitted;
      const stated = rig.source.clipRates[source.clip]?.framesPerSecond ?? 0;
      const wishes = {
        framesPerSecond: source.framesPerSecond ?? ownRate(clip, stated),
        mostFrames: source.mostFrames,
      };
      const motion = captureMotion(source.fitted, clip, wishes);
      const times = frameTimes(clip, wishes, clip.name);
      const bones = rig.bones.map(({ index }) => index);
      const figures = targets.map(({ target, carrying, travel }) => {
        const spaces = fileSpaces(target);
        const carrier = new MotionCarrier(planCarry(motion, target, { carrying, travel, spaces, fileSpaces: spaces }));
        return { carrier, walk: new JointWalk(carrier.plan, carrier.placedBones) };
      });
      const floor = targets[0]?.target.normalisation.floorMetres ?? 0;
      held = {
        motion,
        poses: new ClipPoses(rig, clip, source.fitted.normalisation, bones, bones),
        source,
        seconds: times.seconds,
        drop: source.fitted.normalisation.floorMetres + (motion.own?.groundMetres ?? 0) - floor,
        figures,
      };
      return { ok: true, info: infoOf(held, targets) };
    } catch (error) {
      return { ok: false, problem: problemOf(error, 'motion') };
    }
  },

  /** The motion as a file, free of any rig. */
  file(): Uint8Array {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const bytes = encodeMotion(held.motion);
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },

  frames(from: number, count: number): DrillBlock {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const { figures, motion } = held;
    const total = Math.max(0, Math.min(count, motion.frameCount - from, BLOCK_FRAMES));
    const made = figures.map(({ carrier, walk }) => {
      const frames = carrier.carry(from, total);
      const joints = walk.places.length;
      const points = new Float32Array(total * joints);
      for (let frame = 0; frame < total; frame++) {
        walk.walk(frames, frame);
        points.set(walk.places, frame * joints);
      }
      return { rotations: frames.rotations, translations: frames.translations, points };
    });
    const block: DrillBlock = { from, count: total, figures: made, source: sourcePoints(held, from, total) };
    const buffers = [...made.flatMap((figure) => Object.values(figure)), block.source].map(({ buffer }) => buffer);
    return transfer(block, buffers as ArrayBuffer[]);
  },
};
export type DrillWorkerApi = typeof api;

function sourcePoints({ poses, source, seconds, drop }: Held, from: number, count: number): Float32Array {
  poses.play(seconds(from, count));
  const { bones } = source.fitted.rig;
  const out = new Float32Array(count * bones.length * 3);
  for (const { index } of bones) {
    const start = poses.placesAt(index);
    for (let frame = 0; frame < count; frame++) {
      const at = (frame * bones.length + index) * 3;
      for (let k = 0; k < 3; k++) out[at + k] = poses.allPlaces[start + frame * 3 + k];
      out[at + 1] -= drop;
    }
  }
  return out;
}

function infoOf({ motion, source, figures }: Held, targets: readonly DrillTarget[]): DrillInfo {
  return {
    name: motion.name,
    frameCount: motion.frameCount,
    framesPerSecond: motion.framesPerSecond,
    contacts: source.contacts ?? motion.contacts,
    figures: figures.map(({ carrier }, at) => {
      const { plan } = carrier;
      const { target, travel } = targets[at];
      const floor = target.normalisation.floorMetres;
      const hips = plan.standing.places[plan.hips];
      const root =
        travel.components.length > 0
          ? (plan.root ?? rootPath(motion, plan.hipsAt, travel, { root: [hips[0], floor, hips[2]], hips }))
          : null;
      return {
        turned: plan.driven.map(({ boneIndex }) => boneIndex),
        placed: carrier.placedBones,
        report: plan.report,
        hipsPath: thinned(plan.hipsAt, floor),
        hipsTop: plan.hipsAt.reduce((top, value, each) => (each % 3 === 1 ? Math.max(top, value) : top), -Infinity),
        rootPath: root && thinned(root.places, null),
        isSameSkeleton: plan.isSameSkeleton,
      };
    }),
  };
}

/** Not more places than a line on a screen has pixels. @param floor height that all are laid on; null for their own. */
function thinned(places: Float64Array, floor: number | null): Float32Array {
  const count = places.length / 3;
  const step = Math.max(1, Math.ceil(count / PATH_PLACES));
  const kept = Math.ceil(count / step);
  const out = new Float32Array(kept * 3);
  for (let at = 0; at < kept; at++) {
    out.set(places.subarray(at * step * 3, at * step * 3 + 3), at * 3);
    if (floor !== null) out[at * 3 + 1] = floor;
  }
  return out;
}

expose(api);
