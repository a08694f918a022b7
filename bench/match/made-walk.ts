import { compose, decompose, invertAffine, multiply, translationOf } from '@/core/math/mat4';
import { fromAxisAngle, IDENTITY, multiply as multiplyQuat, rotate, shortestArc, type Quat } from '@/core/math/quat';
import { add, cross, distance, lengthOf, normalise, scale, subtract, type Vec3 } from '@/core/math/vec3';
import type { MotionTracks, Track } from '@/core/clips/motion-tracks';
import type { Rig } from '@/core/rig/rig';
import type { RigRecord } from './records';

const KEYS = 17;

/** Role that each role turns with. */
const ABOVE: Readonly<Record<string, readonly string[]>> = {
  spine: ['hips'],
  chest: ['spine', 'hips'],
  upperChest: ['chest', 'spine', 'hips'],
  neck: ['upperChest', 'chest', 'spine', 'hips'],
  head: ['neck', 'upperChest', 'chest', 'spine', 'hips'],
  Shoulder: ['upperChest', 'chest', 'spine', 'hips'],
  UpperArm: ['Shoulder', 'upperChest', 'chest', 'spine', 'hips'],
  LowerArm: ['UpperArm'],
  Hand: ['LowerArm', 'UpperArm'],
  UpperLeg: ['hips'],
  LowerLeg: ['UpperLeg'],
  Foot: ['LowerLeg', 'UpperLeg'],
};

const AXES: Readonly<Record<string, Vec3>> = {
  '+X': [1, 0, 0],
  '-X': [-1, 0, 0],
  '+Y': [0, 1, 0],
  '-Y': [0, -1, 0],
  '+Z': [0, 0, 1],
  '-Z': [0, 0, -1],
};

/** How far a joint folds or swings at a phase of the step, radians; limbs swing ahead, elbows fold ahead, knees back. */
function bendOf(role: string, phase: number): number {
  const side = role.startsWith('left') ? 1 : role.startsWith('right') ? -1 : 0;
  const step = Math.sin(phase) * side;
  if (/UpperLeg$/.test(role)) return 0.45 * step;
  if (/LowerLeg$/.test(role)) return -(0.15 + 0.5 * Math.max(0, Math.sin(phase + 1.2) * side));
  if (/UpperArm$/.test(role)) return -0.35 * step;
  if (/LowerArm$/.test(role)) return 0.3 + 0.2 * (1 - step);
  if (/Foot$/.test(role)) return 0.2 * step;
  if (/Hand$/.test(role)) return 0.1 + 0.05 * step;
  if (role === 'head') return 0.06 * Math.sin(phase * 2);
  return role === 'spine' ? 0.05 + 0.03 * Math.sin(phase * 2) : 0;
}

interface Body {
  readonly up: Vec3;
  readonly front: Vec3;
  readonly left: Vec3;
}

/** Turn of a role against what carries it, file space at rest. `along`: its own direction at rest. */
function turnOf(role: string, along: Vec3, { up, front, left }: Body, phase: number): Quat {
  const bend = bendOf(role, phase);
  // Whatever way a segment points, a positive bend takes its end ahead.
  const hinge = normalise(cross(along, front)) ?? left;
  if (!/UpperArm$/.test(role))
    return /(Arm|Leg|Hand|Foot)$/.test(role) ? fromAxisAngle(hinge, bend) : fromAxisAngle(left, bend);
  // Arms are let down first, wherever the rest pose holds them.
  const down = shortestArc(along, scale(up, -1));
  return multiplyQuat(fromAxisAngle(left, -bend), down);
}

