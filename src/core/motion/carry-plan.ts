import type { Spare } from '../match/context/match-types';
import { conjugate, fromAxisAngle, multiply, normalise, rotate, type Quat } from '../math/quat';
import { distance, type Vec3 } from '../math/vec3';
import { turnAxisOf } from '../posture/turn-roles';
import { computeRoleFrame } from '../posture/role-frames';
import { computeWorlds } from '../rig/pose';
import { pathsOf } from '../rig/local-pose';
import { skeletonSignature } from '../rig/skeleton-signature';
import type { Carrying, OffsetLayer, RootTravel } from './carry-options';
import { legLength, roleAbove, type FittedRig, type StandingFigure } from './fitted-rig';
import { planMorphs, type MorphPlan } from './correctives';
import { unwrapped } from './heading';
import type { JointSpace } from './joint-spaces';
import { lineSlots } from './line-slots';
import { referenceFigure } from './reference-figure';
import { slotOfRole, type Motion, type OwnBone } from './motion';
import { rootPath, type RootPath } from './root-path';
import { slotSources, type SlotSource } from './slot-sources';
import { twistBones, type TwistBone } from './twist-bones';

/** A character that motion is carried to. */
export interface CarryTarget extends FittedRig {
  readonly spares: readonly Spare[];
  /** Bone above the hips that travels; null where the character has none. */
  readonly rootBone: number | null;
  /** How far the arms of a heavy body are held away, degrees. */
  readonly armOffsetDeg: { readonly left: number; readonly right: number } | null;
}

/** How a bone gets its turn D against the reference posture. */
type Drive =
  | { readonly kind: 'slots'; readonly source: SlotSource }
  /** Turns as a person or the clip of the same skeleton has it, in the file's own space. */
  | { readonly kind: 'own'; readonly own: OwnBone; readonly space: JointSpace }
  | { readonly kind: 'twist'; readonly twist: TwistBone; readonly angles: Float64Array }
  | { readonly kind: 'root' }
  /** Hangs on a root that travels, and stays. */
  | { readonly kind: 'held' }
  /** Turns with what it hangs on. */
  | { readonly kind: 'ride' }
  /** Turns with a bone that it does not hang on. */
  | { readonly kind: 'follow'; readonly carrier: number };

export interface DrivenBone {
  readonly boneIndex: number;
  readonly drive: Drive;
  /** Place in the list of the nearest driven bone above; -1 for none. */
  readonly above: number;
  /** local = before * D_above^-1 * D * after. */
  readonly before: Quat;
  readonly after: Quat;
  /** Layers on the local rotation, in order: turned before it (in the parent's space) or after it (in its own). */
  readonly layers: readonly { readonly isBefore: boolean; readonly turn: Quat }[];
}

/** A bone whose local translation changes over time. */
export interface MovedBone {
  readonly boneIndex: number;
  /** Constant part, local units. */
  readonly base: Vec3;
  /** Adds `linear` * values[frame], turned by `turn`. */
  readonly values: Float32Array;
  readonly turn: Quat;
  readonly linear: number;
}

export interface CarryPlan {
  readonly motion: Motion;
  readonly target: CarryTarget;
  readonly standing: StandingFigure;
  readonly spaces: readonly JointSpace[];
  readonly fileSpaces: readonly JointSpace[];
  readonly driven: readonly DrivenBone[];
  readonly moved: readonly MovedBone[];
  /** Bones that do not hang on what carries them, and the bone that does. */
  readonly loose: ReadonlyMap<number, number>;
  readonly scaled: readonly { readonly boneIndex: number; readonly values: Float32Array }[];
  readonly morphs: MorphPlan;
  readonly hips: number;
  /** [frameCount x 3] joint of the hips, body frame, metres. */
  readonly hipsAt: Float64Array;
  /** Bones from the root to what the hips hang on, the root first. */
  readonly chain: readonly number[];
  readonly root: RootPath | null;
  /** Whether the root's path is the source's own, turns included. */
  readonly hasOwnRoot: boolean;
  readonly isSameSkeleton: boolean;
  readonly report: CarryReport;
}

/** What a person is told about a carried motion. */
export interface CarryReport {
  /** Ratio of the legs. */
  readonly legRatio: number;
  /** Bones driven as twist bones. */
  readonly twist: readonly { readonly boneIndex: number; readonly role: string; readonly share: number }[];
  /** Largest way a shoulder goes in the source that an arm without collar does not; metres, by role of the arm. */
  readonly lostShoulderMetres: Readonly<Record<string, number>>;
  /** Roles of the character that the motion does not tell of. */
  readonly riding: readonly string[];
}

