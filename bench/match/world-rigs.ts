import { compose, decompose, invertAffine, multiply, translationOf } from '@/core/math/mat4';
import { normalise as unitQuat, shortestArc, type Quat } from '@/core/math/quat';
import { add, distance, lengthOf, mean, normalise, scale, subtract, type Vec3 } from '@/core/math/vec3';
import type { Bone } from '@/core/rig/rig';
import { largestExtent } from '@/core/rig/rig-shape';
import type { MadeRig } from './make-rig';
import type { Random } from './random';

/**
 * Rebuilds of a made rig in the ways that rigs by other hands are built: trees in pieces, bones on one root, limbs of one
 * bone, segments in halves, digits under a target. The joints stay where they are; what changes is how they hang.
 */
export type Rebuild = (pieces: Piece[], random: Random) => void;

/** A bone of a made rig while it is rebuilt. */
interface Piece {
  name: string;
  isNamed: boolean;
  parent: Piece | null;
  place: Vec3;
  truth: string;
  skin: number;
  /** Where the body goes on from here, by the tree that it was made with. */
  goesOn: Vec3 | null;
}

const isSided = (part: string) => (piece: Piece) => piece.truth === `left${part}` || piece.truth === `right${part}`;
const isDigit = (piece: Piece): boolean => /^(left|right)(Thumb|Index|Middle|Ring|Little)/.test(piece.truth);
const rootOf = (pieces: readonly Piece[]): Piece | null => pieces.find((piece) => piece.truth === 'root') ?? null;
const childrenOf = (pieces: readonly Piece[], parent: Piece): Piece[] =>
  pieces.filter((piece) => piece.parent === parent);

function below(pieces: readonly Piece[], top: Piece): Piece[] {
  return childrenOf(pieces, top).flatMap((child) => [child, ...below(pieces, child)]);
}

function drop(pieces: Piece[], gone: ReadonlySet<Piece>): void {
  const kept = pieces.filter((piece) => !gone.has(piece));
  for (const piece of kept) while (piece.parent && gone.has(piece.parent)) piece.parent = piece.parent.parent;
  pieces.splice(0, pieces.length, ...kept);
}

/** Every bone stands for itself, or all hang on one root. */
const flat: Rebuild = (pieces, random) => {
  const root = random.chance(0.5) ? rootOf(pieces) : null;
  for (const piece of pieces) piece.parent = piece === root ? null : root;
};

/** Arms, legs and head are trees of their own; hands and feet too where chance says so. */
const inPieces: Rebuild = (pieces, random) => {
  const root = random.chance(0.5) ? rootOf(pieces) : null;
  const tops = [
    ...(pieces.some(isSided('Shoulder')) ? ['Shoulder'] : ['UpperArm']),
    'UpperLeg',
    ...(random.chance(0.3) ? ['Hand'] : []),
    ...(random.chance(0.4) ? ['Foot'] : []),
  ];
  for (const part of tops) for (const piece of pieces.filter(isSided(part))) piece.parent = root;
  if (random.chance(0.6)) for (const piece of pieces) if (piece.truth === 'head') piece.parent = root;
};

/** Feet stand under the root, so that they stay where they are put. */
const feetApart: Rebuild = (pieces) => {
  const root = rootOf(pieces);
  for (const piece of pieces.filter(isSided('Foot'))) piece.parent = root;
};

/** One bone for a leg, one or two for an arm, no digits, nothing beside the body. */
const toyLimbs: Rebuild = (pieces, random) => {
  const gone = new Set<Piece>();
  const parts = [random.chance(0.5) ? 'LowerArm' : 'Hand', 'LowerLeg'];
  for (const part of parts)
    for (const piece of pieces.filter(isSided(part)))
      for (const each of [piece, ...below(pieces, piece)]) gone.add(each);
  for (const piece of pieces) if (piece.truth.startsWith('spare:')) gone.add(piece);
  drop(pieces, gone);
  if (random.chance(0.5)) inPieces(pieces, random);
};

/** Each phalanx is cut in two, numbered twice where it has a name. */
const halves: Rebuild = (pieces) => {
  for (const piece of pieces.filter(isDigit)) {
    const [next] = childrenOf(pieces, piece);
    if (!next) continue;
    const half: Piece = {
      ...piece,
      name: piece.isNamed ? `${piece.name}_2` : piece.name,
      parent: piece,
      place: scale(add(piece.place, next.place), 0.5),
      truth: 'spare:twist',
    };
    if (piece.isNamed) piece.name = `${piece.name}_1`;
    next.parent = half;
    pieces.push(half);
  }
};

/** Digits hang on a target at the hand, the hand ends in nothing. */
const digitsOnTarget: Rebuild = (pieces) => {
  for (const hand of pieces.filter(isSided('Hand'))) {
    const target: Piece = {
      ...hand,
      name: hand.isNamed ? `${hand.name}_target` : hand.name,
      parent: rootOf(pieces) ?? pieces.find((piece) => piece.truth === 'hips') ?? null,
      truth: 'spare:control',
      skin: 0,
    };
    const held = childrenOf(pieces, hand);
    if (held.length === 0) continue;
    for (const piece of held) piece.parent = target;
    pieces.push(target);
  }
};

