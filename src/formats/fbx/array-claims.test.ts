import { readFileSync } from 'node:fs';
import path from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { startByteBudget } from '@/core/errors/byte-budget';
import { refusalOf } from '../../../tests/helpers/refusal';
import { readBinaryFbx } from './read-binary';

const CRANE = new Uint8Array(readFileSync(path.resolve(import.meta.dirname, '../../../tests/fuzz/crane-binary.fbx')));
const HEADER_BYTES = 13;

/** Where an array stands whose content is packed (encoding 1) or plain (0): its type, count, encoding and length. */
function findArray(encoding: 0 | 1): number {
  const view = new DataView(CRANE.buffer, CRANE.byteOffset, CRANE.byteLength);
  for (let at = 27; at + HEADER_BYTES < CRANE.length; at++) {
    if (!'di'.includes(String.fromCharCode(CRANE[at])) || view.getUint32(at + 5, true) !== encoding) continue;
    const [count, length] = [view.getUint32(at + 1, true), view.getUint32(at + 9, true)];
    const size = CRANE[at] === 0x64 ? 8 : 4;
    const isArray =
      encoding === 0
        ? length === count * size && count > 2
        : CRANE[at + HEADER_BYTES] === 0x78 && count > 2 && at + HEADER_BYTES + length < CRANE.length;
    if (isArray) return at;
  }
  return -1;
}

function withCount(at: number, count: number): Uint8Array {
  const bytes = CRANE.slice();
  new DataView(bytes.buffer).setUint32(at + 1, count, true);
  return bytes;
}

afterEach(() => startByteBudget(Infinity));

describe('an array that claims more than its bytes can hold', () => {
  it.each([0, 1] as const)('(encoding %i) is refused before anything is allocated for it', (encoding) => {
    const at = findArray(encoding);
    if (at < 0) return expect(encoding, 'the file has arrays of one kind at least').not.toBe(findArray(0) < 0 ? 1 : 0);
    const before = process.memoryUsage().arrayBuffers;
    const refusal = refusalOf(() => readBinaryFbx(withCount(at, 134_217_728), 'crane.fbx'));
    expect(refusal).toMatchObject({
      code: 'bad-length',
      message: expect.stringMatching(/claims 134217728 numbers, more than its \d+ bytes can hold/) as string,
      place: expect.stringMatching(/^crane\.fbx, byte \d+$/) as string,
    });
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(64 * 1024 * 1024);
  });

  it('counts against the memory of the worker, whatever it claims', () => {
    startByteBudget(100);
    expect(refusalOf(() => readBinaryFbx(CRANE, 'crane.fbx'))).toMatchObject({
      code: 'too-much-memory',
      message: expect.stringContaining('for its arrays') as string,
    });
    startByteBudget(64 * 1024 * 1024);
    expect(readBinaryFbx(CRANE, 'crane.fbx').roots.length).toBeGreaterThan(3);
  });
});
