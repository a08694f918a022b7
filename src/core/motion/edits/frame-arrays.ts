import { keepSign, writeSlerp } from '../../math/quat-arrays';
import { contactAt, type Contact, type Motion } from '../motion';

/** Some numbers for each frame of a motion; turns are quaternions side by side. */
export interface FrameArray {
  readonly values: Float32Array;
  /** Numbers a frame. */
  readonly size: number;
  readonly isTurns: boolean;
}

/** The motion with every array that runs over its frames changed in the same way; contacts stay as they are. */
export function mapFrameArrays(motion: Motion, change: (array: FrameArray) => Float32Array): Motion {
  const numbers = (values: Float32Array, size: number) => change({ values, size, isTurns: false });
  const turns = (values: Float32Array, size: number) => change({ values, size, isTurns: true });
  const rotations = turns(motion.rotations, motion.slots.length * 4);
  const { root, own } = motion;
  return {
    ...motion,
    frameCount: rotations.length / Math.max(1, motion.slots.length * 4),
    rotations,
    hips: numbers(motion.hips, 3),
    root: root && { places: numbers(root.places, 3), rotations: turns(root.rotations, 4) },
    shifts: motion.shifts.map((shift) => ({ ...shift, values: numbers(shift.values, 3) })),
    morphs: motion.morphs.map((morph) => ({ ...morph, weights: numbers(morph.weights, 1) })),
    own: own && {
      ...own,
      bones: own.bones.map((bone) => ({
        ...bone,
        rotations: bone.rotations && turns(bone.rotations, 4),
        translations: bone.translations && numbers(bone.translations, 3),
        scales: bone.scales && numbers(bone.scales, 3),
      })),
      morphs: own.morphs.map((morph) => ({ ...morph, weights: numbers(morph.weights, morph.count) })),
    },
  };
}

/**
 * The motion as it is at some of its moments, one after another, contacts too.
 * @param moments frames, also between two: turns by the shorter arc, numbers straight.
 */
export function atMoments(motion: Motion, moments: ArrayLike<number>): Motion {
  const last = motion.frameCount - 1;
  const sampled = mapFrameArrays(motion, ({ values, size, isTurns }) => {
    const out = new Float32Array(moments.length * size);
    for (let frame = 0; frame < moments.length; frame++) {
      const moment = Math.max(0, Math.min(last, moments[frame]));
      const low = Math.floor(moment);
      const share = moment - low;
      const [a, b, at] = [low * size, Math.min(last, low + 1) * size, frame * size];
      if (!isTurns)
        for (let k = 0; k < size; k++) out[at + k] = values[a + k] + (values[b + k] - values[a + k]) * share;
      else if (share === 0) out.set(values.subarray(a, a + size), at);
      else for (let k = 0; k < size; k += 4) writeSlerp(out, at + k, values, a + k, values, b + k, share);
    }
    if (isTurns) keepSigns(out, size);
    return out;
  });
  return { ...sampled, contacts: contactsAt(motion.contacts, moments) };
}

/** Signs continuous over the frames: q and -q are one turn, but not halfway between two keys. */
export function keepSigns(values: Float32Array, size: number): void {
  for (let at = size; at < values.length; at += 4) keepSign(values, at, at - size);
}

function contactsAt(contacts: readonly Contact[], moments: ArrayLike<number>): Contact[] {
  const parts = [...new Set(contacts.map(({ part }) => part))];
  return parts.flatMap((part) => {
    const out: Contact[] = [];
    let open: { from: number; span: Contact } | null = null;
    for (let frame = 0; frame <= moments.length; frame++) {
      const moment = frame < moments.length ? moments[frame] : NaN;
      const span = contactAt(contacts, part, moment);
      if (open && span !== open.span) {
        out.push({ ...open.span, from: open.from, to: frame - 1 });
        open = null;
      }
      if (span && !open) open = { from: frame, span };
    }
    return out;
  });
}
