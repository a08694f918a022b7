import type { Definition } from '../definition/definition';
import { digitRoles, DIGITS, FINGER_SEGMENTS, roleOf, sideOfRole } from '../definition/definition';
import { decompose, type Mat4 } from '../math/mat4';
import { conjugate, multiply, rotate, type Quat } from '../math/quat';
import { angleBetween, cross, mean, normalise, reject, subtract, type Vec3 } from '../math/vec3';
import type { Normalisation } from '../frame/normalise';
import { boneDirections } from '../rig/bone-axis';
import { computeRigShape } from '../rig/rig-shape';
import type { Rig } from '../rig/rig';

/** Bones straighter than this do not show their hinge. */
export const STRAIGHT_RAD = (2 * Math.PI) / 180;

/** Direction and hinge of one role's segment in the body frame (x left, y up, z forward), unit vectors. */
export interface RoleFrame {
  readonly role: string;
  readonly boneIndex: number;
  readonly direction: Vec3;
  /** No joint shows where the bone leads: it is taken from the bone's axis, or to go on as the bone before it does. */
  readonly isInferred: boolean;
  /** Flexion axis across the segment; null where the limb is too straight to show it. */
  readonly hinge: Vec3 | null;
}

/** Role -> bone index. */
type RoleBones = ReadonlyMap<string, number>;

export interface FrameInput {
  readonly rig: Rig;
  readonly definition: Definition;
  readonly roleBones: RoleBones;
  readonly normalisation: Normalisation;
  /** File-space world matrices of the pose to be read. */
  readonly worlds: readonly Mat4[];
}

/** Role frames of every mapped role whose direction can be told. */
export function computeRoleFrames(input: FrameInput): Map<string, RoleFrame> {
  const frameOf = frameReader(input);
  const frames = new Map<string, RoleFrame>();
  for (const { id } of input.definition.roles) {
    const frame = frameOf(id);
    if (frame) frames.set(id, frame);
  }
  return frames;
}

/** The frame of one role; null where it has no bone, or its direction cannot be told. */
export const computeRoleFrame = (input: FrameInput, role: string): RoleFrame | null => frameReader(input)(role);

/** Where a role's segment leads; undefined where that cannot be told. */
type DirectionOf = (role: string | undefined) => Vec3 | undefined;

/** Reads frames one by one: what one needs of others is worked out once, and only then. */
function frameReader(input: FrameInput): (role: string) => RoleFrame | null {
  const { roleBones, normalisation, worlds } = input;
  const placeOf: PlaceOf = (bone) =>
    rotate(normalisation.rotation as Quat, [worlds[bone][12], worlds[bone][13], worlds[bone][14]]);
  const known = new Map<string, Led | null>();
  const ledBy = (role: string): Led | null => {
    if (!roleBones.has(role)) return null;
    if (!known.has(role)) known.set(role, directionOf(role, input, placeOf));
    return known.get(role) ?? null;
  };
  const directionFor: DirectionOf = (role) => (role === undefined ? undefined : ledBy(role)?.direction);
  return (role) => {
    const led = ledBy(role);
    if (!led) return null;
    return {
      role,
      boneIndex: roleBones.get(role) as number,
      ...led,
      hinge: hingeOf(role, led.direction, directionFor, input, placeOf),
    };
  };
}

/** Place of a bone's joint in the body frame, file units. */
type PlaceOf = (bone: number) => Vec3;

/** Bones whose joints end a role's segment; none where it ends by its own axis or tip. */
export function endsOf(role: string, input: Pick<FrameInput, 'definition' | 'roleBones'>): number[] {
  const side = sideOfRole(input.definition, role);
  if (side && role.endsWith('Hand')) return knucklesOf(side, input.roleBones);
  const next = nextOnLine(role, input);
  return next === null ? [] : [next];
}

/** Where a segment leads, by rule of the part, and whether no joint shows it. */
type Led = Pick<RoleFrame, 'direction' | 'isInferred'>;

function directionOf(role: string, input: FrameInput, placeOf: PlaceOf): Led | null {
  const { roleBones } = input;
  const bone = roleBones.get(role) as number;
  const from = placeOf(bone);
  const led = (direction: Vec3 | null, isInferred: boolean): Led | null => direction && { direction, isInferred };
  const towards = (target: Vec3 | null) => (target ? led(normalise(subtract(target, from)), false) : null);
  const side = sideOfRole(input.definition, role);
  if (side && role.endsWith('Hand'))
    return towards(knuckleMiddle(side, input, placeOf) ?? endOfChain(input, placeOf, bone));
  const next = nextOnLine(role, input);
  if (next !== null) return towards(placeOf(next));
  if (side && role.endsWith('Foot')) return towards(endOfChain(input, placeOf, bone));
  const tip = endOfChain(input, placeOf, bone);
  if (tip) return towards(tip);
  const own = ownAxis(input, bone);
  if (own) return led(own, true);
  // A limb or digit of one bone shows nothing of where it leads, and no turn of it would.
  if (side && isFirstOnLine(role, input)) return null;
  // The last joint of a line with nothing below it goes on as its parent does.
  const before = roleBones.get(roleOf(input.definition, role).parent ?? '');
  return before === undefined ? null : led(normalise(subtract(from, placeOf(before))), true);
}

