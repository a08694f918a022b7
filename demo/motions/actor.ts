import { conjugate, fromAxisAngle, multiply, normalise, rotate, type Quat } from '@/core/math/quat';
import { add, distance, subtract, type Vec3 } from '@/core/math/vec3';
import type { Joint } from '../figure/skeleton';
import { bodyPlaces } from '../figure/skeleton';
import { turnOf, type Writing } from '../formats/gather';
import type { Performance } from './performances';
import { turnOfJoint } from './poser';

/** A skeleton that performs: joints in the T-pose, metres, Y up, facing +Z. */
export interface Actor {
  readonly joints: readonly Joint[];
  /** Factor on the body that the performance is made for. */
  readonly size: number;
  /** How far the arms hang below the T-pose at rest, degrees. */
  readonly armsDownDegrees: number;
  /** Whether frame 0 of every clip is the T-pose, and the rest something else. */
  readonly startsInT: boolean;
}

export const FRAMES_PER_SECOND = 30;

/** Local transforms of an actor at rest and over a clip, in a file's own units and axes. */
export interface Played {
  readonly names: readonly string[];
  readonly parents: readonly number[];
  readonly rest: readonly { readonly translation: Vec3; readonly rotation: Quat }[];
  readonly clips: readonly PlayedClip[];
}

interface PlayedClip {
  readonly name: string;
  readonly frameCount: number;
  /** By joint; one for each frame. */
  readonly rotations: readonly (readonly Quat[])[];
  /** Of the joint that leads the body. */
  readonly hips: { readonly joint: number; readonly translations: readonly Vec3[] };
}

/** Works out what an actor does in a file's own space. */
export function play(actor: Actor, performances: Readonly<Record<string, Performance>>, writing: Writing): Played {
  const { joints, size } = actor;
  const parents = joints.map(({ parent }) => (parent === null ? -1 : joints.findIndex(({ name }) => name === parent)));
  const places = bodyPlaces({ size });
  const runs = joints.map((_, joint) => alongRun(joints, parents, joint));
  const turn = turnOf(writing);
  const hips = joints.findIndex(({ truth }) => truth === 'hips');
  const armDown = (joint: number): Quat => {
    const side = sideOfArm(joints, parents, joint);
    return side === 0 ? [0, 0, 0, 1] : fromAxisAngle([0, 0, 1], (-side * actor.armsDownDegrees * Math.PI) / 180);
  };
  const restTurns = joints.map((_, joint) => armDown(joint));
  const inFile = (point: Vec3): Vec3 => {
    const [x, y, z] = rotate(turn, point);
    return [x * writing.unitsPerMetre, y * writing.unitsPerMetre, z * writing.unitsPerMetre];
  };
  const localRotations = (turns: readonly Quat[]): Quat[] => {
    const worlds = joints.map(({ rotation }, joint) => normalise(multiply(turn, multiply(turns[joint], rotation))));
    return worlds.map((world, joint) =>
      parents[joint] < 0 ? world : normalise(multiply(conjugate(worlds[parents[joint]]), world)),
    );
  };
  const restRotations = localRotations(restTurns);
  const rest = joints.map(({ position }, joint) => {
    const parent = parents[joint];
    const translation =
      parent < 0
        ? inFile(position)
        : rotate(
            conjugate(joints[parent].rotation),
            scaled(subtract(position, joints[parent].position), writing.unitsPerMetre),
          );
    return { translation, rotation: restRotations[joint] };
  });
  const clips = Object.entries(performances).map(([name, { seconds, at }]): PlayedClip => {
    const frames = Math.round(seconds * FRAMES_PER_SECOND) + 1;
    const moments = Array.from({ length: frames }, (_, frame) => at(places, frame / FRAMES_PER_SECOND));
    const turns = moments.map((moment) =>
      joints.map(({ truth }, joint) => {
        if (truth === 'root') return [0, 0, 0, 1] as Quat;
        const role = truth === 'member' ? runs[joint].run : truth === 'tip' ? 'tip' : truth;
        return role === 'tip' ? null : turnOfJoint(moment, role, runs[joint].u);
      }),
    );
    const whole = turns.map((row) => {
      const full: Quat[] = [];
      row.forEach((own, joint) => full.push(own ?? (parents[joint] >= 0 ? full[parents[joint]] : [0, 0, 0, 1])));
      return full;
    });
    const hipPlaces = moments.map((moment) => moment.hips);
    if (actor.startsInT) {
      whole.unshift(joints.map(() => [0, 0, 0, 1] as Quat));
      hipPlaces.unshift(places.hips);
    }
    const locals = whole.map(localRotations);
    const parent = parents[hips];
    return {
      name,
      frameCount: whole.length,
      rotations: joints.map((_, joint) => locals.map((row) => row[joint])),
      hips: {
        joint: hips,
        translations: hipPlaces.map((place) =>
          parent < 0
            ? inFile(place)
            : rotate(
                conjugate(joints[parent].rotation),
                scaled(subtract(place, joints[parent].position), writing.unitsPerMetre),
              ),
        ),
      },
    };
  });
  return { names: joints.map(({ name }) => name), parents, rest, clips };
}

