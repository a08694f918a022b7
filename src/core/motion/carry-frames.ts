import { conjugate, normalise, rotate, type Quat } from '../math/quat';
import {
  keepSign,
  normaliseAt,
  quatAt,
  writeBetween,
  writeProduct,
  writeRotated,
  writeSlerp,
} from '../math/quat-arrays';
import type { Vec3 } from '../math/vec3';
import type { CarryPlan, DrivenBone, MovedBone } from './carry-plan';
import { correctiveWeight, turnOfLocal } from './correctives';

/** Some frames of a carried motion, as local transforms of a character's bones in the spaces of the plan. Frame-major. */
export interface CarriedFrames {
  readonly from: number;
  readonly count: number;
  /** [count x drivenCount x 4], in the order of the plan's driven bones. */
  readonly rotations: Float32Array;
  /** Local translations of the bones in `placedBones`; [count x placedCount x 3]. */
  readonly translations: Float32Array;
  /** Local scales of the plan's scaled bones; [count x scaledCount x 3]. */
  readonly scales: Float32Array;
  /** Where an added root goes: place (3) and turn (4) for each frame; empty where none is added. */
  readonly addedRoot: Float32Array;
  /** Weights of the plan's morph targets, 0 to 1; [count x morphCount]. */
  readonly morphs: Float32Array;
}

/** A few numbers of every frame out of a longer row: [count x size] from [count x stride], from `at` on. */
export function columnOf(values: Float32Array, stride: number, at: number, size: number): Float32Array {
  const count = values.length / stride;
  const out = new Float32Array(count * size);
  for (let frame = 0; frame < count; frame++)
    for (let k = 0; k < size; k++) out[frame * size + k] = values[frame * stride + at + k];
  return out;
}

/** Bones whose local translation changes: those that slide, the hips, the root, and what stays beside a root that travels. */
function placedBones({ moved, hips, driven, root, target, loose }: CarryPlan): number[] {
  const held = driven.flatMap(({ boneIndex, drive }) => (drive.kind === 'held' ? [boneIndex] : []));
  const rooted = root && target.rootBone !== null && target.rootBone !== hips ? [target.rootBone] : [];
  return [...new Set([hips, ...rooted, ...held, ...loose.keys(), ...moved.map(({ boneIndex }) => boneIndex)])];
}

/** What frames of a carried motion come from. */
export type FrameSource = Pick<MotionCarrier, 'plan' | 'placedBones' | 'carry'>;

/** Works out frames of a carried motion. Holds scratch, so one at a time. */
export class MotionCarrier {
  private readonly turns: Float64Array;
  private readonly above: Int32Array;
  private readonly placed: readonly number[];
  private readonly movedOf: ReadonlyMap<number, MovedBone>;
  private readonly isRootAdded: boolean;
  /** What each driven bone's turn is multiplied with on either side, four numbers each. */
  private readonly before: Float64Array;
  private readonly after: Float64Array;
  private readonly hasLayers: boolean;

  /** @param adjust changes what was carried before it is handed out; null for nothing. */
  constructor(
    readonly plan: CarryPlan,
    private readonly adjust: ((frames: CarriedFrames) => void) | null = null,
  ) {
    this.turns = new Float64Array((plan.driven.length + 1) * 4);
    this.above = Int32Array.from(plan.driven, ({ above }) => above);
    this.before = Float64Array.from(plan.driven.flatMap(({ before }) => [...before]));
    this.after = Float64Array.from(plan.driven.flatMap(({ after }) => [...after]));
    this.hasLayers = plan.driven.some(({ layers }) => layers.length > 0);
    this.placed = placedBones(plan);
    this.movedOf = new Map(plan.moved.map((moved) => [moved.boneIndex, moved]));
    this.isRootAdded = plan.root !== null && plan.target.rootBone === null;
  }

  get placedBones(): readonly number[] {
    return this.placed;
  }

