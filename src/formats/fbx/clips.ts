import type { Vec3 } from '@/core/math/vec3';
import { TrackRecorder } from '../scene/track-recorder';
import type { DraftClip } from '../scene/scene-draft';
import { readCurve, TICKS_PER_SECOND, type Curve } from './curves';
import { fbxError } from './fbx-tree';
import type { FbxObject, FbxObjects } from './objects';
import type { FbxSkeleton } from './models';
import type { Animated } from './transform';

/** Frames a second by the format's time mode; 14 is the file's own. */
const RATES = [30, 120, 100, 60, 50, 48, 30, 30, 29.97, 29.97, 25, 24, 1000, 23.976, 0, 96, 72, 59.94, 119.88];
const MAX_FRAMES = 200_000;
const CHANNELS = { 'Lcl Translation': 'translation', 'Lcl Rotation': 'rotationDeg', 'Lcl Scaling': 'scaling' } as const;

function framesPerSecond({ settings }: FbxObjects): number {
  const rate = RATES[settings.number('TimeMode', 0)] || settings.number('CustomFrameRate', 30);
  return rate > 0 && rate <= 1000 ? rate : 30;
}

type Channel = (typeof CHANNELS)[keyof typeof CHANNELS];
/** Per model and channel: the animated axes with the value of the others. */
interface Animation {
  readonly curves: readonly (Curve | null)[];
  readonly defaults: Vec3;
  readonly isAdded: boolean;
}

export interface FbxClip extends DraftClip {
  readonly framesPerSecond: number;
  readonly startSeconds: number;
  readonly remarks: readonly string[];
}

/** All takes of the file, sampled at its rate; a take without keys is left out. @throws {YarvoError} */
export function readClips(objects: FbxObjects, skeleton: FbxSkeleton): FbxClip[] {
  const rate = framesPerSecond(objects);
  return objects.all
    .filter((object) => object.kind === 'AnimationStack')
    .flatMap((stack) => readTake(objects, skeleton, stack, rate) ?? []);
}

function readTake(objects: FbxObjects, skeleton: FbxSkeleton, stack: FbxObject, rate: number): FbxClip | null {
  const animated = new Map<FbxObject, Map<Channel, Animation[]>>();
  const layers = objects.childrenOf(stack, 'AnimationLayer');
  layers.forEach(({ object: layer }, layerIndex) => {
    for (const { object: curveNode } of objects.childrenOf(layer, 'AnimationCurveNode')) {
      const target = objects.parentsOf(curveNode, 'Model').find((link) => link.property in CHANNELS);
      if (!target) continue;
      const channel = CHANNELS[target.property as keyof typeof CHANNELS];
      const animation = readCurveNode(objects, curveNode, layerIndex > 0);
      if (!animation) continue;
      const ofModel = animated.get(target.object) ?? new Map<Channel, Animation[]>();
      ofModel.set(channel, [...(ofModel.get(channel) ?? []), animation]);
      animated.set(target.object, ofModel);
    }
  });
  if (animated.size === 0) return null;
  const { start, stop, keyFactor } = rangeOf(stack, animated);
  const frameCount = Math.round((stop - start) * rate) + 1;
  if (!(frameCount <= MAX_FRAMES))
    throw fbxError(
      'too-long',
      `The take "${stack.name}" has ${frameCount} frames.`,
      stack.node.place,
      `Cut it to under ${MAX_FRAMES} frames.`,
    );
  const times = sampleTimes(animated, { start, stop, keyFactor, rate, frameCount });
  const recorder = new TrackRecorder(times.length, (sample) => times[sample] - start);
  for (let frame = 0; frame < times.length; frame++) {
    const seconds = times[frame];
    const locals = skeleton.localsWith(
      (model) => animate(animated.get(model), skeleton.stackOf(model), seconds * keyFactor),
      animated,
    );
    for (const [node, local] of locals) recorder.record(node, frame, local);
  }
  const remarks = layers.length > 1 ? [`The take "${stack.name}" has ${layers.length} layers; they are added up.`] : [];
  if (keyFactor !== 1)
    remarks.push(
      `The keys of the take "${stack.name}" were written ${keyFactor} times too late, as one converter does; they are read within the take's own range.`,
    );
  return { name: stack.name, tracks: recorder.tracks(), framesPerSecond: rate, startSeconds: start, remarks };
}

