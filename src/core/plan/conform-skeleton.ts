import type { Definition } from '../definition/definition';
import {
  compose,
  decompose,
  invertAffine,
  multiply,
  transformPoint,
  translationOf,
  IDENTITY,
  type Mat4,
} from '../math/mat4';
import { multiply as multiplyQuat, rotate, shortestArc } from '../math/quat';
import { add, distance, lengthOf, normalise, scale, subtract, ZERO, type Vec3 } from '../math/vec3';
import type { EngineProfile } from '../profile/profile';
import type { Rig, Transform } from '../rig/rig';
import { helperPlace, type PlannedBone, type PlannedParent } from './plan-helpers';
import type { ClipMapping, SkeletonPlan } from './plan-skeleton';
import { shippedAbove, type ShippedTree } from './shipped-tree';

export interface ConformInput {
  readonly rig: Rig;
  readonly definition: Definition;
  readonly profile: Pick<EngineProfile, 'helpers' | 'attachments'>;
  readonly shipped: ShippedTree;
  /** Index of a shipped bone -> the character's own. */
  readonly pairs: ReadonlyMap<number, number>;
  readonly lengths: 'own' | 'skeleton';
}

/** A character's skeleton written onto the one that the studio ships. */
export interface Conformed {
  readonly plan: SkeletonPlan;
  /** Bones of the shipped skeleton that the character does not have. */
  readonly added: readonly PlannedBone[];
  /** The character's bones that hang on added ones, by index: place in `added`. */
  readonly hung: ReadonlyMap<number, number>;
}

/**
 * @param plan the character's own skeleton in the shipped skeleton's pose, its joints turned as the shipped ones stand.
 * Lengths taken from the skeleton stretch what a bone carries along its segment, and move it with its joint.
 */
export function conformSkeleton(plan: SkeletonPlan, input: ConformInput): Conformed {
  const { rig, shipped, pairs, lengths } = input;
  const ownPlaces = plan.worlds.map(translationOf);
  const places = lengths === 'skeleton' ? shipped.places : placesByRule(ownPlaces, input);
  const moves = lengths === 'skeleton' ? movesOf(ownPlaces, input) : rig.bones.map(() => IDENTITY);
  const worlds = plan.worlds.map((world, bone) => {
    const { rotation } = decompose(world);
    return compose(transformPoint(moves[bone], ownPlaces[bone]), rotation, [1, 1, 1]);
  });
  const { added, hung } = addedBones(places, input);
  const undo = invertAffine(plan.similarity) ?? IDENTITY;
  const posedWorlds = plan.posedWorlds.map((world, bone) =>
    lengths === 'own' ? world : multiply(undo, multiply(moves[bone], multiply(plan.similarity, world))),
  );
  const hips = pairs.get(shipped.byRole.get('hips') ?? -1);
  const travel = hips === undefined || ownPlaces[hips][1] <= 0 ? 1 : worlds[hips][13] / ownPlaces[hips][1];
  const above = (bone: number): Mat4 => (rig.bones[bone].parent >= 0 ? worlds[rig.bones[bone].parent] : IDENTITY);
  const steps = rig.bones.map(({ index }): Step => {
    const now = translationOf(multiply(invertAffine(above(index)) ?? IDENTITY, worlds[index]));
    const on = hung.get(index);
    return {
      longer: subtract(now, plan.locals[index].translation),
      travel: index === hips ? travel : 1,
      undo:
        on === undefined
          ? null
          : (invertAffine(multiply(invertAffine(above(index)) ?? IDENTITY, added[on].world)) ?? IDENTITY),
    };
  });
  return {
    plan: {
      similarity: plan.similarity,
      posedWorlds,
      worlds,
      locals: plan.locals.map((local, bone) => stepLocal(local, steps[bone])),
      restLocals: plan.restLocals.map((local, bone) => stepLocal(local, steps[bone])),
      clipMappings: plan.clipMappings.map((mapping, bone) =>
        stepMapping(mapping, plan.restLocals[bone].translation, steps[bone]),
      ),
    },
    added,
    hung,
  };
}

