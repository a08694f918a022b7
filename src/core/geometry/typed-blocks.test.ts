import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeBlock, encodeBlock } from './typed-blocks';

const numbers = fc.oneof(
  fc.array(fc.float({ noNaN: true }), { maxLength: 40 }).map((values) => Float32Array.from(values)),
  fc.array(fc.nat(65_535), { maxLength: 40 }).map((values) => Uint16Array.from(values)),
  fc.array(fc.nat(0xffff_ffff), { maxLength: 40 }).map((values) => Uint32Array.from(values)),
);

describe('a binary block', () => {
  it('gives back plain data and arrays as they were, wherever its bytes stand', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ name: fc.string(), numbers, deep: fc.array(numbers) })),
        fc.nat(9),
        (value, shift) => {
          const bytes = encodeBlock(value);
          const moved = new Uint8Array(bytes.length + shift);
          moved.set(bytes, shift);
          expect(decodeBlock(moved.subarray(shift))).toEqual(value);
        },
      ),
    );
  });

  it('lays its arrays over the bytes, and keeps one that occurs twice once', () => {
    const shared = new Float32Array(1000).fill(2);
    const bytes = encodeBlock({ a: shared, b: shared });
    expect(bytes.length).toBeLessThan(4400);
    const { a, b } = decodeBlock(bytes) as { a: Float32Array; b: Float32Array };
    expect(a.buffer).toBe(bytes.buffer);
    expect(b[999]).toBe(2);
  });

  it('that is damaged is refused', () => {
    const bytes = encodeBlock({ a: new Uint32Array(50) });
    for (const bad of [
      bytes.subarray(0, 4),
      bytes.subarray(0, 20),
      bytes.subarray(0, bytes.length - 8),
      new Uint8Array(64),
    ])
      expect(() => decodeBlock(bad)).toThrow(/block/i);
  });
});
