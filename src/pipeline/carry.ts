import type { Document } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import type { Definition } from '@/core/definition/definition';
import { withSoles } from '@/core/drill/carry-subject';
import { YarvoError } from '@/core/errors/yarvo-error';
import { findRaisedOrigin } from '@/core/frame/origin';
import type { PoseSource } from '@/core/intake/decisions';
import { groundedCarrier } from '@/core/ground/grounded-carrier';
import type { Soles } from '@/core/ground/sole-points';
import { captureMotion } from '@/core/motion/capture-motion';
import { columnOf, type MotionCarrier, type CarriedFrames } from '@/core/motion/carry-frames';
import { CARRYING, type Carrying, type Grounding, type RootTravel } from '@/core/motion/carry-options';
import { planCarry, type CarryPlan, type CarryTarget } from '@/core/motion/carry-plan';
import { referenceFigure } from '@/core/motion/reference-figure';
import { fileSpaces, writtenSpaces } from '@/core/motion/joint-spaces';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import type { Motion } from '@/core/motion/motion';
import { ownRate } from '@/core/motion/own-rate';
import { writeBvh } from '@/core/motion/write-bvh';
import { ownNames, type NamePlan } from '@/core/plan/plan-names';
import { planSkeleton } from '@/core/plan/plan-skeleton';
import { parentsOf, topBoneAbove } from '@/core/rig/bone-tree';
import type { RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import type { MotionTracks } from '@/core/clips/motion-tracks';
import { morphNamesOf, morphTargetNames } from '@/document/morph-names';
import { readGeometry } from '@/document/read-geometry';
import { writeClip, type ClipChannel } from '@/document/write-clip';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { fitByItself, type AutoFit } from './fitted-source';
import { motionOf, type CanonicalReading } from './read-files';

/** "rest", "bind", or a frame of the clip that is carried. */
export type Reference = { readonly kind: 'rest' | 'bind' } | { readonly kind: 'frame'; readonly frame: number };

export interface SourceOptions {
  readonly definition: Definition;
  readonly reference: Reference;
  /** Frames a second; null for the clip's own. */
  readonly framesPerSecond: number | null;
}

/** A clip as a motion, with the fit that it was read by; null for a motion that came as one. */
export interface MotionSource {
  readonly fit: AutoFit | null;
  readonly motion: Motion;
}

/**
 * Reads one clip of a model as a motion.
 * @param reading read for this purpose: a reference pose changes its document.
 * @throws {YarvoError} where the model holds no figure, or the clip cannot be carried.
 */
export function readMotionSource(
  reading: CanonicalReading,
  clipIndex: number,
  options: SourceOptions,
  place: string,
): MotionSource {
  const { definition, reference } = options;
  const tracks = clipsOf(reading, place);
  const clip = tracks[clipIndex];
  const stated = reading.rig.clips[clipIndex];
  const ownFramesPerSecond = ownRate(clip, statedRate(reading.rig, clipIndex));
  const pose = poseOf(
    reference,
    clipIndex,
    { rate: ownFramesPerSecond, seconds: stated.durationSeconds, name: clip.name },
    place,
  );
  const fit = fitByItself(reading, definition, pose, place);
  const motion = captureMotion(
    fit.fitted,
    clip,
    {
      framesPerSecond: options.framesPerSecond ?? ownFramesPerSecond,
      droppedFrame: reference.kind === 'frame' ? { frame: reference.frame, framesPerSecond: ownFramesPerSecond } : null,
      morphNames: morphNamesOf(reading.document),
    },
    place,
  );
  return { fit, motion };
}

/** @throws {YarvoError} `no-clip` */
export function clipsOf(reading: CanonicalReading, place: string): MotionTracks {
  const tracks = motionOf(reading);
  if (tracks && tracks.length > 0) return tracks;
  throw new YarvoError({
    code: 'no-clip',
    message: 'The file holds no clip.',
    place,
    remedy: 'Export it with its motion, or give another file.',
  });
}

/** A format that states a rate; glTF has none, and what was counted from its keys is no statement. */
const statedRate = (rig: Rig, clip: number): number =>
  rig.source.clipRates.length > clip ? rig.source.clipRates[clip].framesPerSecond : 0;

function poseOf(
  reference: Reference,
  clip: number,
  { rate, seconds, name }: { rate: number; seconds: number; name: string },
  place: string,
): PoseSource {
  if (reference.kind !== 'frame') return { kind: reference.kind };
  const last = Math.round(seconds * rate);
  if (reference.frame > last)
    throw new YarvoError({
      code: 'bad-pose',
      message: `The clip "${name}" ends before frame ${reference.frame}.`,
      place: `${place}, clip "${name}"`,
      remedy: `Give a frame from 0 to ${last}.`,
    });
  return { kind: 'frame', clip, frame: reference.frame, isDropped: false };
}

/** A character that motions are written for. */
export interface CarryCharacter {
  readonly target: CarryTarget;
  readonly carrying: Carrying;
  readonly soles: Soles | null;
  readonly document: Document;
}

/**
 * A character matched and aligned by itself.
 * @param reading read for this purpose.
 * @param grounding how its feet stand.
 * @throws {YarvoError}
 */
export function readCarryCharacter(
  reading: CanonicalReading,
  definition: Definition,
  place: string,
  grounding: Grounding = 'leave',
): CarryCharacter & { readonly fit: AutoFit } {
  const fit = fitByItself(reading, definition, { kind: 'rest' }, place);
  const hips = fit.fitted.roleBones.get('hips') as number;
  const target: CarryTarget = {
    ...fit.fitted,
    spares: fit.match.spares,
    rootBone: topBoneAbove(parentsOf(fit.rig), hips),
    armOffsetDeg: null,
  };
  const { document, rig } = reading;
  const hasSoles = grounding !== 'leave' && rig.mesh.vertexCount > 0;
  const geometry = hasSoles ? readGeometry(document, rig, place) : null;
  const subject = withSoles({ target, carrying: { ...CARRYING, grounding }, soles: null }, geometry);
  return { fit, ...subject, document };
}

/** A carried motion in files. */
export interface CarriedFiles {
  readonly plan: CarryPlan;
  readonly glb: Uint8Array;
  readonly bvh: string;
}

/** How the character is written around its clip. */
export interface WrittenAs {
  readonly names: NamePlan;
  /** The pose that the file rests in. */
  readonly pose: RigPose;
  /** How much higher the figure is written, metres. */
  readonly lift: number;
}

/**
 * Carries a motion to a character and writes both: a GLB of the character, metres, Y up, facing +Z, with that one clip;
 * and the motion as BVH.
 * @param as by default under its own names, in its reference posture, on the floor.
 */
export async function writeCarried(
  motion: Motion,
  character: CarryCharacter,
  travel: RootTravel,
  as?: WrittenAs,
): Promise<CarriedFiles> {
  const { target, carrying, soles } = character;
  const { rig, normalisation } = target;
  const { names, pose, lift } = as ?? asItStands(motion, target, travel);
  const { standing } = referenceFigure(target, target.spares);
  const origin = [0, -lift, 0] as const;
  const isRootDriven = names.addsRoot && travel.components.length > 0 && target.rootBone === null;
  const plan = planCarry(motion, target, {
    carrying,
    travel,
    spaces: writtenSpaces(target, standing, origin),
    fileSpaces: fileSpaces(target),
    addedRoot: isRootDriven ? origin : null,
  });
  const { carrier } = groundedCarrier(plan, carrying, soles);
  const blocks = [carrier.carry(0, motion.frameCount)];
  const bvh = writeBvh(plan, carrier.placedBones, blocks);
  const document = cloneDocument(character.document);
  const nodes = document.getRoot().listNodes();
  writeHandoff(document, rig, planSkeleton(rig, pose, normalisation, lift), names);
  const root = isRootDriven
    ? (document
        .getRoot()
        .listNodes()
        .find((node) => node.getName() === names.rootName) ?? null)
    : null;
  writeClip(document, motion, channelsOf(plan, carrier, blocks[0], nodes, root));
  document.getRoot().getAsset().generator = 'Yarvo carry';
  return { plan, glb: await createNodeIO().writeBinary(document), bvh };
}

function asItStands(motion: Motion, target: CarryTarget, travel: RootTravel): WrittenAs {
  const { rig, definition, pose } = target;
  const isSame = motion.own?.signature === skeletonSignature(rig);
  const addsRoot = travel.components.length > 0 && target.rootBone === null;
  const rootName = freeName(definition.root.exportName, rig);
  return { names: { ...ownNames(rig), addsRoot, rootName }, pose, lift: isSame ? 0 : liftOf(target) };
}

/** Without a mesh the lowest joint is no sole: only a figure that clearly stands elsewhere is put on the floor. */
const RAISED_SHARE = 0.1;

/** How much higher a figure is written whose origin is not on the floor; metres. */
function liftOf({ rig, normalisation, roleBones }: CarryTarget): number {
  const raised = findRaisedOrigin(rig, normalisation, roleBones);
  const away = raised?.solesBelowMetres ?? 0;
  return Math.abs(away) > RAISED_SHARE * normalisation.heightMetres ? away : 0;
}

function freeName(wanted: string, { bones }: Rig): string {
  const taken = new Set(bones.map(({ name }) => name));
  let name = wanted;
  for (let count = 2; taken.has(name); count++) name = `${wanted}_${count}`;
  return name;
}

type Nodes = ReturnType<ReturnType<Document['getRoot']>['listNodes']>;

function channelsOf(
  plan: CarryPlan,
  carrier: MotionCarrier,
  frames: CarriedFrames,
  nodes: Nodes,
  root: Nodes[number] | null,
): ClipChannel[] {
  const bones = plan.target.rig.bones.map(({ nodeIndex }) => nodes[nodeIndex]);
  const drivenCount = plan.driven.length;
  const placed = carrier.placedBones;
  const channels: ClipChannel[] = [
    ...plan.driven.map(({ boneIndex }, at): ClipChannel => ({
      node: bones[boneIndex],
      path: 'rotation',
      values: columnOf(frames.rotations, drivenCount * 4, at * 4, 4),
    })),
    ...placed.map((bone, at): ClipChannel => ({
      node: bones[bone],
      path: 'translation',
      values: columnOf(frames.translations, placed.length * 3, at * 3, 3),
    })),
    ...plan.scaled.map(({ boneIndex, values }): ClipChannel => {
      const rest = plan.target.rig.bones[boneIndex].rest.scale;
      return { node: bones[boneIndex], path: 'scale', values: values.map((value, at) => value / rest[at % 3]) };
    }),
    ...morphChannels(plan, nodes, frames),
  ];
  if (root) {
    channels.push(
      { node: root, path: 'translation', values: lifted(columnOf(frames.addedRoot, 7, 0, 3), plan) },
      { node: root, path: 'rotation', values: columnOf(frames.addedRoot, 7, 3, 4) },
    );
  }
  return channels;
}

/** An added root stands at the origin of what is written, which lies at the floor. */
function lifted(places: Float32Array, plan: CarryPlan): Float32Array {
  const floor = plan.spaces[plan.chain[0] ?? plan.hips].place[1];
  return places.map((value, at) => (at % 3 === 1 ? value - floor : value));
}

/** Morph targets by name; on the source's own character the motion's by node, and by name what follows joints. */
function morphChannels(
  { isSameSkeleton, morphs: plan, motion }: CarryPlan,
  nodes: Nodes,
  frames: CarriedFrames,
): ClipChannel[] {
  const own = isSameSkeleton && motion.own ? motion.own.morphs : [];
  return nodes.flatMap((node, nodeIndex): ClipChannel[] => {
    const mesh = node.getMesh();
    if (!mesh) return [];
    const names = morphTargetNames(mesh);
    const known = own.find((morph) => morph.nodeIndex === nodeIndex);
    const places = names.map((name) => plan.morphs.indexOf(name));
    if (!known && places.every((place) => place < 0)) return [];
    const size = known?.count ?? names.length;
    const values = new Float32Array(frames.count * size);
    for (let frame = 0; frame < frames.count; frame++)
      for (let at = 0; at < size; at++) {
        const byNode = known?.weights[frame * size + at];
        const place = places[at] ?? -1;
        const byName = place < 0 ? 0 : frames.morphs[frame * plan.morphs.length + place];
        // What the motion tells is in both: by node it is exact, and joints only add to it.
        values[frame * size + at] = byNode === undefined ? byName : Math.max(byNode, byName);
      }
    return [{ node, path: 'weights', values }];
  });
}