export interface CarryWishes {
  readonly carrying: Carrying;
  readonly travel: RootTravel;
  readonly spaces: readonly JointSpace[];
  readonly fileSpaces: readonly JointSpace[];
  /** Where a root is added above a character that has none; null for none. Body frame, metres. */
  readonly addedRoot?: Vec3 | null;
}

/** Lays out how a motion is carried to a character; `writeCarried` then works out any frames of it. */
export function planCarry(motion: Motion, target: CarryTarget, wishes: CarryWishes): CarryPlan {
  const { carrying, travel, spaces, fileSpaces, addedRoot = null } = wishes;
  const { standing, loose } = referenceFigure(target, target.spares);
  const leg = legLength(target, standing);
  const hips = target.roleBones.get('hips') as number;
  const isSameSkeleton = motion.own !== null && motion.own.signature === skeletonSignature(target.rig);
  const slots = lineSlots(target, standing.places);
  const sources = new Map(
    slotSources(target.definition, motion.slots, slots)
      .filter(({ from, to }) => from >= 0 || to >= 0)
      .map((source) => [source.boneIndex, source]),
  );
  const twists =
    carrying.hasTwist && !isSameSkeleton ? twistBones(target, standing, target.spares, carrying.twistShares) : [];
  const twistOf = new Map(twists.map((twist) => [twist.boneIndex, twist]));
  const hipsAt = hipsPlaces(motion, carrying, standing.places[hips], leg, isSameSkeleton);
  const { rootBone } = target;
  const rootAt = rootBone === null ? addedRoot : standing.places[rootBone];
  const travels = travel.components.length > 0 && rootAt !== null;
  const hasOwnRoot = !travels && isSameSkeleton && motion.root !== null && rootBone !== null;
  const root =
    rootAt === null
      ? null
      : hasOwnRoot
        ? ownRoot(motion, rootAt, leg)
        : travels
          ? rootPath(motion, hipsAt, travel, { root: rootAt, hips: standing.places[hips] })
          : null;
  const chain = chainAbove(target, hips);
  const ownBones = isSameSkeleton && motion.own ? byPath(target, motion.own.bones) : new Map<number, OwnBone>();
  const layers = layersOf(target, standing, spaces, carrying.offsets);
  const driven: DrivenBone[] = [];
  const placeOf = new Map<number, number>();
  for (const { index, parent } of target.rig.bones) {
    const drive = driveOf(index, parent);
    const above = nearestDriven(parent);
    const own = layers.get(index);
    if (!drive && !own) continue;
    placeOf.set(index, driven.length);
    driven.push({
      boneIndex: index,
      drive: drive ?? { kind: 'ride' },
      above,
      before: conjugate(spaces[index].rotation),
      after: standing.rotations[index],
      layers: own ?? [],
    });
  }
  return {
    motion,
    target,
    standing,
    spaces,
    fileSpaces,
    driven,
    moved: movedBones(),
    loose: isSameSkeleton ? NONE_LOOSE : loose,
    scaled: [...ownBones].flatMap(([boneIndex, { scales }]) => (scales ? [{ boneIndex, values: scales }] : [])),
    morphs: planMorphs(target, motion, carrying.correctives, placeOf),
    hips,
    hipsAt,
    chain,
    root,
    hasOwnRoot,
    isSameSkeleton,
    report: {
      legRatio: leg / motion.legMetres,
      twist: twists.map(({ boneIndex, role, share }) => ({ boneIndex, role, share })),
      lostShoulderMetres: lostShoulders(motion, target, leg),
      riding: [...target.roleBones].filter(([, bone]) => !sources.has(bone)).map(([role]) => role),
    },
  };

  function driveOf(bone: number, parent: number): Drive | null {
    if (bone === rootBone && root && bone !== hips) return { kind: 'root' };
    const source = sources.get(bone);
    if (source) return { kind: 'slots', source };
    const own = ownBones.get(bone);
    if (own?.rotations) return { kind: 'own', own, space: fileSpaces[bone] };
    const twist = twistOf.get(bone);
    if (twist) return { kind: 'twist', twist, angles: twistAngles(motion, target, twist) };
    const carrier = isSameSkeleton ? undefined : loose.get(bone);
    if (carrier !== undefined) return { kind: 'follow', carrier };
    const isBeside = travels && travel.others === 'stay' && parent === rootBone && parent >= 0 && !chain.includes(bone);
    return isBeside && bone !== hips ? { kind: 'held' } : null;
  }

  function nearestDriven(bone: number): number {
    for (let at = bone; at >= 0; at = target.rig.bones[at].parent) {
      const known = placeOf.get(at);
      if (known !== undefined) return known;
    }
    return -1;
  }

  function movedBones(): MovedBone[] {
    const out = new Map<number, MovedBone>();
    for (const [boneIndex, { translations }] of ownBones) {
      if (!translations || (boneIndex === rootBone && root)) continue;
      const [file, written] = [fileSpaces[boneIndex], spaces[boneIndex]];
      const undo = conjugate(written.rotation);
      const offset = rotate(undo, sub(file.place, written.place));
      out.set(boneIndex, {
        boneIndex,
        base: [offset[0] / written.scale, offset[1] / written.scale, offset[2] / written.scale],
        values: translations,
        turn: normalise(multiply(undo, file.rotation)),
        linear: file.scale / written.scale,
      });
    }
    if (isSameSkeleton) return [...out.values()];
    for (const { role, values } of motion.shifts) {
      const boneIndex = target.roleBones.get(role);
      const policy = carrying.roleShifts[role] ?? carrying.shifts;
      if (boneIndex === undefined || policy === 'keep' || boneIndex === hips) continue;
      const space = spaces[boneIndex];
      const undo = conjugate(space.rotation);
      const base = rotate(undo, sub(standing.places[boneIndex], space.place));
      const metres = policy === 'copy' ? motion.legMetres : limbRatio(role) * motion.legMetres;
      out.set(boneIndex, {
        boneIndex,
        base: [base[0] / space.scale, base[1] / space.scale, base[2] / space.scale],
        values,
        turn: undo,
        linear: metres / space.scale,
      });
    }
    return [...out.values()];
  }

  /** Length of the limb above a role's joint on the character, over the source's. */
  function limbRatio(role: string): number {
    const above = roleAbove(target, role);
    const from = above === null ? undefined : target.roleBones.get(above);
    const bone = target.roleBones.get(role);
    const theirs = (motion.limbs[role] ?? 0) * motion.legMetres;
    if (from === undefined || bone === undefined || theirs < 1e-6) return leg / motion.legMetres;
    return distance(standing.places[bone], standing.places[from]) / theirs;
  }
}

