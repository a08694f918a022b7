import type { Definition, Role } from '../definition/definition';
import { roleOf, SIDES } from '../definition/definition';
import { QUAY } from '../definition/quay';
import { conjugate, fromAxes, IDENTITY, multiply, rotate, type Quat } from '../math/quat';
import { keepSign } from '../math/quat-arrays';
import { add, cross, distance, normalise, reject, type Vec3 } from '../math/vec3';
import type { RootComponent } from '../motion/carry-options';
import type { Contact, ContactPart, Motion, Slot } from '../motion/motion';
import { HOUSE_PARENTS, HOUSE_PLACES, LEG, SOLE } from './house-body';
import { placesOf, solveStance, type Turns } from './solve-stance';
import type { Stance } from './stance';

/** A motion of the house set as a function of time. */
export interface HouseMotion {
  readonly name: string;
  readonly seconds: number;
  readonly at: (seconds: number) => Stance;
  /** When feet and hands bear, seconds. */
  readonly contacts: readonly { readonly part: Contact['part']; readonly from: number; readonly to: number }[];
  /** Whether its end goes over into its start. */
  readonly loops: boolean;
  /** What of its travel belongs to the root. */
  readonly travel: readonly RootComponent[];
  /** What had to be changed about what was asked for. */
  readonly remarks: readonly string[];
}

export const HOUSE_RATE = 60;

/** Samples a motion of the house set, told against a definition's own reference pose. */
export function sampleHouse(house: HouseMotion, definition: Definition, framesPerSecond = HOUSE_RATE): Motion {
  const frameCount = Math.round(house.seconds * framesPerSecond) + 1;
  const slots = houseSlots(definition);
  const undo = slots.map(({ role }) => conjugate(referenceTurn(definition, role as string)));
  const rotations = new Float32Array(frameCount * slots.length * 4);
  const hips = new Float32Array(frameCount * 3);
  for (let frame = 0; frame < frameCount; frame++) {
    const stance = house.at(Math.min(house.seconds, frame / framesPerSecond));
    const { turns } = solveStance(stance);
    slots.forEach(({ role }, at) => {
      const start = (frame * slots.length + at) * 4;
      rotations.set(multiply(turns[role as string], undo[at]), start);
      if (frame > 0) keepSign(rotations, start, start - slots.length * 4);
    });
    for (let k = 0; k < 3; k++) hips[frame * 3 + k] = (stance.hips[k] - HOUSE_PLACES.hips[k]) / LEG;
  }
  // A frame bears only if the foot is down in it: the halves at both ends are on their way.
  const first = (seconds: number): number => Math.max(0, Math.ceil(seconds * framesPerSecond - 1e-6));
  const last = (seconds: number): number => Math.min(frameCount - 1, Math.floor(seconds * framesPerSecond + 1e-6));
  return {
    name: house.name,
    definition: { id: definition.id, version: definition.version },
    framesPerSecond,
    frameCount,
    slots,
    legMetres: LEG,
    limbs: houseLimbs(definition),
    contacts: house.contacts.flatMap((span): Contact[] => {
      const [from, to] = [first(span.from), last(span.to)];
      if (from > to) return [];
      const height = floorUnder(house.at((span.from + span.to) / 2), span.part);
      return [{ part: span.part, from, to, ...(height !== 0 && { height }) }];
    }),
    rotations,
    hips,
    root: null,
    shifts: [],
    morphs: [],
    own: null,
  };
}

/** Floor under a foot that bears, legs; 0 for the floor itself, and for hands. */
function floorUnder(stance: Stance, part: ContactPart): number {
  const side = SIDES.find((each) => part === `${each}Foot`);
  if (!side) return 0;
  const { turns } = solveStance(stance);
  const places = placesOf(turns, stance.hips);
  const turn = turns[`${side}Foot`];
  const soles = [SOLE.heel, SOLE.ball].map((point) => add(places[`${side}Foot`], rotate(turn, point))[1]);
  const height = Math.round((Math.min(...soles) / LEG) * 1e4) / 1e4;
  return Math.abs(height) < LEAST_STEP ? 0 : height;
}

/** Lower than this, in legs, is the floor. */
const LEAST_STEP = 0.005;

/** Roles of the definition that the house figure has. */
function houseSlots(definition: Definition): Slot[] {
  return definition.lines.flatMap(({ id, roles }) => {
    const known = roles.filter((role) => HOUSE_PLACES[role]);
    if (known.length === 0) return [];
    const start = aboveOf(definition, known[0]) ?? known[0];
    let [walked, from] = [0, HOUSE_PLACES[start]];
    const reached = known.map((role) => {
      walked += distance(from, HOUSE_PLACES[role]);
      from = HOUSE_PLACES[role];
      return walked;
    });
    return known.map((role, at) => ({ line: id, role, u: walked > 1e-9 ? Math.min(1, reached[at] / walked) : 1 }));
  });
}

/** Nearest role above that the house figure has, in the definition's tree. */
function aboveOf(definition: Definition, role: string): string | null {
  let at = roleOf(definition, role).parent;
  while (at !== null && !HOUSE_PLACES[at]) at = roleOf(definition, at).parent;
  return at;
}

function houseLimbs(definition: Definition): Record<string, number> {
  return Object.fromEntries(
    definition.roles.flatMap(({ id }) => {
      const above = HOUSE_PLACES[id] ? aboveOf(definition, id) : null;
      return above === null ? [] : [[id, distance(HOUSE_PLACES[id], HOUSE_PLACES[above]) / LEG]];
    }),
  );
}

/** Turn from the T-pose, in which the house figure is told, to the definition's own reference of a role. */
export function referenceTurn(definition: Definition, id: string): Quat {
  const known = referenceTurns.get(definition) ?? new Map<string, Quat>();
  referenceTurns.set(definition, known);
  const turn = known.get(id) ?? computeReferenceTurn(definition, id);
  known.set(id, turn);
  return turn;
}

/** Asked for every role in every frame. */
const referenceTurns = new WeakMap<Definition, Map<string, Quat>>();

function computeReferenceTurn(definition: Definition, id: string): Quat {
  const own = roleOf(definition, id);
  const known = QUAY.roles.find((role) => role.id === id);
  if (!known || own.alignment === 'leave') return IDENTITY;
  const [from, to] = [frameOfRole(known), frameOfRole(own)];
  return from && to ? multiply(to, conjugate(from)) : IDENTITY;
}

function frameOfRole({ direction, hinge }: Role): Quat | null {
  const across: Vec3 | null = direction && hinge && normalise(reject(hinge, direction));
  return direction && across && fromAxes(direction, across, cross(direction, across));
}

/** Turns of all roles of the house figure at a frame, as the motion keeps them for the T-pose definition. */
export function turnsAt({ slots, rotations }: Motion, frame: number): Turns {
  const turns: Turns = {};
  slots.forEach(({ role }, at) => {
    const start = (frame * slots.length + at) * 4;
    if (role !== null) turns[role] = [...rotations.subarray(start, start + 4)] as unknown as Quat;
  });
  // What the definition does not have rides along.
  for (const [role, parent] of Object.entries(HOUSE_PARENTS))
    if (!turns[role]) turns[role] = parent === null ? IDENTITY : turns[parent];
  return turns;
}
