import { expose, transfer } from 'comlink';
import { judgeMotion } from '@/core/drill/judge/judge-motion';
import { PoseWatch } from '@/core/drill/judge/pose-watch';
import { carryTo, withSoles, type CarrySubject } from '@/core/drill/carry-subject';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import type { Geometry } from '@/core/geometry/geometry';
import type { GroundReport } from '@/core/ground/grounded-carrier';
import { figureTurn, toFigure } from '@/core/ground/lead-limbs';
import { houseJoints } from '@/core/house/play-motion';
import { heldTurn } from '@/core/layers/layer-stack';
import { conjugate, multiply, type Quat } from '@/core/math/quat';
import { subtract, type Vec3 } from '@/core/math/vec3';
import { pointPlace, type SolePoint } from '@/core/ground/sole-points';
import { findLoops, type FoundLoop } from '@/core/motion/edits/find-loop';
import { motionOfCarried } from '@/core/motion/edits/keep-carried';
import type { MotionCarrier } from '@/core/motion/carry-frames';
import { ROOT_COMPONENTS, type RootTravel } from '@/core/motion/carry-options';
import type { CarryPlan, CarryReport } from '@/core/motion/carry-plan';
import { BLOCK_FRAMES } from '@/core/motion/clip-poses';
import { JointWalk } from '@/core/motion/joint-walk';
import { WorldEdit } from '@/core/motion/world-edit';
import type { Contact } from '@/core/motion/motion';
import { encodeMotion } from '@/core/motion/motion-file';
import { rootPath } from '@/core/motion/root-path';
import type { RootWay } from '@/core/motion/root-way';
import type { DrillLimits } from '@/core/profile/drill-limits';
import { forPage, withoutExcuse, type DrillJudged, type DrillWatched } from './drill-judged';
import { fetchGeometry, playSource, type DrillSource } from './drill-source';

export interface DrillTarget extends Omit<CarrySubject, 'soles'> {
  readonly travel: RootTravel;
  /** The character's mesh, for its soles and its shape; null where it has none. */
  readonly geometryUrl: string | null;
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
    readonly ground: GroundReport;
    /** Points that bear: "left heel", and where they are from their bone's joint in the reference pose; body axes, metres. */
    readonly bearing: readonly BearingPoint[];
    /** [n x 3] way of the hips on the floor, and of the root where it travels. */
    readonly hipsPath: Float32Array;
    /** Highest place of the hips, metres. */
    readonly hipsTop: number;
    readonly rootPath: Float32Array | null;
    /** Whole travel on the floor, whether or not a root takes it over. */
    readonly way: RootWay;
    readonly isSameSkeleton: boolean;
  }[];
}

export interface BearingPoint {
  readonly name: string;
  /** Of the bone that it is fixed to. */
  readonly role: string;
  readonly from: Vec3;
  /** From the body's axes to those of its bone. */
  readonly turn: Quat;
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
    /** [count x bearing points x 3] where heel, ball, tip and palm are. */
    readonly bearing: Float32Array;
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
  readonly figures: readonly {
    readonly carrier: MotionCarrier;
    readonly ground: GroundReport;
    /** Points of feet and hands that bear; none where feet are left. */
    readonly bearing: readonly SolePoint[];
    readonly walk: JointWalk;
  }[];
  readonly targets: readonly DrillTarget[];
}

/** A frame of the first character, by role; body frame. */
export interface DrillStance {
  readonly frame: number;
  /** D against the reference posture. */
  readonly changes: Readonly<Record<string, Quat>>;
  /** R against what the role hangs on, as a held pose keeps it. */
  readonly heldTurns: Readonly<Record<string, Quat>>;
  /** Joints, metres; and as they lie in the figure, from under its hips. */
  readonly places: Readonly<Record<string, Vec3>>;
  readonly inFigure: Readonly<Record<string, Vec3>>;
  /** How the figure is turned about the vertical. */
  readonly heading: Quat;
}

/** A path is drawn with so many places at most. */
const PATH_PLACES = 600;

let held: Held | null = null;
let watch: PoseWatch | null = null;
/** The mesh that was fetched last: pose after pose asks for the same. */
let mesh: { readonly url: string; readonly geometry: Geometry } | null = null;

async function geometryAt(url: string | null): Promise<Geometry | null> {
  if (url === null) return null;
  if (mesh?.url !== url) mesh = { url, geometry: await fetchGeometry(url) };
  return mesh.geometry;
}

