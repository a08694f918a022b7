import { YarvoError } from '@/core/errors/yarvo-error';
import { fromAxisAngle, multiply, normalise, type Quat } from '@/core/math/quat';
import { X_AXIS, Y_AXIS, Z_AXIS, type Vec3 } from '@/core/math/vec3';
import { gltfFacts } from '@/core/rig/source-facts';
import { NO_TRANSFORM, type DraftNode, type SceneDraft } from '../scene/scene-draft';
import { TrackRecorder } from '../scene/track-recorder';

const LIMITS = { joints: 20_000, depth: 1_000, frames: 1_000_000, numbers: 60_000_000 } as const;
const AXES = { X: X_AXIS, Y: Y_AXIS, Z: Z_AXIS };
type Letter = keyof typeof AXES;

interface Channel {
  readonly node: number;
  readonly kind: 'position' | 'rotation';
  readonly axis: Letter;
}

/**
 * A BVH file: skeleton and one motion. Channels in any order, several roots, joints without channels; an end site is a
 * tip named after its joint. The format states neither unit nor axes.
 * @throws {YarvoError} naming the line.
 */
export function readBvh(text: string, place: string): SceneDraft {
  const words = new WordReader(text, place);
  words.expect('HIERARCHY');
  const nodes: DraftNode[] = [];
  const channels: Channel[] = [];
  while (words.peek()?.toUpperCase() === 'ROOT') {
    words.next();
    readJoint(words, nodes, channels, -1, 0);
  }
  if (nodes.length === 0) throw words.error('no-joints', 'The hierarchy holds no ROOT.');
  const remarks = ['The format states neither unit nor axes; both are measured on the body.'];
  const draft = { nodes, meshes: [], materials: [], textures: [] };
  if (words.peek() === null) {
    return { ...draft, clips: [], facts: facts([...remarks, 'The file has a skeleton and no motion.'], []) };
  }
  const motion = readMotion(words, nodes, channels);
  return {
    ...draft,
    clips: motion.tracks.length > 0 ? [{ name: 'motion', tracks: motion.tracks }] : [],
    facts: facts(
      remarks,
      motion.tracks.length > 0
        ? [{ framesPerSecond: motion.frameSeconds > 0 ? 1 / motion.frameSeconds : 0, startSeconds: 0 }]
        : [],
    ),
  };
}

const facts = (remarks: readonly string[], clipRates: { framesPerSecond: number; startSeconds: number }[]) =>
  gltfFacts({ format: 'bvh', version: '', unitMetres: null, up: null, remarks: [...remarks], clipRates });

function readJoint(words: WordReader, nodes: DraftNode[], channels: Channel[], parent: number, depth: number): void {
  if (nodes.length >= LIMITS.joints) throw words.error('too-many', `More than ${LIMITS.joints} joints.`);
  if (depth > LIMITS.depth) throw words.error('too-deep', `Joints are nested more than ${LIMITS.depth} deep.`);
  const name = words.line();
  const node = nodes.push({ name, parent, rest: NO_TRANSFORM, kind: 'joint' }) - 1;
  words.expect('{');
  for (;;) {
    const word = words.next();
    switch (word.toUpperCase()) {
      case 'OFFSET':
        nodes[node].rest = { ...NO_TRANSFORM, translation: [words.number(), words.number(), words.number()] };
        break;
      case 'CHANNELS':
        for (let left = words.count(64); left > 0; left--) channels.push(channelOf(words, node));
        break;
      case 'JOINT':
        readJoint(words, nodes, channels, node, depth + 1);
        break;
      case 'END': {
        words.expect('Site');
        words.line();
        words.expect('{');
        words.expect('OFFSET');
        nodes.push({
          name: `${name} end`,
          parent: node,
          rest: { ...NO_TRANSFORM, translation: [words.number(), words.number(), words.number()] },
          kind: 'joint',
        });
        words.expect('}');
        break;
      }
      case '}':
        return;
      default:
        throw words.error('bad-text', `"${word.slice(0, 30)}" is not a part of a joint.`);
    }
  }
}

function channelOf(words: WordReader, node: number): Channel {
  const word = words.next();
  const parts = /^([XYZ])(position|rotation)$/i.exec(word);
  if (!parts)
    throw words.error(
      'unknown-channel',
      `"${word.slice(0, 30)}" is not a channel; positions and rotations about X, Y and Z are read.`,
    );
  return { node, axis: parts[1].toUpperCase() as Letter, kind: parts[2].toLowerCase() as Channel['kind'] };
}

