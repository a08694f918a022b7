import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { fromAxisAngle, rotate } from '@/core/math/quat';
import { scale, type Vec3 } from '@/core/math/vec3';
import { gltfFacts } from '@/core/rig/source-facts';
import type { Rig } from '@/core/rig/rig';
import { Random } from './random';

/** What is no humanoid, made from the same seeds on every machine. Written without a look at the rules that refuse it. */
interface Part {
  readonly word: string;
  readonly parent: number;
  readonly place: Vec3;
}

type Maker = (random: Random) => Part[];

class Builder {
  readonly parts: Part[] = [];
  add(word: string, parent: number, place: Vec3): number {
    return this.parts.push({ word, parent, place }) - 1;
  }
  chain(words: readonly string[], parent: number, places: readonly Vec3[]): number {
    return places.reduce(
      (above, place, at) => this.add(words[at] ?? `${words[words.length - 1]} ${at}`, above, place),
      parent,
    );
  }
}

const SIDES = [
  ['left', 1],
  ['right', -1],
] as const;
const line = (from: Vec3, to: Vec3, count: number): Vec3[] =>
  Array.from(
    { length: count },
    (_, at) =>
      [0, 1, 2].map((axis) => from[axis] + ((to[axis] - from[axis]) * at) / Math.max(1, count - 1)) as unknown as Vec3,
  );

const fourLegged: Maker = (random) => {
  const builder = new Builder();
  const [height, length, width] = [random.range(0.5, 1.3), random.range(0.7, 1.5), random.range(0.12, 0.3)];
  const spine = builder.chain(
    ['croup', 'loin', 'back', 'withers'],
    -1,
    line([0, height, -length / 2], [0, height * random.range(0.95, 1.1), length / 2], random.int(3, 5)),
  );
  const neck = builder.chain(
    ['neck'],
    spine,
    line([0, height * 1.1, length * 0.6], [0, height * random.range(1.2, 1.7), length * 0.8], random.int(1, 4)),
  );
  builder.chain(['head', 'muzzle'], neck, line([0, height * 1.6, length * 0.85], [0, height * 1.5, length * 1.1], 2));
  builder.chain(
    ['tail'],
    0,
    line([0, height * 0.95, -length * 0.6], [0, height * 0.5, -length * 0.8], random.int(2, 6)),
  );
  for (const [side, sign] of SIDES) {
    const x = width * sign;
    const segments = random.int(3, 5);
    builder.chain(
      [`hind thigh ${side}`, `hind shank ${side}`, `hind paw ${side}`],
      0,
      line([x, height * 0.85, -length / 2], [x, 0.03, -length * 0.47], segments),
    );
    builder.chain(
      [`fore arm ${side}`, `fore shank ${side}`, `fore paw ${side}`],
      spine,
      line([x, height * 0.85, length / 2], [x, 0.03, length * 0.52], segments),
    );
    if (random.chance(0.6)) builder.add(`ear ${side}`, neck, [x * 0.4, height * 1.8, length * 0.85]);
  }
  return builder.parts;
};

const bird: Maker = (random) => {
  const builder = new Builder();
  const height = random.range(0.3, 0.9);
  const body = builder.chain(['body', 'breast'], -1, line([0, height, -0.15], [0, height * 1.1, 0.1], 2));
  const neck = builder.chain(
    ['neck'],
    body,
    line([0, height * 1.15, 0.15], [0, height * random.range(1.5, 2.1), 0.2], random.int(3, 6)),
  );
  const head = builder.add('head', neck, [0, height * 1.9, 0.26]);
  builder.add('beak', head, [0, height * 1.88, 0.4]);
  builder.chain(['tail feather'], 0, line([0, height * 0.95, -0.25], [0, height * 0.8, -0.45], 2));
  const spread = random.chance(0.5);
  for (const [side, sign] of SIDES) {
    builder.chain(
      [`wing ${side}`, `wing mid ${side}`, `wing tip ${side}`],
      body,
      spread
        ? line([0.1 * sign, height * 1.1, 0.05], [0.9 * sign, height * 1.15, -0.05], 3)
        : line([0.12 * sign, height * 1.1, 0.05], [0.13 * sign, height * 0.95, -0.35], 3),
    );
    builder.chain(
      [`leg ${side}`, `shank ${side}`, `claw ${side}`],
      0,
      line([0.07 * sign, height * 0.9, -0.05], [0.08 * sign, 0.02, 0.02], 3),
    );
  }
  return builder.parts;
};

const manyLegged: Maker = (random) => {
  const builder = new Builder();
  const body = builder.add('body', -1, [0, 0.3, 0]);
  const pairs = random.int(3, 6);
  for (let pair = 0; pair < pairs; pair++) {
    for (const [side, sign] of SIDES)
      builder.chain([`leg ${pair} ${side}`], body, [
        [0.1 * sign, 0.3, pair * 0.1 - 0.2],
        [0.35 * sign, 0.45, pair * 0.12 - 0.24],
        [0.55 * sign, 0.02, pair * 0.14 - 0.28],
      ]);
  }
  return builder.parts;
};