/** Carries motions and works out their frames: nothing of it may hold up the page. */
const api = {
  /** @param asked null for the source that was given last: then only the characters are others. */
  async open(asked: DrillSource | null, targets: readonly DrillTarget[]): Promise<DrillAnswer> {
    try {
      const source = asked ?? held?.source;
      if (!source) throw new Error('drill worker: asked before it was given a motion');
      const made = asked || !held ? await playSource(source) : held.made;
      const { motion } = made;
      const figures = await Promise.all(
        targets.map(async ({ travel, geometryUrl, ...subject }) => {
          const stands = subject.carrying.grounding !== 'leave';
          const geometry = stands ? await geometryAt(geometryUrl) : null;
          const standing = withSoles<CarrySubject>({ ...subject, soles: null }, geometry);
          const { carrier, report } = carryTo(motion, standing, travel);
          const bearing = standing.soles
            ? [...Object.values(standing.soles.points).flat(), ...Object.values(standing.soles.palms)]
            : [];
          return { carrier, ground: report, bearing, walk: new JointWalk(carrier.plan, carrier.placedBones) };
        }),
      );
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

  /** What the first character does in the motion, measured, and what is wrong about it. */
  async judge(limits: DrillLimits): Promise<DrillJudged> {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const { made, targets } = held;
    const { geometryUrl, ...subject } = targets[0];
    const geometry = await geometryAt(geometryUrl);
    return forPage(judgeMotion({ ...subject, motion: made.motion, geometry, limits }));
  },

  /** Soles, slides and room of the first character, for the next pose soon: no causes are asked for. */
  async watch(limits: DrillLimits): Promise<DrillWatched> {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const { made, targets } = held;
    const { geometryUrl, travel, ...subject } = targets[0];
    const geometry = await geometryAt(geometryUrl);
    const posed: CarrySubject = { ...subject, soles: null };
    if (!watch?.isFor(made.motion, posed, geometry)) watch = new PoseWatch(made.motion, posed, geometry);
    const { measures, ...reading } = watch.measure(posed, travel, limits);
    return { ...reading, measures: measures.map(withoutExcuse) };
  },

  /** How the first character stands in a frame, layers and all: what layers are made from. */
  stance(frame: number): DrillStance {
    if (!held) throw new Error('drill worker: asked before it was given a motion');
    const [{ carrier }] = held.figures;
    const { plan } = carrier;
    const frames = carrier.carry(frame, 1);
    const edit = new WorldEdit(plan, carrier.placedBones);
    edit.begin(frames, 0);
    const [changes, heldTurns, places, inFigure] = [{}, {}, {}, {}] as [
      Record<string, Quat>,
      Record<string, Quat>,
      Record<string, Vec3>,
      Record<string, Vec3>,
    ];
    for (const [role, bone] of plan.target.roleBones) {
      const at = plan.driven.findIndex(({ boneIndex }) => boneIndex === bone);
      changes[role] = multiply(edit.turnOf(bone), conjugate(plan.standing.rotations[bone]));
      places[role] = edit.placeOf(bone);
      inFigure[role] = toFigure(plan, edit, places[role]);
      if (at < 0) continue;
      const local = [...frames.rotations.subarray(at * 4, at * 4 + 4)] as unknown as Quat;
      heldTurns[role] = heldTurn(plan, bone, local);
    }
    return { frame, changes, heldTurns, places, inFigure, heading: figureTurn(plan, edit) };
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
    const made = figures.map(({ carrier, walk, bearing }) => {
      const frames = carrier.carry(from, total);
      const joints = walk.places.length;
      const points = new Float32Array(total * joints);
      const bears = new Float32Array(total * bearing.length * 3);
      for (let frame = 0; frame < total; frame++) {
        walk.walk(frames, frame);
        points.set(walk.places, frame * joints);
        bearing.forEach((point, at) =>
          bears.set(
            pointPlace(point, walk.placeOf(point.bone), walk.turnOf(point.bone)),
            (frame * bearing.length + at) * 3,
          ),
        );
      }
      return {
        rotations: frames.rotations,
        translations: frames.translations,
        morphs: frames.morphs,
        points,
        bearing: bears,
      };
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
    figures: figures.map(({ carrier, ground, bearing }, at) => {
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
        ground,
        bearing: bearing.map((point): BearingPoint => {
          const role = [...target.roleBones].find(([, bone]) => bone === point.bone)?.[0] ?? '';
          const side = role.startsWith('left') ? 'left' : 'right';
          const { rotations, places } = plan.standing;
          const from = subtract(point.standing, places[point.bone]);
          return { name: `${side} ${point.kind}`, role, from, turn: conjugate(rotations[point.bone]) };
        }),
        hipsPath: thinned(plan.hipsAt, floor),
        hipsTop: plan.hipsAt.reduce((top, value, each) => (each % 3 === 1 ? Math.max(top, value) : top), -Infinity),
        rootPath: root && thinned(root.places, null),
        way: wayOf(plan, floor),
        isSameSkeleton: plan.isSameSkeleton,
      };
    }),
  };
}

function wayOf({ motion, hipsAt, standing, hips }: CarryPlan, floor: number): RootWay {
  const at = standing.places[hips];
  const travel: RootTravel = { components: [...ROOT_COMPONENTS], cutoffHz: null, others: 'follow' };
  const { places, headings } = rootPath(motion, hipsAt, travel, { root: [at[0], floor, at[2]], hips: at });
  return Float32Array.from({ length: motion.frameCount * 4 }, (_, each) =>
    each % 4 === 3 ? headings[each >> 2] : places[(each >> 2) * 3 + (each % 4)],
  );
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
