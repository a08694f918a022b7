import type { ClipTracks } from '../clips/motion-tracks';
import { spendBytes } from '../errors/byte-budget';
import { YarvoError } from '../errors/yarvo-error';
import { conjugate, type Quat } from '../math/quat';
import { writeDifference, writeProduct, writeRotated, writeTurn } from '../math/quat-arrays';
import { distance, subtract, type Vec3 } from '../math/vec3';
import { parentsOf, topBoneAbove } from '../rig/bone-tree';
import { BLOCK_FRAMES, ClipPoses } from './clip-poses';
import { findContacts, type ContactTrack } from './contacts';
import { legLength, roleAbove, type FittedRig, type StandingFigure } from './fitted-rig';
import { referenceFigure } from './reference-figure';
import { groundOf } from './ground';
import { lineSlots, type BoneSlot } from './line-slots';
import type { Motion, Shift } from './motion';
import { ownOf } from './own-bones';
import { frameTimes, type FrameWishes } from './frame-times';
import { morphsOf } from './morph-weights';
import { saysMore } from './track-reader';

export interface CaptureOptions extends FrameWishes {
  /** Names of morph targets by node and place; none where the reading does not say. */
  readonly morphNames?: ReadonlyMap<number, readonly string[]>;
}

/** Joints that stray from their place by less than this share of a leg do not slide. */
const SHIFT_SLACK = 2e-3;

/**
 * Turns a clip into a motion in role space: for every role and member of a run how it is turned against the reference
 * posture, how the hips and the root travel, where feet and hands touch.
 *
 * @param source the clip's rig with its roles and its reference posture.
 * @throws {YarvoError} `no-figure`, `empty-clip`, `too-long`, `bad-rate`, `bad-keys`
 */
export function captureMotion(source: FittedRig, clip: ClipTracks, options: CaptureOptions, place = clip.name): Motion {
  const hips = source.roleBones.get('hips');
  if (hips === undefined) throw noFigure(place);
  assertSound(clip, source, place);
  const times = frameTimes(clip, options, place);
  const { standing } = referenceFigure(source, []);
  const leg = legLength(source, standing);
  const slots = lineSlots(source, standing.places);
  const top = topBoneAbove(parentsOf(source.rig), hips);
  const root = top !== null && movesItself(clip, source, top) ? top : null;
  const sliding = slidingRoles(source, clip, slots, leg);
  const touching = touchingBones(source);
  const poses = new ClipPoses(
    source.rig,
    clip,
    source.normalisation,
    [...slots.map(({ boneIndex }) => boneIndex), ...(root === null ? [] : [root])],
    [
      hips,
      ...touching.map(({ bone }) => bone),
      ...sliding.flatMap(({ bone, above }) => [bone, above]),
      ...(root === null ? [] : [root]),
    ],
  );
  const { frameCount } = times;
  spendBytes(frameCount * (slots.length * 4 + 3 + (root === null ? 0 : 7) + sliding.length * 3) * 4, clip.name);
  const out = {
    rotations: new Float32Array(frameCount * slots.length * 4),
    hips: new Float32Array(frameCount * 3),
    root:
      root === null ? null : { places: new Float32Array(frameCount * 3), rotations: new Float32Array(frameCount * 4) },
    shifts: sliding.map(({ role }): Shift => ({ role, values: new Float32Array(frameCount * 3) })),
  };
  const contacts: ContactTrack[] = touching.map(({ part, bone }) => ({
    part,
    places: new Float32Array(frameCount * 3),
    restHeight: standing.places[bone][1],
  }));
  for (let from = 0; from < frameCount; from += BLOCK_FRAMES) {
    const count = Math.min(BLOCK_FRAMES, frameCount - from);
    poses.play(times.seconds(from, count));
    slots.forEach((slot, at) => {
      writeTurns(
        out.rotations,
        from,
        count,
        at,
        slots.length,
        poses,
        slot.boneIndex,
        undoing(standing, slot.boneIndex),
      );
    });
    writePlaces(out.hips, from, count, poses, hips, standing.places[hips], leg);
    if (out.root && root !== null) {
      writeTurns(out.root.rotations, from, count, 0, 1, poses, root, undoing(standing, root));
      writePlaces(out.root.places, from, count, poses, root, standing.places[root], leg);
    }
    sliding.forEach((each, at) => writeShift(out.shifts[at].values, from, count, poses, each, { standing, leg }));
    touching.forEach(({ bone }, at) => writePlaces(contacts[at].places, from, count, poses, bone, [0, 0, 0], 1));
  }
  const groundMetres = groundOf(standing, source, contacts);
  if (groundMetres !== 0) for (let at = 1; at < out.hips.length; at += 3) out.hips[at] -= groundMetres / leg;
  return {
    name: clip.name,
    definition: { id: source.definition.id, version: source.definition.version },
    framesPerSecond: times.framesPerSecond,
    frameCount,
    slots: slots.map(({ boneIndex: _, ...slot }) => slot),
    legMetres: leg,
    limbs: limbsOf(source, standing, leg),
    contacts: findContacts(contacts, {
      leg,
      framesPerSecond: times.framesPerSecond,
      ground: groundMetres,
      floor: source.normalisation.floorMetres,
    }),
    ...out,
    morphs: morphsOf(clip, times, options.morphNames),
    own: ownOf(source, clip, times, groundMetres),
  };
}