function readMotion(words: WordReader, nodes: readonly DraftNode[], channels: readonly Channel[]) {
  words.expect('MOTION');
  words.expect('Frames:');
  const frames = words.count(LIMITS.frames);
  words.expect('Frame');
  words.expect('Time:');
  const frameSeconds = words.number();
  // A file with one frame is a pose: how long it lasts says nothing.
  const isPossible = frames > 1 ? frameSeconds >= 1e-5 && frameSeconds <= 3600 : frameSeconds >= 0;
  if (!isPossible)
    throw words.error('bad-number', `A frame time of ${frameSeconds} s; 0.00001 s to an hour can be read.`);
  if (frames * channels.length > LIMITS.numbers)
    throw words.error(
      'too-many',
      `${frames} frames of ${channels.length} channels are more than ${LIMITS.numbers} numbers.`,
    );
  const recorder = new TrackRecorder(frames, (frame) => frame * frameSeconds);
  const moved = [...new Set(channels.map((channel) => channel.node))];
  for (let frame = 0; frame < frames; frame++) {
    const places = new Map<number, [number, number, number]>();
    const turns = new Map<number, Quat>();
    for (const { node, kind, axis } of channels) {
      const value = words.number();
      if (kind === 'rotation') {
        // Channels turn in the order they are listed, each in the frame the earlier ones left.
        const turn = fromAxisAngle(AXES[axis], (value * Math.PI) / 180);
        const before = turns.get(node);
        turns.set(node, before ? multiply(before, turn) : turn);
      } else {
        const place = places.get(node) ?? [...nodes[node].rest.translation];
        // A position stands in place of the offset on its axis.
        place['XYZ'.indexOf(axis)] = value;
        places.set(node, place as [number, number, number]);
      }
    }
    for (const node of moved) {
      recorder.record(node, frame, {
        translation: (places.get(node) ?? nodes[node].rest.translation) as Vec3,
        rotation: normalise(turns.get(node) ?? [0, 0, 0, 1]),
        scale: [1, 1, 1],
      });
    }
  }
  return { tracks: frames > 0 ? recorder.tracks() : [], frameSeconds };
}

class WordReader {
  private at = 0;

  constructor(
    private readonly text: string,
    private readonly place: string,
  ) {}

  error(code: string, message: string): YarvoError {
    let line = 1;
    for (let at = this.text.indexOf('\n'); at >= 0 && at < this.at; at = this.text.indexOf('\n', at + 1)) line++;
    return new YarvoError({
      code,
      message,
      place: `${this.place}, line ${line}`,
      remedy: 'Export the motion again; this part of it is damaged.',
    });
  }

  private skip(): void {
    while (this.at < this.text.length && this.text.charCodeAt(this.at) <= 32) this.at++;
  }

  peek(): string | null {
    const here = this.at;
    this.skip();
    if (this.at >= this.text.length) return null;
    const word = this.next();
    this.at = here;
    return word;
  }

  next(): string {
    this.skip();
    const start = this.at;
    while (this.at < this.text.length && this.text.charCodeAt(this.at) > 32) this.at++;
    if (start === this.at) throw this.error('truncated', 'The file ends too early.');
    return this.text.slice(start, this.at);
  }

  /** The rest of the line: a name, which may hold blanks. An opening brace on it is left for the next word. */
  line(): string {
    const end = this.text.indexOf('\n', this.at);
    const rest = this.text.slice(this.at, end < 0 ? this.text.length : end);
    const brace = rest.trimEnd().endsWith('{') ? rest.lastIndexOf('{') : rest.length;
    this.at += brace;
    return rest.slice(0, brace).trim();
  }

  expect(wanted: string): void {
    const word = this.peek();
    if (word?.toUpperCase() !== wanted.toUpperCase())
      throw this.error(
        word === null ? 'truncated' : 'bad-text',
        `"${wanted}" is expected${word === null ? ', but the file ends.' : `, not "${word.slice(0, 30)}".`}`,
      );
    this.next();
  }

  number(): number {
    const word = this.next();
    const value = Number(word.replace(',', '.'));
    if (!Number.isFinite(value)) throw this.error('bad-number', `"${word.slice(0, 30)}" is not a number.`);
    return value;
  }

  count(most: number): number {
    const value = this.number();
    if (!Number.isInteger(value) || value < 0 || value > most)
      throw this.error('bad-number', `${value} is not a count up to ${most}.`);
    return value;
  }
}