  /** @param from first frame. @param count how many; held to the motion's length. */
  carry(from: number, count: number): CarriedFrames {
    const { plan, placed } = this;
    const total = Math.max(0, Math.min(count, plan.motion.frameCount - from));
    const bones = plan.driven.length;
    const out: CarriedFrames = {
      from,
      count: total,
      rotations: new Float32Array(total * bones * 4),
      translations: new Float32Array(total * placed.length * 3),
      scales: new Float32Array(total * plan.scaled.length * 3),
      addedRoot: new Float32Array(this.isRootAdded ? total * 7 : 0),
      morphs: new Float32Array(total * plan.morphs.morphs.length),
    };
    for (let frame = 0; frame < total; frame++) {
      this.turn(from + frame);
      this.writeLocals(out.rotations, frame * bones * 4, frame > 0);
      placed.forEach((bone, at) =>
        this.writePlace(out.translations, (frame * placed.length + at) * 3, bone, from + frame),
      );
      plan.scaled.forEach(({ values }, at) => {
        for (let k = 0; k < 3; k++)
          out.scales[(frame * plan.scaled.length + at) * 3 + k] = values[(from + frame) * 3 + k];
      });
      if (this.isRootAdded) this.writeRoot(out.addedRoot, frame * 7, from + frame);
      this.writeMorphs(out, frame);
    }
    this.adjust?.(out);
    return out;
  }

  /** What the motion tells of a morph target, and what joints add to it. */
  private writeMorphs({ from, rotations, morphs: weights }: CarriedFrames, frame: number): void {
    const { driven, morphs } = this.plan;
    const { told, correctives } = morphs;
    const row = frame * told.length;
    told.forEach((values, at) => {
      if (values) weights[row + at] = values[from + frame];
    });
    for (const corrective of correctives) {
      const { before, after } = driven[corrective.driven];
      const local = quatAt(rotations, (frame * driven.length + corrective.driven) * 4);
      const at = row + corrective.morph;
      const more = correctiveWeight(turnOfLocal(before, local, after), corrective);
      if (more > 0) weights[at] = Math.min(1, weights[at] + more);
    }
  }

  /** D of all driven bones in a frame, into `turns`; the last one is the identity, or the added root's. */
  private turn(frame: number): void {
    const { turns, above, plan } = this;
    const { driven, motion } = plan;
    const { rotations, slots } = motion;
    const none = driven.length * 4;
    heading(turns, none, this.isRootAdded ? (plan.root?.headings[frame] ?? 0) : 0);
    const row = frame * slots.length * 4;
    for (let at = 0; at < driven.length; at++) {
      const { drive } = driven[at];
      const up = above[at] < 0 ? none : above[at] * 4;
      const own = at * 4;
      switch (drive.kind) {
        case 'slots': {
          const { from, to, share } = drive.source;
          if (from === to || share === 0) copy4(turns, own, rotations, row + from * 4);
          else if (share === 1) copy4(turns, own, rotations, row + to * 4);
          else if (from < 0) writeSlerp(turns, own, IDENTITY4, 0, rotations, row + to * 4, share);
          else writeSlerp(turns, own, rotations, row + from * 4, rotations, row + to * 4, share);
          break;
        }
        case 'twist': {
          const { role, factor, axis } = drive.twist;
          const half = (drive.angles[frame] * factor) / 2;
          const sine = Math.sin(half);
          const segment = this.placeOfRole(role);
          TWIST[0] = axis[0] * sine;
          TWIST[1] = axis[1] * sine;
          TWIST[2] = axis[2] * sine;
          TWIST[3] = Math.cos(half);
          writeProduct(turns, own, turns, segment < 0 ? none : segment * 4, TWIST, 0);
          break;
        }
        case 'own': {
          // D = D_above B r T0^-1, with B the file's own space of the bone.
          writeProduct(turns, own, turns, up, drive.space.rotation, 0);
          writeProduct(turns, own, turns, own, drive.own.rotations as Float32Array, frame * 4);
          writeProduct(turns, own, turns, own, conjugate(driven[at].after), 0);
          break;
        }
        case 'root':
          if (plan.hasOwnRoot && motion.root) copy4(turns, own, motion.root.rotations, frame * 4);
          else heading(turns, own, plan.root?.headings[frame] ?? 0);
          break;
        case 'held':
          copy4(turns, own, IDENTITY4, 0);
          break;
        case 'ride':
          copy4(turns, own, turns, up);
          break;
        case 'follow':
          // Its carrier may come later in the list.
          break;
        default:
          drive satisfies never;
      }
    }
    driven.forEach(({ drive }, at) => {
      if (drive.kind === 'follow') copy4(turns, at * 4, this.turnOf(drive.carrier), 0);
    });
  }