function readCurveNode(objects: FbxObjects, curveNode: FbxObject, isAdded: boolean): Animation | null {
  const curves: (Curve | null)[] = [null, null, null];
  for (const { object, property } of objects.childrenOf(curveNode, 'AnimationCurve')) {
    const axis = ['d|X', 'd|Y', 'd|Z'].indexOf(property);
    if (axis >= 0) curves[axis] = readCurve(object);
  }
  if (!curves.some(Boolean)) return null;
  const defaults = ['d|X', 'd|Y', 'd|Z'].map((name) => curveNode.properties.number(name, NaN)) as unknown as Vec3;
  return { curves, defaults, isAdded };
}

function animate(
  channels: ReadonlyMap<Channel, readonly Animation[]> | undefined,
  rest: Record<Channel, Vec3>,
  seconds: number,
): Animated {
  const out: Partial<Record<Channel, Vec3>> = {};
  for (const [channel, layers] of channels ?? []) {
    let value = [...rest[channel]];
    for (const layer of layers) {
      const own = layer.curves.map(
        (curve, axis) =>
          curve?.at(seconds) ?? (Number.isFinite(layer.defaults[axis]) ? layer.defaults[axis] : rest[channel][axis]),
      );
      if (!layer.isAdded) value = own;
      else
        value =
          channel === 'scaling'
            ? value.map((base, axis) => base * own[axis])
            : value.map((base, axis) => base + (layer.curves[axis] ? own[axis] : 0));
    }
    out[channel] = value as unknown as Vec3;
  }
  return out;
}

/** Closer together than this, two times are one; a tenth of the shortest frame. */
const SAME_TIME_SECONDS = 1e-4;

/** The take's frames, and the keys that lie between them: neither the rate nor a key is lost. */
function sampleTimes(
  animated: ReadonlyMap<FbxObject, ReadonlyMap<Channel, readonly Animation[]>>,
  take: { start: number; stop: number; keyFactor: number; rate: number; frameCount: number },
): number[] {
  const times = Array.from({ length: take.frameCount }, (_, frame) =>
    Math.min(take.stop, take.start + frame / take.rate),
  );
  const lists = new Set(
    [...animated.values()].flatMap((channels) =>
      [...channels.values()].flat().flatMap(({ curves }) => curves.flatMap((curve) => (curve ? [curve.times] : []))),
    ),
  );
  const keys = new Set<number>();
  for (const list of lists) for (const time of list) keys.add(time / take.keyFactor);
  if (keys.size > MAX_FRAMES) return times;
  for (const key of keys) if (key > take.start && key < take.stop) times.push(key);
  return times
    .sort((a, b) => a - b)
    .filter((time, at, sorted) => at === 0 || time - sorted[at - 1] > SAME_TIME_SECONDS);
}

/** A widely used converter writes key times in thousandths under a header in seconds. */
const LATE_KEYS = 1000;

/**
 * The take's own range, or the span of its keys where it states none; `keyFactor` says how many times later than the
 * range the keys were written.
 */
function rangeOf(
  stack: FbxObject,
  animated: ReadonlyMap<FbxObject, ReadonlyMap<Channel, readonly Animation[]>>,
): { start: number; stop: number; keyFactor: number } {
  let [first, last] = [Infinity, -Infinity];
  for (const channels of animated.values()) {
    for (const { curves } of [...channels.values()].flat()) {
      for (const curve of curves) {
        if (!curve) continue;
        first = Math.min(first, curve.times[0]);
        last = Math.max(last, curve.times[curve.times.length - 1]);
      }
    }
  }
  const [start, stop] = [
    stack.properties.number('LocalStart', 0) / TICKS_PER_SECOND,
    stack.properties.number('LocalStop', 0) / TICKS_PER_SECOND,
  ];
  if (!(stop > start)) return { start: first, stop: last, keyFactor: 1 };
  const isLate = Math.abs(last / stop / LATE_KEYS - 1) < 0.005 && first <= start * LATE_KEYS + 1;
  return { start, stop, keyFactor: isLate ? LATE_KEYS : 1 };
}
