import {
  AnimationMixer,
  Bone,
  Quaternion,
  Skeleton,
  SkinnedMesh,
  BufferGeometry,
  Object3D,
  type AnimationClip,
} from 'three';
import { retargetClip } from 'three/addons/utils/SkeletonUtils.js';
import { QUAY } from '@/core/definition/quay';
import type { ClipTracks } from '@/core/clips/motion-tracks';
import { captureMotion } from '@/core/motion/capture-motion';
import { MotionCarrier } from '@/core/motion/carry-frames';
import { CARRYING, NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import { planCarry, type CarryTarget } from '@/core/motion/carry-plan';
import type { FittedRig } from '@/core/motion/fitted-rig';
import { fileSpaces } from '@/core/motion/joint-spaces';
import { writeProduct } from '@/core/math/quat-arrays';
import { clipsOf, readCarryCharacter } from '@/pipeline/carry';
import { fitByItself } from '@/pipeline/fitted-source';
import { readSource } from '@/pipeline/read-files';
import { degreesBetween } from '../../tests/helpers/carry-maker';
import {
  LIVELY,
  makeFigure,
  PLAIN_FIGURE,
  turnsAt,
  writeFigureGlb,
  type FigureSpec,
  type MadeMotion,
} from '../../tests/helpers/moving-figure';
import { loadWithThree } from '../../tests/helpers/three-oracle';

/** How fast motion is carried, against three's own retargeting and against a bare loop of as many quaternion products. */
export interface Speed {
  readonly frames: number;
  readonly bones: number;
  readonly captureMs: number;
  readonly carryMs: number;
  readonly threeMs: number;
  readonly bareMs: number;
  readonly products: number;
  /** Largest angle to the truth over all bones, degrees. */
  readonly ourErrorDeg: number;
  readonly threeErrorDeg: number;
}

const FROM: FigureSpec = { ...PLAIN_FIGURE, axes: 2, hasSkin: true };
const TO: FigureSpec = { ...PLAIN_FIGURE, axes: 3, armsDownDeg: 40, legs: 0.9, hasSkin: true };
/** The quickest of so many counts: whatever else the machine does only adds to it. */
const RUNS = 7;

const motionOf = (seconds: number, framesPerSecond: number): MadeMotion => ({ ...LIVELY, seconds, framesPerSecond });

interface Subject {
  readonly source: FittedRig;
  readonly clip: ClipTracks;
  readonly target: CarryTarget;
  readonly bytes: { readonly from: Uint8Array; readonly to: Uint8Array };
}

async function subjectOf(motion: MadeMotion): Promise<Subject> {
  const bytes = { from: await writeFigureGlb(FROM, motion), to: await writeFigureGlb(TO, null) };
  const reading = await readSource({ path: 'from.glb', bytes: bytes.from }, []);
  const [clip] = clipsOf(reading, 'from.glb');
  const source = fitByItself(reading, QUAY, { kind: 'rest' }, 'from.glb').fitted;
  const { target } = readCarryCharacter(await readSource({ path: 'to.glb', bytes: bytes.to }, []), QUAY, 'to.glb');
  return { source, clip, target, bytes };
}

/** Captures and carries once; times in milliseconds. */
function carryOnce({ source, clip, target }: Subject, framesPerSecond: number) {
  const start = performance.now();
  const motion = captureMotion(source, clip, { framesPerSecond });
  const captured = performance.now();
  const spaces = fileSpaces(target);
  const plan = planCarry(motion, target, { carrying: CARRYING, travel: NO_ROOT_TRAVEL, spaces, fileSpaces: spaces });
  const carrier = new MotionCarrier(plan);
  const frames = carrier.carry(0, motion.frameCount);
  return { captureMs: captured - start, carryMs: performance.now() - captured, motion, plan, frames };
}

/** As many products as carrying makes for each bone and frame, in one flat loop. */
function bareLoop(frames: number, bones: number, perBone: number): number {
  const values = new Float64Array(bones * 4 * 2).fill(0.5);
  const start = performance.now();
  for (let frame = 0; frame < frames; frame++)
    for (let bone = 0; bone < bones; bone++)
      for (let each = 0; each < perBone; each++) writeProduct(values, bone * 4, values, bone * 4, values, bones * 4);
  const end = performance.now();
  // Read once, so that nothing of it can be left out.
  if (Number.isNaN(values[0])) throw new Error('the bare loop ran away');
  return end - start;
}

/** Products that a bone costs in a frame: two to read it (parent and rest), three to carry it (difference and both sides). */
const PRODUCTS = 5;

export async function measureSpeed(seconds = 60, framesPerSecond = 60): Promise<Speed> {
  const motion = motionOf(seconds, framesPerSecond);
  const subject = await subjectOf(motion);
  const ours: { capture: number; carry: number }[] = [];
  const theirs: number[] = [];
  const bare: number[] = [];
  let last = carryOnce(subject, framesPerSecond);
  const three = await threeSubject(subject);
  let retargeted: AnimationClip | null = null;
  for (let run = 0; run < RUNS; run++) {
    last = carryOnce(subject, framesPerSecond);
    ours.push({ capture: last.captureMs, carry: last.carryMs });
    bare.push(bareLoop(last.motion.frameCount, last.plan.driven.length, PRODUCTS));
    if (run < 3) {
      const start = performance.now();
      retargeted = three.retarget(framesPerSecond);
      theirs.push(performance.now() - start);
    }
  }
  const errors = errorsOf(subject, last, motion, three, retargeted as AnimationClip);
  return {
    frames: last.motion.frameCount,
    bones: last.plan.driven.length,
    captureMs: Math.min(...ours.map(({ capture }) => capture)),
    carryMs: Math.min(...ours.map(({ carry }) => carry)),
    threeMs: Math.min(...theirs),
    bareMs: Math.min(...bare),
    products: PRODUCTS,
    ...errors,
  };
}

/** Time for each frame and bone at growing lengths, nanoseconds; and what the arrays of a motion take, bytes. */
export async function measureGrowth(lengths: readonly number[]) {
  const rows: { frames: number; nanoseconds: number; bytesPerFrame: number }[] = [];
  for (const frames of lengths) {
    const subject = await subjectOf(motionOf((frames - 1) / 60, 60));
    const times: number[] = [];
    let bytes = 0;
    let bones = 1;
    for (let run = 0; run < 3; run++) {
      const { captureMs, carryMs, motion, plan, frames: carried } = carryOnce(subject, 60);
      times.push(captureMs + carryMs);
      bones = plan.driven.length;
      bytes =
        motion.rotations.byteLength +
        motion.hips.byteLength +
        carried.rotations.byteLength +
        carried.translations.byteLength;
    }
    rows.push({ frames, nanoseconds: (Math.min(...times) * 1e6) / frames / bones, bytesPerFrame: bytes / frames });
  }
  return rows;
}

interface ThreeSubject {
  readonly target: SkinnedMesh;
  readonly retarget: (framesPerSecond: number) => AnimationClip;
}

/** The same two rigs as three's function wants them: skinned meshes, bone names, hips. */
async function threeSubject({ bytes }: Subject): Promise<ThreeSubject> {
  const [from, to] = [await loadWithThree(bytes.from), await loadWithThree(bytes.to)];
  const meshOf = (scene: Object3D): SkinnedMesh => {
    const bones: Bone[] = [];
    scene.traverse((object) => {
      if ((object as Bone).isBone) bones.push(object as Bone);
    });
    const mesh = new SkinnedMesh(new BufferGeometry());
    mesh.add(bones[0]);
    mesh.bind(new Skeleton(bones));
    mesh.updateMatrixWorld(true);
    return mesh;
  };
  const [source, target] = [meshOf(from.scene), meshOf(to.scene)];
  const [clip] = from.animations;
  return {
    target,
    retarget: (framesPerSecond) => {
      target.pose();
      source.pose();
      return retargetClip(target, source, clip, {
        fps: framesPerSecond,
        hip: 'pelvis',
        preserveBonePositions: true,
        useFirstFramePosition: false,
      } as never);
    },
  };
}

function errorsOf(
  { target }: Subject,
  { frames, plan }: ReturnType<typeof carryOnce>,
  motion: MadeMotion,
  three: ThreeSubject,
  retargeted: AnimationClip,
): Pick<Speed, 'ourErrorDeg' | 'threeErrorDeg'> {
  const joints = makeFigure(TO);
  const counts = (line: string) => !/_end|ground/.test(line);
  let [ourErrorDeg, threeErrorDeg] = [0, 0];
  const mixer = new AnimationMixer(three.target);
  mixer.clipAction(retargeted).play();
  const place = new Map(plan.driven.map(({ boneIndex }, at) => [boneIndex, at]));
  for (const frame of [0, 101, 700, 1801, 3003].filter((each) => each < frames.count)) {
    const t = frame / motion.framesPerSecond;
    const turns = turnsAt(joints, motion, t);
    const wanted = joints.map(({ axes }, at) => turns[at].clone().multiply(axes));
    const worlds: Quaternion[] = [];
    target.rig.bones.forEach(({ index, parent, rest }) => {
      const at = place.get(index);
      const local =
        at === undefined
          ? new Quaternion(...rest.rotation)
          : new Quaternion().fromArray(Array.from(frames.rotations), (frame * plan.driven.length + at) * 4);
      worlds[index] = parent < 0 ? local : worlds[parent].clone().multiply(local);
    });
    mixer.setTime(t);
    three.target.updateMatrixWorld(true);
    joints.forEach(({ name, line }, at) => {
      if (!counts(line)) return;
      const ours = target.rig.bones.find((bone) => bone.name === name)?.index ?? 0;
      ourErrorDeg = Math.max(ourErrorDeg, degreesBetween(worlds[ours], wanted[at]));
      const theirs = three.target.skeleton.bones.find((bone) => bone.name === name);
      if (theirs)
        threeErrorDeg = Math.max(
          threeErrorDeg,
          degreesBetween(theirs.getWorldQuaternion(new Quaternion()), wanted[at]),
        );
    });
  }
  return { ourErrorDeg, threeErrorDeg };
}