  private writeLocals(out: Float32Array, start: number, hasBefore: boolean): void {
    const { turns, above, plan, before, after } = this;
    const count = plan.driven.length;
    const row = count * 4;
    for (let at = 0; at < count; at++) {
      const own = start + at * 4;
      writeBetween(LOCAL, 0, turns, above[at] < 0 ? row : above[at] * 4, at * 4, before, after, at * 4);
      if (this.hasLayers) this.turnByLayers(at);
      normaliseAt(LOCAL, 0);
      copy4(out, own, LOCAL, 0);
      if (hasBefore) keepSign(out, own, own - row);
    }
  }

  private turnByLayers(at: number): void {
    for (const { isBefore, turn } of this.plan.driven[at].layers) {
      if (isBefore) writeProduct(LOCAL, 0, turn, 0, LOCAL, 0);
      else writeProduct(LOCAL, 0, LOCAL, 0, turn, 0);
    }
  }

  /** Local translation of a bone that moves, in its own space. */
  private writePlace(out: Float32Array, at: number, bone: number, frame: number): void {
    const { plan } = this;
    const { hips, hipsAt, root, target, standing } = plan;
    if (bone === target.rootBone && root) {
      this.writeFromBody(
        out,
        at,
        bone,
        [root.places[frame * 3], root.places[frame * 3 + 1], root.places[frame * 3 + 2]],
        frame,
      );
      return;
    }
    if (bone === hips) {
      this.writeFromBody(out, at, bone, [hipsAt[frame * 3], hipsAt[frame * 3 + 1], hipsAt[frame * 3 + 2]], frame);
      return;
    }
    if (plan.loose.has(bone)) {
      this.writeFromBody(out, at, bone, this.jointPlace(bone, frame), frame);
      return;
    }
    const moved = this.movedOf.get(bone);
    if (moved) {
      const local = movedAt(moved, frame);
      for (let k = 0; k < 3; k++) out[at + k] = local[k];
      return;
    }
    // Held: where it stands in the reference posture.
    this.writeFromBody(out, at, bone, standing.places[bone], frame);
  }

  /** A place in the body frame as a local translation of a bone. */
  private writeFromBody(out: Float32Array, at: number, bone: number, place: Vec3, frame: number): void {
    const { plan } = this;
    const space = plan.spaces[bone];
    const parent = plan.target.rig.bones[bone].parent;
    const base = this.spacePlace(bone, frame);
    const turned = this.turnAbove(parent);
    const away = rotate(conjugate(turned), [place[0] - base[0], place[1] - base[1], place[2] - base[2]]);
    const local = rotate(conjugate(space.rotation), away);
    for (let k = 0; k < 3; k++) out[at + k] = local[k] / space.scale;
  }

  /** Where the origin of a bone's space is in a frame: it hangs on the chain from the root. */
  private spacePlace(bone: number, frame: number): Vec3 {
    const { plan } = this;
    const { rig } = plan.target;
    const parent = rig.bones[bone].parent;
    const space = plan.spaces[bone];
    if (parent < 0) return this.addedRootPlace(space.place, frame);
    const { places } = plan.standing;
    const at = this.jointPlace(parent, frame);
    const away = rotate(this.turnOf(parent), [
      space.place[0] - places[parent][0],
      space.place[1] - places[parent][1],
      space.place[2] - places[parent][2],
    ]);
    return [at[0] + away[0], at[1] + away[1], at[2] + away[2]];
  }

