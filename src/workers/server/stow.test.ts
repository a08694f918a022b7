import { createHash } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { serialize } from 'node:v8';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { stow, unstow } from './stow';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-stow-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('a message whose large arrays go by file', () => {
  it('comes back as it was, and is not changed itself', async () => {
    const bytes = Uint8Array.from({ length: 300_001 }, (_, at) => (at * 31) % 256);
    const numbers = Float32Array.from({ length: 100_000 }, (_, at) => at / 3);
    const message = {
      name: 'intake',
      files: [
        { path: 'a', bytes: bytes.subarray(1) },
        { path: 'b', bytes: Uint8Array.of(1, 2) },
      ],
      deep: [{ numbers, again: numbers, few: [1, 2, 3], none: null, map: new Map([[1, ['x']]]) }],
    };
    const parcel = await stow(message, path.join(folder, 'one'));
    expect(message.files[0].bytes).toHaveLength(300_000);
    expect(parcel.stowed.map(({ at }) => at.join('.'))).toEqual(['files.0.bytes', 'deep.0.numbers', 'deep.0.again']);
    expect(new Set(parcel.stowed.map(({ file }) => file)).size).toBe(2);
    const hashes: string[] = [];
    const back = (await unstow(structuredClone(parcel), (_, hash) => hashes.push(hash))) as typeof message;
    expect(Buffer.compare(back.files[0].bytes, message.files[0].bytes)).toBe(0);
    expect(back.files[0].bytes.byteOffset).toBe(0);
    expect(back.files[1]).toEqual(message.files[1]);
    const { numbers: first, again, ...rest } = back.deep[0];
    expect(first).toBeInstanceOf(Float32Array);
    expect(Buffer.compare(new Uint8Array(first.buffer), new Uint8Array(numbers.buffer))).toBe(0);
    expect(again).toBe(first);
    expect(rest).toEqual({ few: [1, 2, 3], none: null, map: new Map([[1, ['x']]]) });
    expect(hashes).toEqual([createHash('sha256').update(message.files[0].bytes).digest('hex')]);
  });

  it('takes nothing that a message says for a place of a file', async () => {
    const sly = { at: ['x'], file: '/etc/hostname', kind: 'Uint8Array', stowed: [{ file: '/etc/hostname' }] };
    expect(await unstow(structuredClone(await stow(sly, path.join(folder, 'two'))))).toEqual(sly);
  });

  it('may be an array alone', async () => {
    const array = new Float64Array(50_000).fill(2);
    const back = await unstow(structuredClone(await stow(array, path.join(folder, 'three'))));
    expect(Buffer.compare(serialize(back), serialize(array))).toBe(0);
  });
});
