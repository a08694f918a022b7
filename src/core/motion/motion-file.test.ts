import { describe, expect, it } from 'vitest';
import { YarvoError } from '../errors/yarvo-error';
import type { Motion } from './motion';
import { decodeMotion, encodeMotion } from './motion-file';

const floats = (count: number, from = 0) => Float32Array.from({ length: count }, (_, at) => Math.sin(at + from));
const motion = (): Motion => ({
  name: 'over the gangway',
  definition: { id: 'quay', version: 3 },
  framesPerSecond: 30,
  frameCount: 5,
  slots: [
    { line: 'trunk', role: 'hips', u: 0 },
    { line: 'trunk', role: null, u: 0.5 },
  ],
  legMetres: 0.84,
  limbs: { spine: 0.1 },
  contacts: [{ part: 'leftFoot', from: 0, to: 3 }],
  rotations: floats(40),
  hips: floats(15, 1),
  root: { places: floats(15, 2), rotations: floats(20, 3) },
  shifts: [{ role: 'leftLowerArm', values: floats(15, 4) }],
  morphs: [{ name: 'blink', weights: floats(5, 5) }],
  own: {
    signature: '12-abc',
    groundMetres: 0.9,
    bones: [{ path: '/hips/skirt', rotations: floats(20, 6), translations: null, scales: floats(15, 7) }],
    morphs: [{ nodeIndex: 4, count: 2, weights: floats(10, 8) }],
  },
});
const problemOf = (work: () => unknown) => {
  try {
    work();
  } catch (error) {
    if (error instanceof YarvoError) return error.problem;
    throw error;
  }
  throw new Error('nothing was refused');
};

describe('a motion file', () => {
  it('is read as it was written, also from the middle of a larger buffer', () => {
    const bytes = encodeMotion(motion());
    expect(decodeMotion(bytes)).toEqual(motion());
    const larger = new Uint8Array(bytes.length + 3);
    larger.set(bytes, 3);
    expect(decodeMotion(larger.subarray(3))).toEqual(motion());
  });

  it('is refused where it is cut, changed or no motion, with what and where', () => {
    const bytes = encodeMotion(motion());
    expect(problemOf(() => decodeMotion(bytes.subarray(0, bytes.length - 4), 'a.yarvomotion')).message).toContain(
      'cut short',
    );
    expect(problemOf(() => decodeMotion(new Uint8Array(40))).code).toBe('bad-motion-file');
    const other = bytes.slice();
    other.set(new TextEncoder().encode('"frameCount":6'), new TextDecoder().decode(bytes).indexOf('"frameCount":5'));
    expect(problemOf(() => decodeMotion(other)).message).toContain('6 frames need');
    const broken = encodeMotion({
      ...motion(),
      hips: Float32Array.from({ length: 15 }, (_, at) => (at === 7 ? NaN : 0)),
    });
    expect(problemOf(() => decodeMotion(broken, 'b.yarvomotion')).place).toBe('b.yarvomotion, hips, frame 2');
  });
});
