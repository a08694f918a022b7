import type { DraftClip } from '../scene/scene-draft';
import { TrackRecorder } from '../scene/track-recorder';
import { restOf, stepsMatrix, type ColladaNode, type Step } from './nodes';
import { elementOf, readInputs, readSources, type Source } from './sources';
import { attribute, children, descendants, type Xml } from './xml';

/** One animated part of a node's transform stack. */
interface Channel {
  readonly node: ColladaNode;
  readonly step: number;
  /** First value of the step that is driven, and how many. */
  readonly at: number;
  readonly size: number;
  readonly times: readonly number[];
  readonly values: Source;
  readonly modes: readonly string[];
}

const MEMBERS: Record<string, number> = { X: 0, Y: 1, Z: 2, ANGLE: 3, R: 0, G: 1, B: 2, A: 3 };

export interface ColladaClip extends DraftClip {
  readonly framesPerSecond: number;
  readonly startSeconds: number;
}

/** Clips as the file groups them, or one of everything; says in `remarks` what it had to leave out. @throws {YarvoError} */
export function readClips(root: Xml, nodes: readonly ColladaNode[], place: string, remarks: string[]): ColladaClip[] {
  const animations = descendants(root, 'animation');
  const still: string[] = [];
  const channelsOf = new Map(animations.map((animation) => [animation, readChannels(animation, nodes, place, still)]));
  if (still.length > 0)
    remarks.push(
      `The motion of ${still[0]}${still.length > 1 ? ` and ${still.length - 1} more` : ''} names keys that the file does not hold; it is left out.`,
    );
  const clips: ColladaClip[] = [];
  for (const clip of descendants(root, 'animation_clip')) {
    const members = children(clip, 'instance_animation').flatMap((instance) => {
      const id = attribute(instance, 'url').replace(/^#/, '');
      const target = animations.find((animation) => attribute(animation, 'id') === id);
      return target ? [target, ...descendants(target, 'animation')] : [];
    });
    const range = [Number(clip.getAttribute('start') ?? NaN), Number(clip.getAttribute('end') ?? NaN)] as const;
    const made = makeClip(
      attribute(clip, 'name') || attribute(clip, 'id') || `clip ${clips.length}`,
      members.flatMap((member) => channelsOf.get(member) ?? []),
      range,
    );
    if (made) clips.push(made);
  }
  if (clips.length > 0) return clips;
  const all = makeClip(attribute(animations[0] ?? root, 'name') || 'motion', [...channelsOf.values()].flat(), [
    NaN,
    NaN,
  ]);
  return all ? [all] : [];
}

/** Channels that move a node; names in `still` the nodes whose keys are not there. @throws {YarvoError} */
function readChannels(animation: Xml, nodes: readonly ColladaNode[], place: string, still: string[]): Channel[] {
  const sources = readSources(animation, place);
  const samplers = new Map(children(animation, 'sampler').map((sampler) => [attribute(sampler, 'id'), sampler]));
  return children(animation, 'channel').flatMap((channel): Channel[] => {
    const sampler = samplers.get(attribute(channel, 'source').replace(/^#/, ''));
    const target = /^([^/]+)\/([^.(]+)(?:\.([A-Za-z]+))?((?:\(\d+\))*)$/.exec(attribute(channel, 'target'));
    const node = target && nodes.find((candidate) => candidate.id === target[1]);
    const step = node?.steps.findIndex((candidate) => candidate.sid === target?.[2]) ?? -1;
    if (!sampler || !target || !node || step < 0) return [];
    // One converter writes channels for nodes without keys and forgets their sources; the figure is whole all the same.
    if (children(sampler, 'input').some((input) => !sources.has(attribute(input, 'source').replace(/^#/, '')))) {
      still.push(attribute(node.element, 'name') || node.id);
      return [];
    }
    const inputs = readInputs(sampler, sources, undefined, place);
    const find = (semantic: string) => inputs.find((input) => input.semantic === semantic)?.source;
    const [time, values] = [find('INPUT'), find('OUTPUT')];
    if (!time || !values || time.count === 0) return [];
    const times = Array.from({ length: Math.min(time.count, values.count) }, (_, key) => elementOf(time, key, 1)[0]);
    const { at, size } = rangeOf(node.steps[step], target[3], target[4]);
    return [
      { node, step, at, size: Math.min(size, values.stride), times, values, modes: find('INTERPOLATION')?.names ?? [] },
    ];
  });
}

function rangeOf(step: Step, member: string | undefined, indices: string): { at: number; size: number } {
  if (member !== undefined) {
    const at = MEMBERS[member.toUpperCase()] ?? 0;
    return { at: Math.min(at, step.values.length - 1), size: 1 };
  }
  const [first, second] = [...indices.matchAll(/\((\d+)\)/g)].map(([, digits]) => Number(digits));
  if (first === undefined) return { at: 0, size: step.values.length };
  const at = second === undefined ? first : first * 4 + second;
  return { at: Math.min(at, step.values.length - 1), size: 1 };
}

/** Whole stacks are sampled at every time that one of their channels has a key. */
function makeClip(
  name: string,
  channels: readonly Channel[],
  [from, to]: readonly [number, number],
): ColladaClip | null {
  if (channels.length === 0) return null;
  const keyed = [...new Set(channels.flatMap((channel) => channel.times))].sort((a, b) => a - b);
  const inRange = keyed.filter((time) => !(time < from - 1e-6) && !(time > to + 1e-6));
  const times = inRange.length > 0 ? inRange : keyed;
  const start = times[0];
  const recorder = new TrackRecorder(times.length, (frame) => times[frame] - start);
  const byNode = new Map<ColladaNode, Channel[]>();
  for (const channel of channels) byNode.set(channel.node, [...(byNode.get(channel.node) ?? []), channel]);
  for (const [node, own] of byNode) {
    times.forEach((seconds, frame) => {
      const steps = node.steps.map((step) => ({ ...step, values: step.values.slice() }));
      for (const channel of own) steps[channel.step].values.set(sample(channel, seconds), channel.at);
      recorder.record(node.index, frame, restOf(stepsMatrix(steps)).rest);
    });
  }
  const span = times[times.length - 1] - start;
  return {
    name,
    tracks: recorder.tracks(),
    framesPerSecond: span > 0 ? (times.length - 1) / span : 0,
    startSeconds: start,
  };
}

/** Values at a time; steps hold, everything else is linear between its keys, which exporters bake densely. */
function sample({ times, values, size, modes }: Channel, seconds: number): number[] {
  const last = times.length - 1;
  if (seconds <= times[0]) return elementOf(values, 0, size);
  if (seconds >= times[last]) return elementOf(values, last, size);
  let [low, high] = [0, last];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (times[middle] <= seconds) low = middle;
    else high = middle;
  }
  const a = elementOf(values, low, size);
  if (modes[low] === 'STEP' || times[high] <= times[low]) return a;
  const t = (seconds - times[low]) / (times[high] - times[low]);
  return elementOf(values, high, size).map((value, at) => a[at] + (value - a[at]) * t);
}