/** Whether no mapped role comes before one on its line. */
function isFirstOnLine(role: string, { definition, roleBones }: FrameInput): boolean {
  const line = definition.lines.find((candidate) => candidate.roles.includes(role));
  return line?.roles.find((candidate) => roleBones.has(candidate)) === role;
}

const axesOf = new WeakMap<Rig, ReturnType<typeof boneDirections>>();

/** Where a bone with nothing below it points by the axis that the rig's bones lie along; null where they show none. */
function ownAxis({ rig, worlds, normalisation }: FrameInput, bone: number): Vec3 | null {
  let axes = axesOf.get(rig);
  if (axes === undefined) {
    axes = boneDirections(rig, computeRigShape(rig));
    axesOf.set(rig, axes);
  }
  const atRest = axes?.[bone];
  if (!atRest) return null;
  const turn = multiply(decompose(worlds[bone]).rotation, conjugate(decompose(rig.bones[bone].restWorld).rotation));
  return rotate(normalisation.rotation as Quat, rotate(turn, atRest));
}

/** Bone of the next anchored role on the same line, else of the role that the line leads to. */
function nextOnLine(
  role: string,
  { definition, roleBones }: Pick<FrameInput, 'definition' | 'roleBones'>,
): number | null {
  const line = definition.lines.find((candidate) => candidate.roles.includes(role));
  const later = line ? line.roles.slice(line.roles.indexOf(role) + 1) : [];
  const onward = line?.id === 'trunk' ? [...later, 'neck', 'head'] : later;
  for (const candidate of onward) {
    const bone = roleBones.get(candidate);
    if (bone !== undefined) return bone;
  }
  return null;
}

/** Mean of the finger knuckles, the thumb left out. */
function knuckleMiddle(side: string, { roleBones }: FrameInput, placeOf: PlaceOf): Vec3 | null {
  const knuckles = knucklesOf(side, roleBones).map(placeOf);
  return knuckles.length > 0 ? mean(knuckles) : null;
}

const knucklesOf = (side: string, roleBones: RoleBones): number[] =>
  DIGITS.filter((digit) => digit !== 'Thumb')
    .map((digit) => roleBones.get(`${side}${digit}${FINGER_SEGMENTS[0]}`))
    .filter((bone) => bone !== undefined);

/** The one child of a bone, where it has just one that is some way off: an end bone or an unmapped toe. */
function endOfChain(input: FrameInput, placeOf: PlaceOf, bone: number): Vec3 | null {
  const mapped = new Set(input.roleBones.values());
  const children = input.rig.bones.filter((child) => child.parent === bone && !mapped.has(child.index));
  return children.length === 1 ? placeOf(children[0].index) : null;
}

/** Pairs of roles whose bend shows the hinge of both. */
const HINGED: readonly (readonly [upper: string, lower: string])[] = [
  ['UpperArm', 'LowerArm'],
  ['UpperLeg', 'LowerLeg'],
];

function hingeOf(
  role: string,
  direction: Vec3,
  directionFor: DirectionOf,
  { roleBones, definition }: FrameInput,
  placeOf: PlaceOf,
): Vec3 | null {
  const side = sideOfRole(definition, role);
  if (!side) return null;
  const part = role.slice(side.length);
  for (const [upper, lower] of HINGED) {
    if (part !== upper && part !== lower) continue;
    const [a, b] = [directionFor(side + upper), directionFor(side + lower)];
    if (!a || !b || angleBetween(a, b) < STRAIGHT_RAD) return null;
    return acrossSegment(cross(a, b), direction);
  }
  if (part === 'Foot') {
    const shin = directionFor(`${side}LowerLeg`);
    return shin ? acrossSegment(cross(direction, shin), direction) : null;
  }
  const digit = DIGITS.find((candidate) => part.startsWith(candidate));
  if (digit) return digitHinge(digitRoles(side, digit), role, direction, directionFor);
  if (part === 'Hand') {
    const [index, little] = [
      roleBones.get(`${side}IndexProximal`),
      roleBones.get(`${side}LittleProximal`) ?? roleBones.get(`${side}RingProximal`),
    ];
    if (index === undefined || little === undefined) return null;
    const across = subtract(placeOf(little), placeOf(index));
    return acrossSegment(side === 'left' ? across : [-across[0], -across[1], -across[2]], direction);
  }
  return null;
}

/** A digit folds in one plane: the bend against the segment after it shows it, else the one against the segment before. */
function digitHinge(
  segments: readonly string[],
  role: string,
  direction: Vec3,
  directionFor: DirectionOf,
): Vec3 | null {
  const at = segments.indexOf(role);
  for (const [upper, lower] of [
    [role, segments[at + 1]],
    [segments[at - 1], role],
  ]) {
    const [a, b] = [directionFor(upper), directionFor(lower)];
    if (a && b && angleBetween(a, b) >= STRAIGHT_RAD) return acrossSegment(cross(a, b), direction);
  }
  return null;
}

const acrossSegment = (axis: Vec3, direction: Vec3): Vec3 | null => normalise(reject(axis, direction));