/** A walk of two steps for a labelled record, as tracks of its rig: what has no role of its own rides on what has. */
export function walkOf(record: RigRecord, rig: Rig, origin: readonly number[]): MotionTracks {
  const up = AXES[record.up];
  const front = AXES[record.facing ?? '+Z'];
  const body = { up, front, left: cross(up, front) };
  const boneOf = new Map<string, number>();
  const roleOf = new Map<number, string>();
  for (const [role, indices] of Object.entries(record.roleIndices)) {
    const bone = origin.indexOf(indices.find((at) => !roleOf.has(origin.indexOf(at))) ?? indices[0]);
    if (!(role.replace(/^(left|right)/, '') in ABOVE) && role !== 'hips') continue;
    boneOf.set(role, bone);
    if (!roleOf.has(bone)) roleOf.set(bone, role);
  }
  const rest = rig.bones.map(({ restWorld }) => translationOf(restWorld));
  const leg = legLength(rest, boneOf);
  const directions = new Map([...roleOf].map(([bone, role]) => [bone, directionOf(role, bone, rest, boneOf)]));
  const leaders = rig.bones.map((_, bone) => leaderOf(rig, rest, roleOf, bone));
  const worlds = Array.from({ length: KEYS }, (_, key) => {
    const phase = (2 * Math.PI * key) / (KEYS - 1);
    const moved = new Map<number, { turn: Quat; place: Vec3 }>();
    const ofRole = (role: string): { turn: Quat; place: Vec3 } => {
      const bone = boneOf.get(role) as number;
      const known = moved.get(bone);
      if (known) return known;
      const side = /^(left|right)/.exec(role)?.[0] ?? '';
      const above = (ABOVE[role.slice(side.length)] ?? [])
        .map((part) => (boneOf.has(side + part) ? side + part : part))
        .find((part) => boneOf.has(part) && boneOf.get(part) !== bone);
      const carried = above
        ? carriedBy(ofRole(above), rest[boneOf.get(above) as number], rest[bone])
        : { turn: IDENTITY, place: add(rest[bone], scale(front, (1.2 * leg * key) / (KEYS - 1))) };
      const own = {
        turn: multiplyQuat(carried.turn, turnOf(role, directions.get(bone) ?? up, body, phase)),
        place: carried.place,
      };
      moved.set(bone, own);
      return own;
    };
    return rig.bones.map(({ restWorld }, bone) => {
      const leader = leaders[bone];
      const leading = ofRole(roleOf.get(leader) as string);
      const { turn, place } = leader === bone ? leading : carriedBy(leading, rest[leader], rest[bone]);
      return compose(place, multiplyQuat(turn, decompose(restWorld).rotation), [1, 1, 1]);
    });
  });
  return tracksOf(rig, worlds);
}

/** From a role to the role that goes on from it, or from the one before it; unit length, zero where neither is there. */
function directionOf(role: string, bone: number, rest: readonly Vec3[], boneOf: ReadonlyMap<string, number>): Vec3 {
  const side = /^(left|right)/.exec(role)?.[0] ?? '';
  const part = role.slice(side.length);
  const below = Object.keys(ABOVE).find((other) => ABOVE[other].includes(part) && boneOf.has(side + other));
  const above = (ABOVE[part] ?? []).map((other) => boneOf.get(side + other) ?? boneOf.get(other));
  const next = below === undefined ? undefined : boneOf.get(side + below);
  const before = above.find((other) => other !== undefined && other !== bone);
  const way =
    next !== undefined
      ? subtract(rest[next], rest[bone])
      : before !== undefined
        ? subtract(rest[bone], rest[before])
        : ([0, 0, 0] as Vec3);
  return normalise(way) ?? [0, 0, 0];
}

const carriedBy = (above: { turn: Quat; place: Vec3 }, from: Vec3, to: Vec3): { turn: Quat; place: Vec3 } => ({
  turn: above.turn,
  place: add(above.place, rotate(above.turn, subtract(to, from))),
});

/** The bone with a role that a bone rides on: itself, the nearest above it, else the nearest of all. */
function leaderOf(rig: Rig, rest: readonly Vec3[], roleOf: ReadonlyMap<number, string>, bone: number): number {
  for (let at = bone; at >= 0; at = rig.bones[at].parent) if (roleOf.has(at)) return at;
  return [...roleOf.keys()].reduce((best, other) =>
    distance(rest[bone], rest[other]) < distance(rest[bone], rest[best]) ? other : best,
  );
}

function legLength(rest: readonly Vec3[], boneOf: ReadonlyMap<string, number>): number {
  const [hip, foot] = [boneOf.get('leftUpperLeg'), boneOf.get('leftFoot') ?? boneOf.get('leftLowerLeg')];
  const whole = Math.max(...rest.map((place) => lengthOf(subtract(place, rest[0]))));
  return hip === undefined || foot === undefined ? 0.4 * whole : distance(rest[hip], rest[foot]);
}

/** World matrices per key as tracks in the rig's own tree; one key every thirtieth of a second. */
export function tracksOf(rig: Rig, worlds: readonly (readonly number[][])[]): MotionTracks {
  const times = Float32Array.from(worlds, (_, key) => key / 30);
  const tracks = rig.bones.flatMap(({ index, parent }): Track[] => {
    const locals = worlds.map((world) =>
      decompose(parent < 0 ? world[index] : multiply(invertAffine(world[parent]) as number[], world[index])),
    );
    return [
      {
        bone: index,
        path: 'translation',
        interpolation: 'LINEAR',
        times,
        values: Float32Array.from(locals.flatMap(({ translation }) => [...translation])),
      },
      {
        bone: index,
        path: 'rotation',
        interpolation: 'LINEAR',
        times,
        values: Float32Array.from(locals.flatMap(({ rotation }) => [...rotation])),
      },
    ];
  });
  return [{ name: 'walk', tracks, morphs: [] }];
}