const NONE_LOOSE: ReadonlyMap<number, number> = new Map();

const sub = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

/** Joint of the hips on the character: its reference place, and the source's displacement by the ratio asked for. */
function hipsPlaces(motion: Motion, carrying: Carrying, at: Vec3, leg: number, isSameSkeleton: boolean): Float64Array {
  const unit = (ratio: Carrying['hipsVertical']) => (ratio === 'legs' ? leg : motion.legMetres);
  const [flat, up] = [unit(carrying.hipsHorizontal), unit(carrying.hipsVertical)];
  // A character of the same skeleton stands where the source's clip does.
  const ground = isSameSkeleton ? (motion.own?.groundMetres ?? 0) : 0;
  const out = new Float64Array(motion.frameCount * 3);
  for (let frame = 0; frame < motion.frameCount; frame++) {
    out[frame * 3] = at[0] + motion.hips[frame * 3] * flat;
    out[frame * 3 + 1] = at[1] + ground + motion.hips[frame * 3 + 1] * up;
    out[frame * 3 + 2] = at[2] + motion.hips[frame * 3 + 2] * flat;
  }
  return out;
}

/** The source's own root on the same skeleton. Its turns are the motion's; headings are not needed. */
function ownRoot(motion: Motion, at: Vec3, leg: number): RootPath {
  const places = new Float64Array(motion.frameCount * 3);
  const given = motion.root?.places ?? new Float32Array(0);
  for (let each = 0; each < places.length; each++) places[each] = at[each % 3] + given[each] * leg;
  return { places, headings: new Float64Array(motion.frameCount) };
}

function chainAbove({ rig }: CarryTarget, hips: number): number[] {
  const out: number[] = [];
  for (let at = rig.bones[hips].parent; at >= 0; at = rig.bones[at].parent) out.unshift(at);
  return out;
}