/** S0^-1: what a frame's world rotation S is multiplied with to give D. */
const undoing = ({ rotations }: StandingFigure, bone: number): Quat => conjugate(rotations[bone]);

function writeTurns(
  out: Float32Array,
  from: number,
  count: number,
  slot: number,
  slotCount: number,
  poses: ClipPoses,
  bone: number,
  undo: Quat,
): void {
  const start = poses.rotationsAt(bone);
  const rotations = poses.allRotations;
  for (let frame = 0; frame < count; frame++) {
    const at = ((from + frame) * slotCount + slot) * 4;
    writeTurn(out, at, rotations, start + frame * 4, undo, 0, at - slotCount * 4);
  }
}

function writePlaces(
  out: Float32Array,
  from: number,
  count: number,
  poses: ClipPoses,
  bone: number,
  origin: Vec3,
  unit: number,
): void {
  const start = poses.placesAt(bone);
  const places = poses.allPlaces;
  const [x, y, z] = origin;
  for (let frame = 0; frame < count; frame++) {
    const [at, own] = [(from + frame) * 3, start + frame * 3];
    out[at] = (places[own] - x) / unit;
    out[at + 1] = (places[own + 1] - y) / unit;
    out[at + 2] = (places[own + 2] - z) / unit;
  }
}

interface SlidingRole {
  readonly role: string;
  readonly bone: number;
  /** Bone of the role above. */
  readonly above: number;
}

/** Roles below the hips whose joints the clip moves against what they hang on. */
function slidingRoles(source: FittedRig, clip: ClipTracks, slots: readonly BoneSlot[], leg: number): SlidingRole[] {
  const moved = new Set(clip.tracks.filter(({ path }) => path === 'translation').map(({ bone }) => bone));
  const slack = (SHIFT_SLACK * leg) / source.normalisation.scale;
  return slots.flatMap(({ role, boneIndex: bone }) => {
    const above = role === null ? null : roleAbove(source, role);
    if (role === null || above === null || !moved.has(bone)) return [];
    const track = clip.tracks.find((each) => each.bone === bone && each.path === 'translation');
    const { translation } = source.rig.bones[bone].rest;
    if (!track || !saysMore(track, translation, slack)) return [];
    return [{ role, bone, above: source.roleBones.get(above) as number }];
  });
}