/** How a bone's local transform changes, whatever the pose. */
interface Step {
  /** By how much its joint is further from its parent's, in the parent's axes. */
  readonly longer: Vec3;
  /** By how much its way is longer than the file's, about its rest. */
  readonly travel: number;
  /** From its parent's space to that of the added bone that it hangs on; null where it hangs on its parent. */
  readonly undo: Mat4 | null;
}

function stepLocal({ translation, rotation }: Transform, { longer, undo }: Step): Transform {
  const moved = add(translation, longer);
  if (!undo) return { translation: moved, rotation, scale: [1, 1, 1] };
  const { rotation: turn } = decompose(undo);
  return { translation: transformPoint(undo, moved), rotation: multiplyQuat(turn, rotation), scale: [1, 1, 1] };
}

/** t' = U (k (L t + o - r) + r + longer), r the rest's own place. */
function stepMapping(mapping: ClipMapping, rest: Vec3, { longer, travel, undo }: Step): ClipMapping {
  const linear = mapping.linear.map((value, at) => (at < 12 ? value * travel : value));
  const offset = add(add(scale(subtract(mapping.offset, rest), travel), rest), longer);
  if (!undo) return { ...mapping, linear, offset };
  const { rotation: turn } = decompose(undo);
  return {
    ...mapping,
    rotation: multiplyQuat(turn, mapping.rotation),
    linear: multiply(compose(ZERO, turn, [1, 1, 1]), linear),
    offset: transformPoint(undo, offset),
  };
}

/** Role that ends the segment of another: the next one of its line. */
const endOf = ({ lines }: Definition, role: string): string | undefined =>
  lines.flatMap(({ roles }) => roles.slice(1).filter((_, at) => roles[at] === role))[0];

/** Where what each bone carries goes when the skeleton's lengths are taken: maps of the written space. */
function movesOf(ownPlaces: readonly Vec3[], { rig, definition, shipped, pairs }: ConformInput): Mat4[] {
  const theirs = new Map([...pairs].map(([their, own]) => [own, their]));
  const roleOf = new Map([...shipped.byRole].map(([role, at]) => [at, role]));
  const moves: Mat4[] = [];
  for (const { index, parent } of rig.bones) {
    const their = theirs.get(index);
    if (their === undefined) {
      moves.push(parent >= 0 ? moves[parent] : IDENTITY);
      continue;
    }
    const role = roleOf.get(their);
    const end = role === undefined ? undefined : shipped.byRole.get(endOf(definition, role) ?? '');
    const ownEnd = end === undefined ? undefined : pairs.get(end);
    const stretch =
      end === undefined || ownEnd === undefined
        ? IDENTITY
        : stretchAlong(
            subtract(ownPlaces[ownEnd], ownPlaces[index]),
            distance(shipped.places[end], shipped.places[their]),
          );
    moves.push(about(ownPlaces[index], stretch, shipped.places[their]));
  }
  return moves;
}

/** 1 + (k - 1) d dT: along the segment alone. */
function stretchAlong(segment: Vec3, length: number): Mat4 {
  const d = normalise(segment);
  if (!d) return IDENTITY;
  const more = length / lengthOf(segment) - 1;
  const at = (row: number, column: number): number => (row === column ? 1 : 0) + more * d[row] * d[column];
  return [
    at(0, 0),
    at(1, 0),
    at(2, 0),
    0,
    at(0, 1),
    at(1, 1),
    at(2, 1),
    0,
    at(0, 2),
    at(1, 2),
    at(2, 2),
    0,
    0,
    0,
    0,
    1,
  ];
}

const about = (from: Vec3, linear: Mat4, to: Vec3): Mat4 =>
  multiply(compose(to, [0, 0, 0, 1], [1, 1, 1]), multiply(linear, compose(scale(from, -1), [0, 0, 0, 1], [1, 1, 1])));

