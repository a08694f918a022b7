import { keepSigns, mapFrameArrays } from './frame-arrays';
import { writeProduct, writeRotated } from '../../math/quat-arrays';
import { computeHeadings } from '../heading';
import { slotOfRole, type Motion } from '../motion';

/** Heading of the hips at a frame, radians; 0 where the motion does not tell it. */
export function headingAt(motion: Motion, frame: number): number {
  const slot = slotOfRole(motion.slots, 'hips');
  if (slot < 0) return 0;
  const stride = motion.slots.length * 4;
  return computeHeadings(motion.rotations, frame * stride + slot * 4, stride, 1)[0];
}

/** Turns a motion about the upright and moves it over the floor; a rigid change, so that nothing else of it does. */
function placed(motion: Motion, angle: number, dx: number, dz: number): Motion {
  const turn = [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)];
  const moved = (values: Float32Array): Float32Array => {
    const out = new Float32Array(values.length);
    for (let at = 0; at < values.length; at += 3) {
      writeRotated(out, at, turn, 0, values, at);
      out[at] += dx;
      out[at + 2] += dz;
    }
    return out;
  };
  const turned = (values: Float32Array, size: number): Float32Array => {
    const out = new Float32Array(values.length);
    for (let at = 0; at < values.length; at += 4) writeProduct(out, at, turn, 0, values, at);
    keepSigns(out, size);
    return out;
  };
  const { root } = motion;
  return {
    ...motion,
    rotations: turned(motion.rotations, motion.slots.length * 4),
    hips: moved(motion.hips),
    root: root && { places: moved(root.places), rotations: turned(root.rotations, 4) },
  };
}

/** Turned and moved so that its hips at a frame face and stand as those of another motion do at one of its frames. */
export function placedAfter(motion: Motion, frame: number, before: Motion, frameBefore: number): Motion {
  const angle = headingAt(before, frameBefore) - headingAt(motion, frame);
  const turned = placed(motion, angle, 0, 0);
  const dx = before.hips[frameBefore * 3] - turned.hips[frame * 3];
  const dz = before.hips[frameBefore * 3 + 2] - turned.hips[frame * 3 + 2];
  // Heights stay: both stand on the floor.
  return placed(turned, 0, dx, dz);
}

/** How unlike two motions of the same slots stand at two frames: root mean square of the turns between, radians. */
export function poseDistance(a: Motion, frameA: number, b: Motion, frameB: number): number {
  const count = a.slots.length;
  const angle = headingAt(a, frameA) - headingAt(b, frameB);
  const turn = [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)];
  const faced = new Float64Array(4);
  let sum = 0;
  for (let slot = 0; slot < count; slot++) {
    const [at, bt] = [(frameA * count + slot) * 4, (frameB * count + slot) * 4];
    writeProduct(faced, 0, turn, 0, b.rotations, bt);
    let cosine = 0;
    for (let k = 0; k < 4; k++) cosine += a.rotations[at + k] * faced[k];
    sum += (2 * Math.acos(Math.min(1, Math.abs(cosine)))) ** 2;
  }
  return Math.sqrt(sum / Math.max(1, count));
}

/** Only what all motions have: tracks of a skeleton of its own cannot be joined with another's. */
export const withoutOwn = (motion: Motion): Motion => (motion.own ? { ...motion, own: null } : motion);

/** The frames of a span, as they are. */
export function cut(motion: Motion, from: number, to: number): Motion {
  const count = to - from + 1;
  return {
    ...mapFrameArrays(motion, ({ values, size }) => values.slice(from * size, (from + count) * size)),
    contacts: motion.contacts.flatMap((contact) => {
      const [start, end] = [Math.max(from, contact.from) - from, Math.min(to, contact.to) - from];
      return start > end ? [] : [{ ...contact, from: start, to: end }];
    }),
  };
}
