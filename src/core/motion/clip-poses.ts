import type { ClipTracks } from '../clips/motion-tracks';
import { toBody } from '../frame/normalise';
import { decompose } from '../math/mat4';
import { multiply, type Quat } from '../math/quat';
import { writeProduct, writeRotated } from '../math/quat-arrays';
import { computeCarriers } from '../rig/pose';
import type { Rig } from '../rig/rig';
import type { Normalisation } from '../frame/normalise';
import { TrackReader } from './track-reader';

/** Frames that are worked out together; so much scratch is needed whatever the length of a clip. */
export const BLOCK_FRAMES = 256;

interface Joint {
  readonly bone: number;
  /** Place of its parent in the list; -1 for a top bone. */
  readonly parent: number;
  /** What stands between parent bone and own transform; null for nothing. For a top bone the turn to the body frame is in it. */
  readonly carrier: { readonly rotation: Quat; readonly translation: readonly number[]; readonly scale: number } | null;
  readonly rotation: TrackReader | null;
  readonly translation: TrackReader | null;
  readonly scale: TrackReader | null;
  readonly rest: Rig['bones'][number]['rest'];
  readonly hasPlace: boolean;
}

/**
 * Plays a clip block by block: world rotations of the wanted bones, and joints of some of them, in the body frame and
 * metres. Parents are joined by quaternions only; places follow scales that are the same on all axes.
 */
export class ClipPoses {
  private readonly joints: readonly Joint[];
  private readonly at: Int32Array;
  private readonly rotations: Float64Array;
  private readonly places: Float64Array;
  private readonly scales: Float64Array;
  /** Local rotation, translation and scale of the joint that is worked out. */
  private readonly local = new Float64Array(BLOCK_FRAMES * 4);
  private readonly moved = new Float64Array(BLOCK_FRAMES * 3);
  private readonly base = new Float64Array(11);

  /** @param turned bones whose rotations are wanted. @param placed bones whose places are wanted as well. */
  constructor(
    rig: Rig,
    clip: ClipTracks,
    normalisation: Normalisation,
    turned: Iterable<number>,
    placed: Iterable<number>,
  ) {
    const isWanted = new Uint8Array(rig.bones.length);
    const mark = (bone: number, as: number) => {
      for (let each = bone; each >= 0; each = rig.bones[each].parent) isWanted[each] = Math.max(isWanted[each], as);
    };
    for (const bone of turned) mark(bone, 1);
    for (const bone of placed) mark(bone, 2);
    const readers = new Map(clip.tracks.map((track) => [`${track.bone} ${track.path}`, new TrackReader(track)]));
    const carriers = computeCarriers(rig);
    this.at = new Int32Array(rig.bones.length).fill(-1);
    const joints: Joint[] = [];
    for (const { index, parent, rest } of rig.bones) {
      if (isWanted[index] === 0) continue;
      this.at[index] = joints.length;
      const read = (path: string) => readers.get(`${index} ${path}`) ?? null;
      joints.push({
        bone: index,
        parent: parent >= 0 ? this.at[parent] : -1,
        carrier: carrierOf(carriers[index], parent < 0 ? normalisation : null),
        rotation: read('rotation'),
        translation: read('translation'),
        scale: read('scale'),
        rest,
        hasPlace: isWanted[index] === 2,
      });
    }
    this.joints = joints;
    this.rotations = new Float64Array(joints.length * BLOCK_FRAMES * 4);
    this.places = new Float64Array(joints.length * BLOCK_FRAMES * 3);
    this.scales = new Float64Array(joints.length * BLOCK_FRAMES * 3);
  }

  /** Where the rotations of a bone start in `allRotations`; frames follow one another. */
  rotationsAt(bone: number): number {
    return this.at[bone] * BLOCK_FRAMES * 4;
  }
  placesAt(bone: number): number {
    return this.at[bone] * BLOCK_FRAMES * 3;
  }
  get allRotations(): Float64Array {
    return this.rotations;
  }
  get allPlaces(): Float64Array {
    return this.places;
  }

  /** Works out a block. @param seconds of its frames, at most BLOCK_FRAMES. */
  play(seconds: readonly number[]): void {
    this.joints.forEach((joint, index) => {
      this.turn(joint, index, seconds);
      if (joint.hasPlace) this.place(joint, index, seconds);
    });
  }