/**
 * Where the joints of the shipped skeleton are on the character. One that it does not have goes where the profile places
 * it; else as far along and beside the way between the bones around it as in the skeleton; else as far from its parent,
 * by the size of the body.
 */
function placesByRule(ownPlaces: readonly Vec3[], { profile, shipped, pairs }: ConformInput): Vec3[] {
  const rules = new Map([...profile.helpers, ...profile.attachments].map((each) => [each.name, each.place]));
  const placeOfRole = (role: string): Vec3 | null => {
    const own = pairs.get(shipped.byRole.get(role) ?? -1);
    return own === undefined ? null : ownPlaces[own];
  };
  const hips = shipped.byRole.get('hips');
  const ownHips = placeOfRole('hips');
  const size = hips !== undefined && ownHips && shipped.places[hips][1] > 0 ? ownHips[1] / shipped.places[hips][1] : 1;
  const out: Vec3[] = [];
  shipped.bones.forEach(({ name }, at) => {
    const own = pairs.get(at);
    if (own !== undefined) {
      out.push(ownPlaces[own]);
      return;
    }
    const rule = rules.get(name);
    const ruled = rule ? helperPlace(rule, placeOfRole) : null;
    out.push(ruled ?? between(at) ?? beside(at));
  });
  return out;

  function between(at: number): Vec3 | null {
    const above = shippedAbove(shipped, at).find((each) => pairs.has(each));
    const below = shipped.bones.findIndex((_, each) => pairs.has(each) && shippedAbove(shipped, each).includes(at));
    if (above === undefined || below < 0) return null;
    const theirs = subtract(shipped.places[below], shipped.places[above]);
    const from = ownPlaces[pairs.get(above) as number];
    const own = subtract(ownPlaces[pairs.get(below) as number], from);
    if (lengthOf(theirs) < 1e-9) return null;
    const off = rotate(shortestArc(theirs, own), subtract(shipped.places[at], shipped.places[above]));
    return add(from, scale(off, lengthOf(own) / lengthOf(theirs)));
  }

  function beside(at: number): Vec3 {
    const parent = shipped.parents[at];
    if (parent < 0) return scale(shipped.places[at], size);
    return add(out[parent], scale(subtract(shipped.places[at], shipped.places[parent]), size));
  }
}

/** Shipped bones that nothing stands for, and what hangs on them. */
function addedBones(places: readonly Vec3[], { rig, shipped, pairs }: ConformInput): Pick<Conformed, 'added' | 'hung'> {
  const added: PlannedBone[] = [];
  const placeIn = new Map<number, number>();
  const hung = new Map<number, number>();
  shipped.bones.forEach(({ name }, at) => {
    const parent = shipped.parents[at];
    const own = pairs.get(at);
    const on = placeIn.get(parent);
    if (own === undefined) {
      placeIn.set(at, added.length);
      added.push({ name, parent: parentOf(parent, on), world: compose(places[at], shipped.turns[at], [1, 1, 1]) });
    } else if (on !== undefined) hung.set(own, on);
  });
  // What else leads a tree of its own hangs on the root that is added.
  const root = added.findIndex(({ parent }) => parent.kind === 'none');
  if (root >= 0) for (const { index, parent } of rig.bones) if (parent < 0 && !hung.has(index)) hung.set(index, root);
  return { added, hung };

  function parentOf(parent: number, on: number | undefined): PlannedParent {
    if (parent < 0) return { kind: 'none' };
    return on === undefined ? { kind: 'bone', bone: pairs.get(parent) as number } : { kind: 'added', at: on };
  }
}

/** How each joint stands in the written space on the shipped skeleton, by the character's bone. */
export const shippedTurns = (shipped: ShippedTree, pairs: ReadonlyMap<number, number>) =>
  new Map([...pairs].map(([their, own]) => [own, shipped.turns[their]]));