const scaled = ([x, y, z]: Vec3, k: number): Vec3 => [x * k, y * k, z * k];

/** Left arm 1, right arm -1, all else 0: what hangs down in an A-pose. */
function sideOfArm(joints: readonly Joint[], parents: readonly number[], joint: number): -1 | 0 | 1 {
  for (let at = joint; at >= 0; at = parents[at]) {
    if (joints[at].truth === 'leftUpperArm') return 1;
    if (joints[at].truth === 'rightUpperArm') return -1;
  }
  return 0;
}

const RUNS: Readonly<Record<string, string>> = {
  spine: 'trunk',
  chest: 'trunk',
  upperChest: 'trunk',
  neck: 'neck',
  head: 'neck',
};

/** Which run a joint lies on and how far along, counted from where the run starts: by the way along its joints. */
function alongRun(joints: readonly Joint[], parents: readonly number[], joint: number): { run: string; u: number } {
  const digit = /^(left|right)(Thumb|Index|Middle|Ring|Little)/.exec(joints[joint].truth)?.[0];
  const isOn = (at: number): string | null => {
    const { truth } = joints[at];
    if (digit) return truth.startsWith(digit) ? digit : null;
    if (RUNS[truth]) return RUNS[truth];
    if (truth !== 'member') return null;
    // A member belongs to the run that it hangs on.
    for (let above = parents[at]; above >= 0; above = parents[above]) {
      if (RUNS[joints[above].truth]) return RUNS[joints[above].truth];
      if (joints[above].truth === 'hips') return 'trunk';
    }
    return null;
  };
  const run = isOn(joint);
  if (run === null) return { run: '', u: 1 };
  const way = (to: number): number => {
    let sum = 0;
    for (let at = to; at >= 0 && isOn(at) === run; at = parents[at])
      sum += parents[at] >= 0 ? distance(joints[at].position, joints[parents[at]].position) : 0;
    return sum;
  };
  const longest = Math.max(...joints.map((_, at) => (isOn(at) === run ? way(at) : 0)));
  return { run, u: longest > 0 ? way(joint) / longest : 1 };
}

/** Where joints stand at rest, for formats whose rest has no turns. */
export function restPlaces({ parents, rest }: Played): Vec3[] {
  const places: Vec3[] = [];
  const turns: Quat[] = [];
  rest.forEach(({ translation, rotation }, joint) => {
    const parent = parents[joint];
    places.push(parent < 0 ? translation : add(places[parent], rotate(turns[parent], translation)));
    turns.push(parent < 0 ? rotation : normalise(multiply(turns[parent], rotation)));
  });
  return places;
}