const snake: Maker = (random) => {
  const builder = new Builder();
  builder.chain(['coil'], -1, line([0, 0.1, -1], [0, 0.3, 1], random.int(12, 40)));
  return builder.parts;
};

const machine: Maker = (random) => {
  const builder = new Builder();
  const hull = builder.add('hull', -1, [0, 0.5, 0]);
  for (const [side, sign] of SIDES) {
    for (let at = 0; at < random.int(2, 4); at++)
      builder.add(`wheel ${at} ${side}`, builder.add(`axle ${at} ${side}`, hull, [0.3 * sign, 0.3, at * 0.8 - 0.8]), [
        0.5 * sign,
        0.3,
        at * 0.8 - 0.8,
      ]);
    builder.add(`door ${side}`, hull, [0.5 * sign, 0.8, 0.1]);
  }
  builder.chain(['crane', 'boom', 'hook'], hull, line([0, 1, 0.4], [0, 2, 1.2], random.int(2, 5)));
  return builder.parts;
};

const handOnly: Maker = (random) => {
  const builder = new Builder();
  const wrist = builder.chain(['forearm', 'wrist'], -1, line([0, 0, -0.25], [0, 0, 0], 2));
  for (let digit = 0; digit < random.int(4, 5); digit++)
    builder.chain([`finger ${digit}`], wrist, line([digit * 0.02 - 0.04, 0, 0.08], [digit * 0.025 - 0.05, 0, 0.16], 3));
  return builder.parts;
};

const hanging: Maker = (random) => {
  const builder = new Builder();
  const end = builder.chain(['link'], -1, line([0, 1.5, 0], [0, 0.6, 0], random.int(5, 14)));
  for (const [side, sign] of SIDES)
    builder.add(`flap ${side}`, builder.add(`case ${side}`, end, [0.05 * sign, 0.5, 0]), [0.08 * sign, 0.4, 0]);
  return builder.parts;
};

export const CREATURES: Readonly<Record<string, Maker>> = {
  'four legs': fourLegged,
  bird,
  'many legs': manyLegged,
  snake,
  machine,
  'hand alone': handOnly,
  'hanging prop': hanging,
};

function rigOf(parts: readonly Part[], random: Random, isNamed: boolean): Rig {
  const size = random.range(0.5, 2) * random.pick([1, 1, 1, 100]);
  const turn = fromAxisAngle([0, 1, 0], random.pick([0, 0, 90, 180]) * (Math.PI / 180));
  const places = parts.map((part) => scale(rotate(turn, part.place), size));
  return {
    source: gltfFacts(),
    kind: 'character',
    extras: [],
    clips: [],
    poses: [],
    statedRoles: {},
    skinCount: 1,
    remarks: [],
    mesh: {
      primitiveCount: 1,
      vertexCount: 1000,
      triangleCount: 2000,
      materialCount: 1,
      textureCount: 0,
      morphTargetCount: 0,
      maxInfluences: 4,
      bounds: null,
    },
    bones: parts.map((part, index) => {
      const above = part.parent >= 0 ? places[part.parent] : ([0, 0, 0] as const);
      const place = places[index];
      return {
        index,
        name: isNamed ? part.word.replaceAll(' ', '_') : `node ${index}`,
        isNamed,
        nodeIndex: index,
        parent: part.parent,
        rest: {
          translation: [place[0] - above[0], place[1] - above[1], place[2] - above[2]],
          rotation: [0, 0, 0, 1],
          scale: [1, 1, 1],
        },
        restWorld: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...place, 1],
        bindWorld: null,
        isJoint: true,
        skinWeight: 10,
        skinVertexCount: 10,
        skinCentre: null,
      };
    }),
  };
}

export interface CreatureTally {
  readonly rigs: number;
  readonly refused: number;
  /** Assignments that were proposed all the same. */
  readonly proposed: number;
}

/** One rig of a kind that is no humanoid; the same for the same number. @throws {RangeError} for a kind that is not known. */
export function makeCreature(kind: string, index: number, isNamed: boolean): Rig {
  const at = Object.keys(CREATURES).indexOf(kind);
  if (at < 0) throw new RangeError(`makeCreature: no kind ${kind}`);
  const random = new Random(7_000_003 + at * 10_007 + index);
  return rigOf(CREATURES[kind](random), random, isNamed);
}

/** How often each is refused as a humanoid, with its names and without. */
export function runCreatures(perKind: number): Map<string, CreatureTally> {
  const out = new Map<string, CreatureTally>();
  for (const kind of Object.keys(CREATURES)) {
    for (const isNamed of [true, false]) {
      let [refused, proposed] = [0, 0];
      for (let index = 0; index < perKind; index++) {
        const match = matchBones(makeCreature(kind, index, isNamed), QUAY);
        if (!match.creature.isHumanoid) refused++;
        proposed += Object.values(match.assignments).filter((entry) => entry.state === 'proposed').length;
      }
      out.set(`${kind}, ${isNamed ? 'named' : 'no names'}`, { rigs: perKind, refused, proposed });
    }
  }
  return out;
}
