import { distance, dot, lengthOf, mean, subtract, type Vec3 } from '../../math/vec3';
import { commonAncestor, isAncestor, pathBelow } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';
import type { Sided } from './limbs';

/** Which way a limb's last bone goes on, seen along the segment before it. */
export type Turn = 'unknown' | 'straight' | 'bent';

/**
 * A way down both sides, from just below the ancestor they share to its last pair, with what the many readings of it ask
 * for again and again. Tables over two pairs i, j stand at `i * pairs.length + j`.
 */
export interface LimbPath {
  readonly pairs: readonly Sided[];
  /** Distance from pair i to pair j on side a and on side b, file units. */
  readonly distances: readonly [Float64Array, Float64Array];
  /** What the bones strictly between i and j cost when i and j are neighbouring joints of a limb. */
  readonly between: Float64Array;
  /** Per side, for each pair i: how the last bone goes on when the segment i–last leads to it. */
  readonly turns: readonly [readonly Turn[], readonly Turn[]];
  /** Chains that fan out from the last pair's bone on side a. */
  readonly fan: number;
  /** For each pair: chains of two bones and more that leave its bone on side a beside the path. */
  readonly branches: readonly number[];
}

/** Paths are cut to this many pairs; what lies deeper is digits, cloth or hair. */
const MAX_PATH = 10;

/** Every way down to a pair of bones. */
export function limbPaths(context: MatchContext): LimbPath[] {
  const { body, mirror } = context;
  const paths: LimbPath[] = [];
  for (let a = 0; a < body.boneCount; a++) {
    const b = mirror.partners[a];
    if (b <= a) continue;
    const pairs = pairsDownTo(context, a, b);
    if (pairs.length === 0 || pairs.length > MAX_PATH) continue;
    const last = pairs[pairs.length - 1];
    paths.push({
      pairs,
      distances: [distancesAlong(context, pairs, 0), distancesAlong(context, pairs, 1)],
      between: costsBetween(context, pairs),
      turns: [turnsAt(context, pairs, 0), turnsAt(context, pairs, 1)],
      fan: countDigitChains(context, last[0]),
      branches: pairs.map(([bone], at) => countBranches(context, bone, pairs[at + 1]?.[0] ?? -1)),
    });
  }
  return paths;
}

function pairsDownTo(context: MatchContext, a: number, b: number): Sided[] {
  const { body, mirror } = context;
  const top = commonAncestor(body, a, b);
  const [left, right] = [pathBelow(body, top, a) ?? [], pathBelow(body, top, b) ?? []];
  return left.filter((bone) => right.includes(mirror.partners[bone])).map((bone) => [bone, mirror.partners[bone]]);
}

function distancesAlong(context: MatchContext, pairs: readonly Sided[], side: 0 | 1): Float64Array {
  const { positions } = context.body;
  const table = new Float64Array(pairs.length ** 2);
  for (let i = 0; i < pairs.length; i++) {
    for (let j = i + 1; j < pairs.length; j++)
      table[i * pairs.length + j] = distance(positions[pairs[i][side]], positions[pairs[j][side]]);
  }
  return table;
}

const ON_SEGMENT = 0.35;
const OFF_SEGMENT = 1.2;
/** What fans out into several chains is the hand or foot itself. */
const FANS_OUT = 2.5;

/** Bones without a role are harmless on a segment (twist bones), suspicious off it. */
function costsBetween(context: MatchContext, pairs: readonly Sided[]): Float64Array {
  const { positions } = context.body;
  const table = new Float64Array(pairs.length ** 2);
  const fans = pairs.map(([a]) => (countDigitChains(context, a) >= 3 ? FANS_OUT : 0));
  for (let i = 0; i < pairs.length; i++) {
    for (let j = i + 2; j < pairs.length; j++) {
      let cost = 0;
      for (let index = i + 1; index < j; index++) {
        cost += fans[index];
        for (const side of [0, 1] as const) {
          const isOn =
            !context.use.place ||
            isOnSegment(positions[pairs[index][side]], positions[pairs[i][side]], positions[pairs[j][side]]);
          cost += isOn ? ON_SEGMENT : OFF_SEGMENT;
        }
      }
      table[i * pairs.length + j] = cost;
    }
  }
  return table;
}

/** Bones within this share of a segment's length from its line lie on it. */
const SEGMENT_SHARE = 0.06;

/** Written out in numbers: asked some ten thousand times per rig. */
function isOnSegment(point: Vec3, from: Vec3, to: Vec3): boolean {
  const [dx, dy, dz] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const [x, y, z] = [point[0] - from[0], point[1] - from[1], point[2] - from[2]];
  const squared = dx * dx + dy * dy + dz * dz;
  const along = squared > 0 ? (x * dx + y * dy + z * dz) / squared : 0;
  const [ox, oy, oz] = [x - dx * along, y - dy * along, z - dz * along];
  return Math.sqrt(ox * ox + oy * oy + oz * oz) < SEGMENT_SHARE * Math.sqrt(squared) + 1e-9;
}

function countBranches({ body }: MatchContext, bone: number, next: number): number {
  if (next < 0 || body.children[bone].length < 2) return 0;
  return body.children[bone].filter(
    (child) => body.children[child].length > 0 && child !== next && !isAncestor(body, child, next),
  ).length;
}

function countDigitChains(context: MatchContext, end: number): number {
  const { body } = context;
  let count = 0;
  for (const child of body.children[end]) {
    // A leaf at the very same place is a transform or a copy of the bone itself.
    if (body.children[child].length > 0 || (context.moves(child) && body.lengths[child] > body.size * 1e-6)) count++;
  }
  return count;
}

/** Feet turn away from the shin by more than this, hands do not from the forearm; in any pose. */
const BENT_COSINE = Math.cos((38 * Math.PI) / 180);

function turnsAt(context: MatchContext, pairs: readonly Sided[], side: 0 | 1): Turn[] {
  const { body } = context;
  const end = pairs[pairs.length - 1][side];
  const children = body.children[end].filter((child) => body.lengths[child] > body.size * 0.004);
  if (children.length === 0) return pairs.map(() => 'unknown');
  const onward = subtract(mean(children.map((child) => body.positions[body.tips[child]])), body.positions[end]);
  return pairs.map((pair) => {
    const segment = subtract(body.positions[end], body.positions[pair[side]]);
    const lengths = lengthOf(onward) * lengthOf(segment);
    return lengths > 0 && dot(onward, segment) < BENT_COSINE * lengths ? 'bent' : 'straight';
  });
}
