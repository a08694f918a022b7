import { crc32, deflateRawSync } from 'node:zlib';
import { zipSync } from 'fflate';
import { afterEach, describe, expect, it } from 'vitest';
import { startByteBudget } from '@/core/errors/byte-budget';
import { refusalOf } from '../../../tests/helpers/refusal';
import { unzip, ZIP_LIMITS } from './unzip';

const text = (content: string) => new TextEncoder().encode(content);
const WALK = text('HIERARCHY '.repeat(400));
const read = (bytes: Uint8Array, now?: () => number) => unzip(bytes, 'pack.zip', now);
const refused = (bytes: Uint8Array, now?: () => number) => refusalOf(() => read(bytes, now));

interface Entry {
  readonly name: string;
  readonly content: Uint8Array;
  readonly crc?: number;
  readonly size?: number;
  readonly method?: number;
  readonly flags?: number;
  /** Reads the bytes of the entry at this index instead of its own. */
  readonly over?: number;
}

/** A zip written byte by byte, so that each field can lie. Source: APPNOTE 6.3.10. */
function zipOf(entries: readonly Entry[], comment = ''): Uint8Array {
  const parts: Buffer[] = [];
  const directory: Buffer[] = [];
  const offsets: number[] = [];
  let at = 0;
  for (const {
    name,
    content,
    crc = crc32(content),
    size = content.length,
    method = 8,
    flags = 0x800,
    over,
  } of entries) {
    const packed = method === 8 ? deflateRawSync(content) : Buffer.from(content);
    const label = Buffer.from(name);
    const fields = Buffer.alloc(26);
    fields.writeUInt16LE(20, 0);
    fields.writeUInt16LE(flags, 2);
    fields.writeUInt16LE(method, 4);
    fields.writeUInt32LE(crc, 10);
    fields.writeUInt32LE(packed.length, 14);
    fields.writeUInt32LE(size, 18);
    fields.writeUInt16LE(label.length, 22);
    const local = Buffer.concat([Buffer.from('PK\x03\x04', 'latin1'), fields, label, packed]);
    offsets.push(over === undefined ? at : offsets[over]);
    if (over === undefined) {
      parts.push(local);
      at += local.length;
    }
    const tail = Buffer.alloc(14);
    tail.writeUInt32LE(offsets[offsets.length - 1], 10);
    directory.push(Buffer.from('PK\x01\x02\x14\0', 'latin1'), fields, tail, label);
  }
  const listed = Buffer.concat(directory);
  const end = Buffer.alloc(22);
  end.write('PK\x05\x06', 'latin1');
  end.writeUInt16LE(entries.length, 8);
  end.writeUInt16LE(entries.length, 10);
  end.writeUInt32LE(listed.length, 12);
  end.writeUInt32LE(at, 16);
  end.writeUInt16LE(comment.length, 20);
  return Uint8Array.from(Buffer.concat([...parts, listed, end, Buffer.from(comment)]));
}

afterEach(() => startByteBudget(Infinity));

describe('a zip that holds', () => {
  it('gives every file with its bytes, packed or stored, whatever stands behind its directory', () => {
    const files = read(
      zipOf(
        [
          { name: 'a/walk.bvh', content: WALK },
          { name: 'märz.bvh', content: text('x'), method: 0 },
        ],
        'a comment',
      ),
    );
    expect(
      files.map(({ path, bytes }) => [
        path,
        Buffer.from(bytes).equals(Buffer.from(path === 'märz.bvh' ? text('x') : WALK)),
      ]),
    ).toEqual([
      ['a/walk.bvh', true],
      ['märz.bvh', true],
    ]);
  });

  it('agrees with another writer of zips on any content', () => {
    for (let seed = 1; seed < 30; seed++) {
      const content = Uint8Array.from({ length: seed * 97 }, (_, at) => (at * seed * 31) % 251);
      const [file] = read(zipSync({ 'a.bin': content }, { level: (seed % 10) as 0 }));
      expect(Buffer.from(file.bytes).equals(Buffer.from(content))).toBe(true);
    }
  });
});

describe('a zip that lies', () => {
  it.each([
    [
      'its checksum',
      [{ name: 'a.bvh', content: WALK, crc: 1 }],
      'bad-zip',
      /"a\.bvh" does not have the checksum that it states/,
    ],
    ['the checksum of a stored file', [{ name: 'a.bvh', content: WALK, crc: 1, method: 0 }], 'bad-zip', /checksum/],
    ['a size that is too small', [{ name: 'a.bvh', content: WALK, size: 100 }], 'bad-zip', /larger than it says/],
    [
      'a size that is too large',
      [{ name: 'a.bvh', content: WALK, size: 5000 }],
      'bad-zip',
      /has 4000 bytes and says 5000/,
    ],
    [
      'two entries over the same bytes',
      [
        { name: 'a.bvh', content: WALK },
        { name: 'b.bvh', content: WALK, over: 0 },
      ],
      'bad-zip',
      /"a\.bvh" and "b\.bvh" lie on one another/,
    ],
    [
      'one name twice',
      [
        { name: 'a.bvh', content: WALK },
        { name: 'a.bvh', content: text('x') },
      ],
      'same-path',
      /twice/,
    ],
    ['a password', [{ name: 'a.bvh', content: WALK, flags: 0x801 }], 'encrypted-zip', /password/],
    ['a packing that nobody knows', [{ name: 'a.bvh', content: WALK, method: 99 }], 'bad-zip', /method 99/],
  ] as [string, Entry[], string, RegExp][])('about %s is refused', (_what, entries, code, message) => {
    expect(refused(zipOf(entries))).toMatchObject({
      code,
      place: 'pack.zip',
      message: expect.stringMatching(message) as string,
    });
  });

  it('at any single byte of its directory is refused, or read as what it was', () => {
    const whole = zipOf([
      { name: 'a.bvh', content: WALK },
      { name: 'b.bvh', content: text('tide') },
    ]);
    const start = whole.length - 22 - 2 * (46 + 5);
    for (let at = start; at < whole.length; at++) {
      const bytes = whole.slice();
      bytes[at] ^= 0xff;
      try {
        for (const file of read(bytes))
          expect(Buffer.from(file.bytes).equals(Buffer.from(file.bytes.length > 4 ? WALK : text('tide')))).toBe(true);
      } catch (error) {
        expect((error as { problem?: { code: string } }).problem?.code, `byte ${at}: ${String(error)}`).toBeDefined();
      }
    }
  });

  it('is given up after a time, and within a budget of memory', () => {
    const zip = zipOf([
      { name: 'a.bvh', content: WALK },
      { name: 'b.bvh', content: WALK },
    ]);
    let clock = 0;
    expect(refused(zip, () => (clock += ZIP_LIMITS.milliseconds)).code).toBe('too-slow');
    startByteBudget(WALK.length * 1.5);
    expect(refused(zip)).toMatchObject({ code: 'too-much-memory', place: 'pack.zip' });
  });
});
