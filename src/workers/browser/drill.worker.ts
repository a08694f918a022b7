import { expose, transfer } from 'comlink';
import { judgeMotion, type DrillJudgement } from '@/core/drill/judge/judge-motion';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import { houseJoints } from '@/core/house/play-motion';
import { findLoops, type FoundLoop } from '@/core/motion/edits/find-loop';
import { motionOfCarried } from '@/core/motion/edits/keep-carried';
import { MotionCarrier } from '@/core/motion/carry-frames';
import type { Carrying, RootTravel } from '@/core/motion/carry-options';
import { planCarry, type CarryReport, type CarryTarget } from '@/core/motion/carry-plan';
import { BLOCK_FRAMES } from '@/core/motion/clip-poses';
import { fileSpaces } from '@/core/motion/joint-spaces';
import { JointWalk } from '@/core/motion/joint-walk';
import type { Contact } from '@/core/motion/motion';
import { encodeMotion } from '@/core/motion/motion-file';
import { rootPath } from '@/core/motion/root-path';
import type { DrillLimits } from '@/core/profile/profile';
import { fetchGeometry, playSource, type DrillSource } from './drill-source';

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
  /** What could not be made as it was asked for. */
  readonly remarks: readonly string[];
  readonly figures: readonly {
    /** Bones whose local turns, and whose local places, a block holds. */
    readonly turned: readonly number[];
    readonly placed: readonly number[];
    /** Morph targets whose weights a block holds. */
    readonly morphs: readonly string[];
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
    readonly morphs: Float32Array;
    /** [count x boneCount x 3] joints, metres, body axes. */
    readonly points: Float32Array;
  }[];
  /** Joints of the source, on the character's floor. */
  readonly source: Float32Array;
}

export type DrillAnswer =
  { readonly ok: true; readonly info: DrillInfo } | { readonly ok: false; readonly problem: Problem };

interface Held {
  readonly made: Awaited<ReturnType<typeof playSource>>;
  readonly source: DrillSource;
  /** How much the source is lowered to stand on the floor of the first character, metres. */
  readonly drop: number;
  readonly figures: readonly { readonly carrier: MotionCarrier; readonly walk: JointWalk }[];
  readonly targets: readonly DrillTarget[];
}

/** Flags of a motion, worst first, and what could not be measured. */
export type FoundTroubles = Pick<DrillJudgement, 'flags' | 'remarks'>;

/** A path is drawn with so many places at most. */
const PATH_PLACES = 600;

let held: Held | null = null;
/** Carries motions and works out their frames: nothing of it may hold up the page. */
const api = {
  async open(source: DrillSource, targets: readonly DrillTarget[]): Promise<DrillAnswer> {
    try {
      const made = await playSource(source);
      const { motion } = made;
      const figures = targets.map(({ target, carrying, travel }) => {
        const spaces = fileSpaces(target);
        const carrier = new MotionCarrier(planCarry(motion, target, { carrying, travel, spaces, fileSpaces: spaces }));
        return { carrier, walk: new JointWalk(carrier.plan, carrier.placedBones) };
      });
      const floor = targets[0]?.target.normalisation.floorMetres ?? 0;
      const { madeFrom } = source;
      const ownFloor = madeFrom.kind === 'clip' && made.own ? madeFrom.fitted.normalisation.floorMetres : 0;
      held = {
        made,
        source,
        targets,
        drop: ownFloor + (made.own ? (motion.own?.groundMetres ?? 0) : 0) - floor,
        figures,
      };
      return { ok: true, info: infoOf(held) };
    } catch (error) {
      return { ok: false, problem: problemOf(error, 'motion') };
    }
  },

  /** The motion as a file, free of any rig. */
  file(): Uint8Array {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const bytes = encodeMotion(held.made.motion);
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },

  /** What the first character does, read back as a motion that others can be given: a file. */
  keep(name: string): Uint8Array {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const [{ carrier }] = held.figures;
    const { target } = held.targets[0];
    const bytes = encodeMotion(motionOfCarried(carrier, target, held.made.motion, name));
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },

  /** What the first character does wrong in the motion. @param geometryUrl its mesh; null where it has none. */
  async judge(geometryUrl: string | null, limits: DrillLimits): Promise<FoundTroubles> {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const { made, targets } = held;
    const geometry = geometryUrl === null ? null : await fetchGeometry(geometryUrl);
    const { flags, remarks } = judgeMotion({ ...targets[0], motion: made.motion, geometry, limits });
    return { flags, remarks };
  },

  /** Spans of the motion that repeat themselves. */
  loops(): FoundLoop[] {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    return findLoops(held.made.motion);
  },

  frames(from: number, count: number): DrillBlock {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const {
      figures,
      made: { motion },
    } = held;
    const total = Math.max(0, Math.min(count, motion.frameCount - from, BLOCK_FRAMES));
    const made = figures.map(({ carrier, walk }) => {
      const frames = carrier.carry(from, total);
      const joints = walk.places.length;
      const points = new Float32Array(total * joints);
      for (let frame = 0; frame < total; frame++) {
        walk.walk(frames, frame);
        points.set(walk.places, frame * joints);
      }
      return { rotations: frames.rotations, translations: frames.translations, morphs: frames.morphs, points };
    });
    const block: DrillBlock = { from, count: total, figures: made, source: sourcePoints(held, from, total) };
    const buffers = [...made.flatMap((figure) => Object.values(figure)), block.source].map(({ buffer }) => buffer);
    return transfer(block, buffers as ArrayBuffer[]);
  },
};
export type DrillWorkerApi = typeof api;

function sourcePoints({ made, source, drop }: Held, from: number, count: number): Float32Array {
  const { madeFrom, definition } = source;
  if (!made.own || madeFrom.kind !== 'clip') {
    const joints = Array.from({ length: count }, (_, frame) => houseJoints(made.motion, definition, from + frame));
    const size = joints[0]?.length ?? 0;
    const out = new Float32Array(count * size);
    joints.forEach((places, frame) => out.set(places, frame * size));
    for (let at = 1; at < out.length; at += 3) out[at] -= drop;
    return out;
  }
  const { poses, seconds } = made.own;
  poses.play(seconds(from, count));
  const { bones } = madeFrom.fitted.rig;
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

function infoOf({ made, figures, targets }: Held): DrillInfo {
  const { motion } = made;
  return {
    name: motion.name,
    frameCount: motion.frameCount,
    framesPerSecond: motion.framesPerSecond,
    contacts: motion.contacts,
    remarks: made.remarks,
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
        morphs: plan.morphs.morphs,
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