/** The limbs of both sides start at nearly one point in the middle. */
const fromTheMiddle: Rebuild = (pieces, random) => {
  for (const part of ['UpperLeg', 'UpperArm']) {
    const pair = pieces.filter(isSided(part));
    if (pair.length < 2 || (part === 'UpperArm' && pieces.some(isSided('Shoulder')))) continue;
    const middle = mean(pair.map((piece) => piece.place));
    for (const piece of pair) piece.place = add(middle, scale(subtract(piece.place, middle), 0.1));
  }
  if (random.chance(0.5)) inPieces(pieces, random);
};

export const TUNING_REBUILDS: Readonly<Record<string, Rebuild>> = {
  flat,
  'in-pieces': inPieces,
  'toy-limbs': toyLimbs,
  halves,
};

/** Held back from tuning: the other ways, and two at once. */
export const HELD_REBUILDS: Readonly<Record<string, Rebuild>> = {
  'feet-apart': feetApart,
  'digits-on-target': digitsOnTarget,
  'from-the-middle': fromTheMiddle,
  'halves-in-pieces': (pieces, random) => {
    halves(pieces, random);
    inPieces(pieces, random);
  },
};

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, -1],
];
/** Share of the rigs whose bones lie along an axis of their own, as most authoring tools make them. */
const ALONG_AXIS = 0.6;

/** The rig rebuilt: parents before children again, bones along an axis of their own or turned anyhow. */
export function rebuild(made: MadeRig, change: Rebuild, random: Random): MadeRig {
  const places = made.rig.bones.map((bone) => translationOf(bone.restWorld));
  const pieces = made.rig.bones.map((bone, at): Piece => ({
    name: bone.name,
    isNamed: bone.isNamed,
    parent: null,
    place: places[at],
    truth: made.truth[at],
    skin: bone.skinWeight,
    goesOn: null,
  }));
  made.rig.bones.forEach((bone, at) => (pieces[at].parent = bone.parent < 0 ? null : pieces[bone.parent]));
  for (const piece of pieces) piece.goesOn = goesOnTo(pieces, piece);
  change(pieces, random);
  const ordered = parentsFirst(pieces);
  const axis = random.chance(ALONG_AXIS) ? random.pick(AXES) : null;
  const size = largestExtent(places);
  const worlds = ordered.map((piece) =>
    compose(piece.place, axis ? alongAxis(piece, axis, size) : anyTurn(random), [1, 1, 1]),
  );
  const bones = ordered.map((piece, index): Bone => {
    const parent = piece.parent ? ordered.indexOf(piece.parent) : -1;
    const local = decompose(
      parent < 0 ? worlds[index] : multiply(invertAffine(worlds[parent]) as number[], worlds[index]),
    );
    return {
      ...made.rig.bones[0],
      index,
      nodeIndex: index,
      name: piece.isNamed ? piece.name : `node ${index}`,
      isNamed: piece.isNamed,
      parent,
      rest: { translation: local.translation, rotation: local.rotation, scale: [1, 1, 1] },
      restWorld: worlds[index],
      skinWeight: piece.skin,
      skinVertexCount: Math.round(piece.skin * 1.5),
    };
  });
  return { ...made, rig: { ...made.rig, bones }, truth: ordered.map((piece) => piece.truth) };
}

function parentsFirst(pieces: readonly Piece[]): Piece[] {
  const ordered: Piece[] = [];
  const visit = (parent: Piece | null) => {
    for (const piece of pieces) {
      if (piece.parent !== parent) continue;
      ordered.push(piece);
      visit(piece);
    }
  };
  visit(null);
  return ordered;
}

const anyTurn = (random: Random): Quat => unitQuat([random.range(-1, 1), random.range(-1, 1), random.range(-1, 1), 1]);

/** Turned so that the axis leads to where the body goes on: by truth, since the tree may be in pieces. */
function alongAxis(piece: Piece, axis: Vec3, size: number): Quat {
  const way = piece.goesOn ? subtract(piece.goesOn, piece.place) : null;
  const direction = way && lengthOf(way) > 1e-4 * size ? normalise(way) : null;
  return direction ? shortestArc(axis, direction) : [0, 0, 0, 1];
}

const NEXT: Readonly<Record<string, readonly string[]>> = {
  hips: ['spine'],
  spine: ['chest', 'neck', 'head'],
  chest: ['upperChest', 'neck', 'head'],
  upperChest: ['neck', 'head'],
  neck: ['head'],
  Shoulder: ['UpperArm'],
  UpperArm: ['LowerArm', 'Hand'],
  LowerArm: ['Hand'],
  Hand: ['MiddleProximal', 'IndexProximal'],
  UpperLeg: ['LowerLeg', 'Foot'],
  LowerLeg: ['Foot'],
  Foot: ['Toes'],
};

function goesOnTo(pieces: readonly Piece[], piece: Piece): Vec3 | null {
  const side = /^(left|right)/.exec(piece.truth)?.[0] ?? '';
  for (const part of NEXT[piece.truth.slice(side.length)] ?? []) {
    const next = pieces.find((other) => other.truth === `${side}${part}`);
    if (next) return next.place;
  }
  const children = childrenOf(pieces, piece);
  const [farthest] = [...children].sort((a, b) => distance(b.place, piece.place) - distance(a.place, piece.place));
  if (farthest) return farthest.place;
  return piece.parent ? add(piece.place, subtract(piece.place, piece.parent.place)) : null;
}