/** How far a joint is from its place on the role above, in that one's frame in the reference posture; legs. */
function writeShift(
  out: Float32Array,
  from: number,
  count: number,
  poses: ClipPoses,
  { bone, above }: SlidingRole,
  { standing, leg }: { standing: StandingFigure; leg: number },
): void {
  const { allPlaces, allRotations } = poses;
  const [own, upper] = [poses.placesAt(bone), poses.placesAt(above)];
  const turned = poses.rotationsAt(above);
  const rest = subtract(standing.places[bone], standing.places[above]);
  const scratch = new Float64Array(8);
  for (let frame = 0; frame < count; frame++) {
    for (let k = 0; k < 3; k++) scratch[k] = allPlaces[own + frame * 3 + k] - allPlaces[upper + frame * 3 + k];
    // Inverse of D of the role above: S0 S(t)^-1.
    writeProduct(scratch, 4, allRotations, turned + frame * 4, undoing(standing, above), 0);
    writeDifference(scratch, 4, scratch, 4, [0, 0, 0, 1], 0);
    writeRotated(scratch, 0, scratch, 4, scratch, 0);
    for (let k = 0; k < 3; k++) out[(from + frame) * 3 + k] = (scratch[k] - rest[k]) / leg;
  }
}

/** Whether a clip moves or turns a bone at all. */
const movesItself = (clip: ClipTracks, { rig }: FittedRig, bone: number): boolean =>
  clip.tracks.some(
    (track) => track.bone === bone && track.path !== 'scale' && saysMore(track, rig.bones[bone].rest[track.path], 1e-5),
  );

/** Bones whose joints tell whether a foot or a hand touches: ankle and ball, wrist. */
function touchingBones({ roleBones }: FittedRig): { part: ContactTrack['part']; bone: number }[] {
  const parts = [
    ['leftFoot', 'leftFoot'],
    ['leftFoot', 'leftToes'],
    ['rightFoot', 'rightFoot'],
    ['rightFoot', 'rightToes'],
    ['leftHand', 'leftHand'],
    ['rightHand', 'rightHand'],
  ] as const;
  return parts.flatMap(([part, role]) => {
    const bone = roleBones.get(role);
    return bone === undefined ? [] : [{ part, bone }];
  });
}

function limbsOf(source: FittedRig, { places }: StandingFigure, leg: number): Record<string, number> {
  return Object.fromEntries(
    [...source.roleBones].flatMap(([role, bone]) => {
      const above = roleAbove(source, role);
      const from = above === null ? undefined : source.roleBones.get(above);
      return from === undefined ? [] : [[role, distance(places[bone], places[from]) / leg]];
    }),
  );
}

/** Keys must be numbers and follow one another; a clip whose keys do not cannot be carried. */
function assertSound(clip: ClipTracks, { rig }: FittedRig, place: string): void {
  for (const { bone, times, values, path } of clip.tracks) {
    const where = `${place}, clip "${clip.name}", ${path} of ${rig.bones[bone]?.name ?? `bone ${bone}`}`;
    for (let key = 0; key < times.length; key++) {
      const isLate = key === 0 || times[key] > times[key - 1];
      if (Number.isFinite(times[key]) && isLate) continue;
      throw badKeys(`Key ${key} does not come after the one before it.`, `${where}, frame ${key}`);
    }
    const perKey = times.length === 0 ? 1 : values.length / times.length;
    const at = firstUndefined(values);
    if (at >= 0) throw badKeys('A key holds a value that is no number.', `${where}, frame ${Math.floor(at / perKey)}`);
    if (!Number.isInteger(perKey) || perKey < 3)
      throw badKeys(`${times.length} keys have ${values.length} values.`, where);
  }
}

/** A loop, since a call for each of millions of values takes longer than carrying them. */
function firstUndefined(values: Float32Array): number {
  // Only what is a number is nothing less itself.
  for (let at = 0; at < values.length; at++) if (values[at] - values[at] !== 0) return at;
  return -1;
}

const badKeys = (message: string, place: string): YarvoError =>
  new YarvoError({
    code: 'bad-keys',
    message,
    place,
    remedy: 'Bake the clip to one key a frame in the source and export it again.',
  });

const noFigure = (place: string): YarvoError =>
  new YarvoError({
    code: 'no-figure',
    message: 'The motion moves no figure: no hips were found.',
    place,
    remedy: 'Give a motion of a figure with hips, two legs and two arms, or match its bones by hand.',
  });
