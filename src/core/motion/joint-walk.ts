import { conjugate, multiply, normalise, rotate, type Quat } from '../math/quat';
import { quatAt, writeProduct, writeRotated } from '../math/quat-arrays';
import { subtract, type Vec3 } from '../math/vec3';
import type { CarriedFrames } from './carry-frames';
import type { CarryPlan } from './carry-plan';

/** Walks a carried frame from the top: worlds of all bones in the body frame, metres, with layers and all. */
export class JointWalk {
  /** [boneCount x 4] */
  readonly rotations: Float64Array;
  /** [boneCount x 3] */
  readonly places: Float64Array;
  /** World turn of the space that each bone's local turn stands in; [boneCount x 4]. */
  readonly spaces: Float64Array;
  private readonly driven = new Map<number, number>();
  private readonly placed = new Map<number, number>();
  private readonly fixed: readonly {
    readonly bone: number;
    readonly parent: number;
    /** Space of the bone in its parent's. */
    readonly turn: Quat;
    readonly offset: readonly number[];
    readonly local: Quat;
    readonly at: readonly number[];
    readonly scale: number;
  }[];

  /** @param wanted bones whose worlds are asked for: the others stay as they were, but for those above; null for all. */
  constructor(plan: CarryPlan, placedBones: readonly number[], wanted: readonly number[] | null = null) {
    const { rig } = plan.target;
    const { rotations, places } = plan.standing;
    this.rotations = new Float64Array(rig.bones.length * 4);
    this.places = new Float64Array(rig.bones.length * 3);
    this.spaces = new Float64Array(rig.bones.length * 4);
    plan.driven.forEach(({ boneIndex }, at) => this.driven.set(boneIndex, at));
    placedBones.forEach((bone, at) => this.placed.set(bone, at));
    const walked = wanted && new Set(wanted);
    // Parents come before their children: seen from the last, a bone that is needed needs the one above.
    if (walked) for (const { index, parent } of rig.bones.toReversed()) if (walked.has(index)) walked.add(parent);
    this.fixed = rig.bones
      .filter(({ index }) => walked?.has(index) ?? true)
      .map(({ index, parent }) => {
        const space = plan.spaces[index];
        const above: Quat = parent >= 0 ? rotations[parent] : [0, 0, 0, 1];
        const origin = parent >= 0 ? places[parent] : ([0, 0, 0] as const);
        const undo = conjugate(above);
        const own = conjugate(space.rotation);
        const away = rotate(own, subtract(places[index], space.place));
        return {
          bone: index,
          parent,
          turn: normalise(multiply(undo, space.rotation)),
          offset: rotate(undo, subtract(space.place, origin)),
          local: normalise(multiply(own, rotations[index])),
          at: away.map((value) => value / space.scale),
          scale: space.scale,
        };
      });
  }

  /** World turn of a bone in the frame that was walked. */
  turnOf(bone: number): Quat {
    return quatAt(this.rotations, bone * 4);
  }

  /** Joint of a bone in the frame that was walked, metres. */
  placeOf(bone: number): Vec3 {
    const { places } = this;
    return [places[bone * 3], places[bone * 3 + 1], places[bone * 3 + 2]];
  }

  /** @param frame counted from the first of `frames`. */
  walk(frames: CarriedFrames, frame: number): void {
    const { rotations, places } = this;
    const root = frames.addedRoot.length > 0 ? frame * 7 : -1;
    const [drivenCount, placedCount] = [this.driven.size, this.placed.size];
    this.fixed.forEach(({ bone, parent, turn, offset, local, at, scale }) => {
      if (parent >= 0) {
        for (let k = 0; k < 4; k++) ABOVE[k] = rotations[parent * 4 + k];
        for (let k = 0; k < 3; k++) ORIGIN[k] = places[parent * 3 + k];
        writeRotated(STEP, 0, ABOVE, 0, offset, 0);
        for (let k = 0; k < 3; k++) ORIGIN[k] += STEP[k];
        writeProduct(ABOVE, 0, ABOVE, 0, turn, 0);
      } else if (root >= 0) {
        for (let k = 0; k < 3; k++) ORIGIN[k] = frames.addedRoot[root + k];
        for (let k = 0; k < 4; k++) ABOVE[k] = frames.addedRoot[root + 3 + k];
        writeProduct(ABOVE, 0, ABOVE, 0, turn, 0);
      } else {
        for (let k = 0; k < 4; k++) ABOVE[k] = turn[k];
        for (let k = 0; k < 3; k++) ORIGIN[k] = offset[k];
      }
      this.spaces.set(ABOVE, bone * 4);
      const driven = this.driven.get(bone);
      if (driven === undefined) writeProduct(rotations, bone * 4, ABOVE, 0, local, 0);
      else writeProduct(rotations, bone * 4, ABOVE, 0, frames.rotations, (frame * drivenCount + driven) * 4);
      const placed = this.placed.get(bone);
      const from = placed === undefined ? 0 : (frame * placedCount + placed) * 3;
      for (let k = 0; k < 3; k++) STEP[k] = (placed === undefined ? at[k] : frames.translations[from + k]) * scale;
      writeRotated(STEP, 0, ABOVE, 0, STEP, 0);
      for (let k = 0; k < 3; k++) places[bone * 3 + k] = ORIGIN[k] + STEP[k];
    });
  }
}

const ABOVE = new Float64Array(4);
const ORIGIN = new Float64Array(3);
const STEP = new Float64Array(3);