function byPath({ rig }: CarryTarget, bones: readonly OwnBone[]): Map<number, OwnBone> {
  const own = new Map(bones.map((bone) => [bone.path, bone]));
  return new Map(
    pathsOf(rig).flatMap((path, index) => {
      const found = own.get(path);
      return found ? [[index, found] as const] : [];
    }),
  );
}

/** Turn of the role that a twist bone shares about the segment, frame by frame without jumps, radians. */
export function twistAngles(motion: Motion, target: CarryTarget, { role, twistOf, axis }: TwistBone): Float64Array {
  const { slots, rotations, frameCount } = motion;
  const above = twistOf === role ? (roleAbove(target, role) ?? '') : role;
  const [upper, lower] = [slotOfRole(slots, above), slotOfRole(slots, twistOf)];
  if (lower < 0) return new Float64Array(frameCount);
  const at = (frame: number, slot: number): Quat => {
    const start = (frame * slots.length + slot) * 4;
    return [rotations[start], rotations[start + 1], rotations[start + 2], rotations[start + 3]];
  };
  return unwrapped(frameCount, (frame) => {
    const turn = upper < 0 ? at(frame, lower) : multiply(conjugate(at(frame, upper)), at(frame, lower));
    return [turn[0] * axis[0] + turn[1] * axis[1] + turn[2] * axis[2], turn[3]];
  });
}

/** Layers by bone. About the body's axes a turn goes in the space of what the bone hangs on; about its own, in its own. */
function layersOf(
  target: CarryTarget,
  standing: StandingFigure,
  spaces: readonly JointSpace[],
  offsets: readonly OffsetLayer[],
): Map<number, { isBefore: boolean; turn: Quat }[]> {
  const out = new Map<number, { isBefore: boolean; turn: Quat }[]>();
  const add = (bone: number, axis: Vec3, degrees: number, isOwn: boolean) => {
    const space = isOwn ? standing.rotations[bone] : spaces[bone].rotation;
    const turn = fromAxisAngle(rotate(conjugate(space), axis), (degrees * Math.PI) / 180);
    out.set(bone, [...(out.get(bone) ?? []), { isBefore: !isOwn, turn }]);
  };
  for (const side of ['left', 'right'] as const) {
    const bone = target.roleBones.get(`${side}UpperArm`);
    const degrees = target.armOffsetDeg?.[side] ?? 0;
    // A hanging left arm goes out to +X by a positive turn about the axis ahead.
    if (bone !== undefined && degrees !== 0) add(bone, [0, 0, 1], side === 'left' ? degrees : -degrees, false);
  }
  const worlds = computeWorlds(target.rig, target.pose);
  for (const { role, about, degrees, isOn } of offsets) {
    const bone = target.roleBones.get(role);
    if (bone === undefined || !isOn || degrees === 0) continue;
    const axis = turnAxisOf(target.definition, role, about, computeRoleFrame({ ...target, worlds }, role));
    if (axis) add(bone, axis, degrees, about === 'hinge' || about === 'bone');
  }
  return out;
}

/** How far the shoulders of the source carry arms whose character has no collar to move. */
function lostShoulders(motion: Motion, target: CarryTarget, leg: number): Record<string, number> {
  const lost: Record<string, number> = {};
  for (const side of ['left', 'right'] as const) {
    const collar = slotOfRole(motion.slots, `${side}Shoulder`);
    const arm = `${side}UpperArm`;
    if (collar < 0 || target.roleBones.has(`${side}Shoulder`) || !target.roleBones.has(arm)) continue;
    const chest = ['upperChest', 'chest', 'spine', 'hips']
      .map((role) => slotOfRole(motion.slots, role))
      .find((slot) => slot >= 0);
    if (chest === undefined) continue;
    const length = (motion.limbs[arm] ?? 0) * leg;
    let most = 0;
    for (let frame = 0; frame < motion.frameCount; frame++) {
      const at = (slot: number) => (frame * motion.slots.length + slot) * 4;
      let cosine = 0;
      for (let k = 0; k < 4; k++) cosine += motion.rotations[at(collar) + k] * motion.rotations[at(chest) + k];
      // Chord of the turn of the collar against the chest: twice the sine of half of it.
      most = Math.max(most, 2 * length * Math.sqrt(Math.max(0, 1 - cosine * cosine)));
    }
    lost[arm] = most;
  }
  return lost;
}