  private turn({ parent, carrier, rotation, rest }: Joint, index: number, seconds: readonly number[]): void {
    const { local, rotations } = this;
    const own = index * BLOCK_FRAMES * 4;
    const above = parent * BLOCK_FRAMES * 4;
    for (let frame = 0; frame < seconds.length; frame++) {
      const at = frame * 4;
      if (rotation) rotation.read(local, at, seconds[frame]);
      else for (let k = 0; k < 4; k++) local[at + k] = rest.rotation[k];
      if (carrier) writeProduct(local, at, carrier.rotation, 0, local, at);
      if (parent < 0) for (let k = 0; k < 4; k++) rotations[own + at + k] = local[at + k];
      else writeProduct(rotations, own + at, rotations, above + at, local, at);
    }
  }

  private place(joint: Joint, index: number, seconds: readonly number[]): void {
    const { parent, carrier, translation, scale, rest } = joint;
    const { places, scales, moved, rotations, base } = this;
    const [own, above] = [index * BLOCK_FRAMES * 3, parent * BLOCK_FRAMES * 3];
    if (parent >= 0 && !carrier && !scale) {
      this.placePlainly(joint, index, seconds);
      return;
    }
    for (let frame = 0; frame < seconds.length; frame++) {
      const at = frame * 3;
      // base: rotation (0..3), place (4..6), scale (7..9) of the space that the joint's own transform stands in.
      base.set(NO_SPACE);
      if (parent >= 0) {
        for (let k = 0; k < 4; k++) base[k] = rotations[parent * BLOCK_FRAMES * 4 + frame * 4 + k];
        for (let k = 0; k < 3; k++) {
          base[4 + k] = places[above + at + k];
          base[7 + k] = scales[above + at + k];
        }
      }
      if (carrier) {
        for (let k = 0; k < 3; k++) moved[at + k] = carrier.translation[k] * base[7 + k];
        writeRotated(moved, at, base, 0, moved, at);
        for (let k = 0; k < 3; k++) {
          base[4 + k] += moved[at + k];
          base[7 + k] *= carrier.scale;
        }
        writeProduct(base, 0, base, 0, carrier.rotation, 0);
      }
      if (translation) translation.read(moved, at, seconds[frame]);
      else for (let k = 0; k < 3; k++) moved[at + k] = rest.translation[k];
      for (let k = 0; k < 3; k++) moved[at + k] *= base[7 + k];
      writeRotated(moved, at, base, 0, moved, at);
      for (let k = 0; k < 3; k++) places[own + at + k] = base[4 + k] + moved[at + k];
      if (scale) scale.read(moved, at, seconds[frame]);
      else for (let k = 0; k < 3; k++) moved[at + k] = rest.scale[k];
      for (let k = 0; k < 3; k++) scales[own + at + k] = base[7 + k] * moved[at + k];
    }
  }

  /** The usual joint: right below its parent bone, its scale not keyed. */
  private placePlainly({ parent, translation, rest }: Joint, index: number, seconds: readonly number[]): void {
    const { places, scales, moved, rotations } = this;
    const [own, above, turned] = [index * BLOCK_FRAMES * 3, parent * BLOCK_FRAMES * 3, parent * BLOCK_FRAMES * 4];
    const [rx, ry, rz] = rest.translation;
    const [sx, sy, sz] = rest.scale;
    for (let frame = 0; frame < seconds.length; frame++) {
      const at = frame * 3;
      moved[0] = rx;
      moved[1] = ry;
      moved[2] = rz;
      if (translation) translation.read(moved, 0, seconds[frame]);
      moved[0] *= scales[above + at];
      moved[1] *= scales[above + at + 1];
      moved[2] *= scales[above + at + 2];
      writeRotated(moved, 0, rotations, turned + frame * 4, moved, 0);
      places[own + at] = places[above + at] + moved[0];
      places[own + at + 1] = places[above + at + 1] + moved[1];
      places[own + at + 2] = places[above + at + 2] + moved[2];
      scales[own + at] = scales[above + at] * sx;
      scales[own + at + 1] = scales[above + at + 1] * sy;
      scales[own + at + 2] = scales[above + at + 2] * sz;
    }
  }
}

const NO_SPACE = [0, 0, 0, 1, 0, 0, 0, 1, 1, 1];

function carrierOf(carrier: readonly number[], normalisation: Normalisation | null): Joint['carrier'] {
  const { rotation, translation, scale } = decompose(carrier);
  // The cube root of the volume: what a scale comes to that is the same on all axes.
  const even = Math.cbrt(Math.abs(scale[0] * scale[1] * scale[2]));
  if (normalisation)
    return {
      rotation: multiply(normalisation.rotation as Quat, rotation),
      translation: toBody(normalisation, translation),
      scale: even * normalisation.scale,
    };
  const isNothing =
    Math.abs(even - 1) < 1e-9 &&
    Math.hypot(...translation) < 1e-12 &&
    Math.hypot(rotation[0], rotation[1], rotation[2]) < 1e-12;
  return isNothing ? null : { rotation, translation, scale: even };
}