  /** Joint of a bone in a frame. */
  private jointPlace(bone: number, frame: number): Vec3 {
    const { plan } = this;
    const { root, target, standing, spaces, hips, hipsAt } = plan;
    if (bone === target.rootBone && root)
      return [root.places[frame * 3], root.places[frame * 3 + 1], root.places[frame * 3 + 2]];
    if (bone === hips) return [hipsAt[frame * 3], hipsAt[frame * 3 + 1], hipsAt[frame * 3 + 2]];
    const carrier = plan.loose.get(bone);
    const parent = carrier ?? target.rig.bones[bone].parent;
    const from = parent < 0 ? ([0, 0, 0] as Vec3) : standing.places[parent];
    const moved = carrier === undefined ? this.movedOf.get(bone) : undefined;
    let stands: Vec3 = standing.places[bone];
    if (moved) {
      const { rotation, place, scale } = spaces[bone];
      const [x, y, z] = movedAt(moved, frame);
      const turned = rotate(rotation, [x * scale, y * scale, z * scale]);
      stands = [place[0] + turned[0], place[1] + turned[1], place[2] + turned[2]];
    }
    if (parent < 0) return this.addedRootPlace(stands, frame);
    const at = this.jointPlace(parent, frame);
    const away = rotate(this.turnOf(parent), [stands[0] - from[0], stands[1] - from[1], stands[2] - from[2]]);
    return [at[0] + away[0], at[1] + away[1], at[2] + away[2]];
  }

  /** Something that hangs on an added root. */
  private addedRootPlace(place: Vec3, frame: number): Vec3 {
    if (!this.isRootAdded || !this.plan.root) return place;
    const { places } = this.plan.root;
    const origin = this.plan.spaces[this.plan.chain[0] ?? this.plan.hips].place;
    const away = rotate(this.noneTurn(), [place[0] - origin[0], place[1] - origin[1], place[2] - origin[2]]);
    return [places[frame * 3] + away[0], places[frame * 3 + 1] + away[1], places[frame * 3 + 2] + away[2]];
  }

  private noneTurn(): Quat {
    return quatAt(this.turns, this.plan.driven.length * 4);
  }

  private turnAbove(parent: number): Quat {
    return parent < 0 ? this.noneTurn() : this.turnOf(parent);
  }

  /** D of a bone, driven or not. */
  private turnOf(bone: number): Quat {
    for (let at = bone; at >= 0; at = this.plan.target.rig.bones[at].parent) {
      const known = this.placeOfBone.get(at);
      if (known !== undefined) return quatAt(this.turns, known * 4);
    }
    return this.noneTurn();
  }

  private known: Map<number, number> | null = null;
  private get placeOfBone(): ReadonlyMap<number, number> {
    this.known ??= new Map(this.plan.driven.map(({ boneIndex }: DrivenBone, at) => [boneIndex, at]));
    return this.known;
  }

  private placeOfRole(role: string): number {
    const bone = this.plan.target.roleBones.get(role);
    return bone === undefined ? -1 : (this.placeOfBone.get(bone) ?? -1);
  }

  private writeRoot(out: Float32Array, at: number, frame: number): void {
    const { root } = this.plan;
    if (!root) return;
    for (let k = 0; k < 3; k++) out[at + k] = root.places[frame * 3 + k];
    const turn = normalise(this.noneTurn());
    for (let k = 0; k < 4; k++) out[at + 3 + k] = turn[k];
  }
}

/** Local translation of a bone that slides. */
function movedAt({ values, base, turn, linear }: MovedBone, frame: number): Vec3 {
  PLACE.set(values.subarray(frame * 3, frame * 3 + 3));
  writeRotated(PLACE, 0, turn, 0, PLACE, 0);
  return [base[0] + PLACE[0] * linear, base[1] + PLACE[1] * linear, base[2] + PLACE[2] * linear];
}

const IDENTITY4 = [0, 0, 0, 1];
const TWIST = new Float64Array(4);
const LOCAL = new Float64Array(4);
const PLACE = new Float64Array(3);

function copy4(out: Float32Array | Float64Array, at: number, from: ArrayLike<number>, start: number): void {
  out[at] = from[start];
  out[at + 1] = from[start + 1];
  out[at + 2] = from[start + 2];
  out[at + 3] = from[start + 3];
}

/** A turn about the up axis. */
function heading(out: Float64Array, at: number, radians: number): void {
  out[at] = out[at + 2] = 0;
  out[at + 1] = Math.sin(radians / 2);
  out[at + 3] = Math.cos(radians / 2);
}
