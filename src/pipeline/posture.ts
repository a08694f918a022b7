import type { PostureFigures } from '@/contract/posture-line';
import type { Definition } from '@/core/definition/definition';
import { YarvoError } from '@/core/errors/yarvo-error';
import { initialFit, roleBonesOf } from '@/core/fit/fit';
import type { Geometry } from '@/core/geometry/geometry';
import { NO_DECISIONS, type PoseSource } from '@/core/intake/decisions';
import type { FirstPass } from '@/core/match/first-pass';
import { ownNames } from '@/core/plan/plan-names';
import { planSkeleton } from '@/core/plan/plan-skeleton';
import { alignPosture } from '@/core/posture/align-posture';
import { classifyPosture } from '@/core/posture/classify-posture';
import { measurePosture } from '@/core/posture/measure-posture';
import { lowerSole, standOnSoles } from '@/core/posture/stand-on-soles';
import { findUnevenScale } from '@/core/posture/uneven-scale';
import { measureStature, type Stature } from '@/core/posture/stature';
import { computeWorlds, REST_POSE, type RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { applyDecisions } from '@/document/apply-decisions';
import { readGeometry } from '@/document/read-geometry';
import { rigFromDocument } from '@/document/read-rig';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { runFirstPass } from './match';
import { motionOf, type CanonicalReading } from './read-files';

export interface PostureOptions {
  readonly definition: Definition;
  readonly align: boolean;
  /** "rest", "bind" or "clip:NAME:FRAME". */
  readonly from: string;
}

export interface PostureResult extends FirstPass {
  readonly rig: Rig;
  readonly before: PostureFigures;
  readonly after: PostureFigures;
  /** Writes the figure in its new posture, bound there, under its own bones' names: GLB in metres, Y up, facing +Z. */
  readonly write: () => Promise<Uint8Array>;
}

/**
 * Takes a figure's pose from where it is asked for, aligns it where that is wanted, and measures both ends.
 * @throws {YarvoError} `bad-pose` for a pose that the file does not hold; `uneven-scale` where aligning would stretch it.
 */
export function posturize(reading: CanonicalReading, options: PostureOptions, place: string): PostureResult {
  const { definition, align, from } = options;
  const first = runFirstPass(reading.rig, definition, { motion: motionOf(reading) });
  const source = poseSource(from, reading.rig, place);
  const before = figuresOf(reading.rig, readGeometry(reading.document, reading.rig, place), REST_POSE);
  if (source.kind !== 'rest') applyDecisions(reading.document, reading.rig, { ...NO_DECISIONS, pose: source }, place);
  const rig = source.kind === 'rest' ? reading.rig : rigFromDocument(reading.document, place);
  const geometry = readGeometry(reading.document, rig, place);
  const isAligned = align && first.match.creature.isHumanoid;
  const pose = isAligned ? aligned(rig, geometry) : REST_POSE;
  return {
    ...first,
    rig,
    before: before.figures,
    after: figuresOf(rig, geometry, pose).figures,
    write: async () => {
      writeHandoff(reading.document, rig, planSkeleton(rig, pose, first.normalisation), ownNames(rig));
      return createNodeIO().writeBinary(reading.document);
    },
  };

  function roleBones(): ReadonlyMap<string, number> {
    return roleBonesOf(initialFit(first.match, definition));
  }

  function aligned(of: Rig, meshes: Geometry): RigPose {
    const input = { rig: of, definition, roleBones: roleBones(), normalisation: first.normalisation };
    const uneven = findUnevenScale(input, null);
    if (uneven)
      throw new YarvoError({
        code: 'uneven-scale',
        message: uneven.message,
        place: `${place}, bone ${of.bones[uneven.boneIndex].name}`,
        remedy: 'Apply the scale in the source, or leave --align out.',
      });
    // A moment of a walk lifts a foot; the file's own rest has the soles flat.
    const flatFeet = reading.rig.bones.map(({ restWorld }) => restWorld);
    const turned = alignPosture(input, REST_POSE, { flatFeet });
    const height = lowerSole(figuresOf(of, meshes, REST_POSE).stature);
    if (height === null) return turned;
    const after = figuresOf(of, meshes, turned).stature;
    return standOnSoles(input, turned, after, height);
  }

  function figuresOf(of: Rig, meshes: Geometry, posed: RigPose): { figures: PostureFigures; stature: Stature } {
    const input = { rig: of, definition, roleBones: roleBones(), normalisation: first.normalisation };
    const worlds = computeWorlds(of, posed);
    const { deviations, frames } = measurePosture({ ...input, worlds });
    const stature = measureStature({ ...input, geometry: meshes, worlds });
    const figures: PostureFigures = {
      class: classifyPosture({ deviations, frames }, input.definition).class,
      deviationsDeg: Object.fromEntries(deviations.map(({ role, deviationRad }) => [role, degrees(deviationRad)])),
      rollsDeg: Object.fromEntries(
        deviations.flatMap(({ role, rollRad }) => (rollRad === null ? [] : [[role, degrees(rollRad)]])),
      ),
      soles: { leftCm: centimetres(stature.leftSole), rightCm: centimetres(stature.rightSole) },
      heightM: round(stature.crown - stature.lowest, 4),
    };
    return { figures, stature };
  }
}

const round = (value: number, digits: number): number => Math.round(value * 10 ** digits) / 10 ** digits;
const degrees = (rad: number): number => round((rad * 180) / Math.PI, 3);
const centimetres = (metres: number | null): number | null => (metres === null ? null : round(metres * 100, 3));

/** The pose that is asked for; the last colon splits a clip's name and the frame. */
function poseSource(from: string, rig: Rig, place: string): PoseSource {
  if (from === 'rest') return { kind: 'rest' };
  if (from === 'bind') {
    if (rig.bones.some(({ bindWorld }) => bindWorld !== null)) return { kind: 'bind' };
    throw badPose(
      'No skin in the file binds a bone, so it has no bind pose.',
      place,
      'Take the rest or a frame of a clip.',
    );
  }
  const [, name, frame] = /^clip:(.*):(\d+)$/.exec(from) ?? [];
  if (name === undefined) throw badPose(`"${from}" is no pose.`, '--from', 'Give rest, bind, or clip:NAME:FRAME.');
  const clip = rig.clips.findIndex((candidate) => candidate.name === name);
  const known = rig.clips.map((candidate) => `"${candidate.name}"`).join(', ') || 'none';
  if (clip < 0) throw badPose(`There is no clip "${name}".`, place, `The file's clips: ${known}.`);
  const { durationSeconds, framesPerSecond } = rig.clips[clip];
  const last = Math.round(durationSeconds * framesPerSecond);
  if (Number(frame) > last)
    throw badPose(`The clip "${name}" ends before frame ${frame}.`, place, `Give a frame from 0 to ${last}.`);
  return { kind: 'frame', clip, frame: Number(frame), isDropped: false };
}

const badPose = (message: string, place: string, remedy: string): YarvoError =>
  new YarvoError({ code: 'bad-pose', message, place, remedy });
