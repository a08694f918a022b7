import { inflateSync } from 'node:zlib';
import { spendBytes } from '@/core/errors/byte-budget';
import { FBX_LIMITS, fbxError, type FbxFile, type FbxNode, type FbxValue } from './fbx-tree';

const MAGIC = 'Kaydara FBX Binary  \0';
const HEADER_BYTES = 27;
/** Deflate shrinks by no more than this (RFC 1951: a code of two bits for 258 bytes). */
const MOST_DEFLATE_RATIO = 1032;
/** From this version on, lengths have eight bytes. */
const LONG_LENGTHS_FROM = 7500;

/** The magic without its closing bytes: a binary file whatever happened to the rest of it. */
export const looksBinaryFbx = (bytes: Uint8Array): boolean =>
  [...MAGIC.trimEnd().slice(0, 18)].every((letter, at) => bytes[at] === letter.charCodeAt(0));

export const isBinaryFbx = (bytes: Uint8Array): boolean =>
  bytes.length >= MAGIC.length && [...MAGIC].every((letter, at) => bytes[at] === letter.charCodeAt(0));

/**
 * The record tree of a binary file. Every length is checked against the file before it is used.
 * @throws {YarvoError} naming the byte.
 */
export function readBinaryFbx(bytes: Uint8Array, file: string): FbxFile {
  if (bytes.length < HEADER_BYTES)
    throw fbxError(
      'truncated',
      'The file ends inside its header.',
      `${file}, byte ${bytes.length}`,
      'Copy or export the file again; it was cut off.',
    );
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const version = view.getUint32(23, true);
  const reader = new BinaryReader(bytes, view, file, version >= LONG_LENGTHS_FROM);
  const roots: FbxNode[] = [];
  let at = HEADER_BYTES;
  for (;;) {
    // Some writers leave the closing empty record out when the footer is missing too.
    if (at >= bytes.length)
      throw fbxError(
        'truncated',
        'The file ends before its record tree does.',
        `${file}, byte ${bytes.length}`,
        'Copy or export the file again; it was cut off.',
      );
    const { node, end } = reader.node(at, 0, bytes.length);
    if (!node) break;
    roots.push(node);
    at = end;
  }
  return { version, encoding: 'binary', roots };
}

class BinaryReader {
  private count = 0;
  private arrayBytes = 0;
  private readonly text = new TextDecoder('utf-8');

  constructor(
    private readonly bytes: Uint8Array,
    private readonly view: DataView,
    private readonly file: string,
    private readonly isLong: boolean,
  ) {}

  private fail(code: string, message: string, at: number): never {
    throw fbxError(code, message, `${this.file}, byte ${at}`);
  }

  private need(at: number, length: number, end: number): void {
    if (!(length >= 0) || at + length > end)
      this.fail('bad-length', `${length} bytes are promised here, ${Math.max(0, end - at)} are left.`, at);
  }

  /** The record at `at`, or null for the empty one that closes a list; `end` is where the next one starts. */
  node(at: number, depth: number, limit: number): { node: FbxNode | null; end: number } {
    const size = this.isLong ? 8 : 4;
    this.need(at, size * 3 + 1, limit);
    const length = (place: number) =>
      this.isLong ? Number(this.view.getBigUint64(place, true)) : this.view.getUint32(place, true);
    const [end, valueCount, valueBytes] = [length(at), length(at + size), length(at + size * 2)];
    const nameLength = this.bytes[at + size * 3];
    const start = at + size * 3 + 1;
    if (end === 0) return { node: null, end: start };
    if (end > limit || end < start)
      this.fail('bad-length', `The record ends at byte ${end}, outside of what holds it.`, at);
    if (depth > FBX_LIMITS.depth) this.fail('too-deep', `Records are nested more than ${FBX_LIMITS.depth} deep.`, at);
    if (++this.count > FBX_LIMITS.nodes) this.fail('too-many', `More than ${FBX_LIMITS.nodes} records.`, at);
    this.need(start, nameLength + valueBytes, end);
    const name = this.text.decode(this.bytes.subarray(start, start + nameLength));
    const valueStart = start + nameLength;
    const values = this.values(valueStart, valueStart + valueBytes, valueCount);
    const children: FbxNode[] = [];
    for (let childAt = valueStart + valueBytes; childAt < end;) {
      const child = this.node(childAt, depth + 1, end);
      if (child.node) children.push(child.node);
      childAt = child.node ? child.end : end;
    }
    return { node: { name, values, children, place: `${this.file}, byte ${at}` }, end };
  }

  private values(start: number, end: number, count: number): FbxValue[] {
    const values: FbxValue[] = [];
    let at = start;
    for (let index = 0; index < count; index++) {
      this.need(at, 1, end);
      const type = String.fromCharCode(this.bytes[at++]);
      const fixed = { Y: 2, C: 1, B: 1, I: 4, F: 4, D: 8, L: 8 }[type];
      if (fixed !== undefined) {
        this.need(at, fixed, end);
        values.push(this.scalar(type, at));
        at += fixed;
      } else if (type === 'S' || type === 'R') {
        this.need(at, 4, end);
        const length = this.view.getUint32(at, true);
        this.need(at + 4, length, end);
        const content = this.bytes.subarray(at + 4, at + 4 + length);
        values.push(type === 'S' ? this.text.decode(content) : content);
        at += 4 + length;
      } else if ('fdilbc'.includes(type)) {
        this.need(at, 12, end);
        const packed = this.view.getUint32(at + 8, true);
        this.need(at + 12, packed, end);
        values.push(this.array(type, at, packed));
        at += 12 + packed;
      } else this.fail('bad-value', `A value of the unknown type "${type}".`, at - 1);
    }
    return values;
  }

  private scalar(type: string, at: number): FbxValue {
    switch (type) {
      case 'Y':
        return this.view.getInt16(at, true);
      case 'C':
      case 'B':
        return this.bytes[at] !== 0 && this.bytes[at] !== 0x46;
      case 'I':
        return this.view.getInt32(at, true);
      case 'F':
        return this.view.getFloat32(at, true);
      case 'D':
        return this.view.getFloat64(at, true);
      default: {
        const value = this.view.getBigInt64(at, true);
        return value >= Number.MIN_SAFE_INTEGER && value <= Number.MAX_SAFE_INTEGER ? Number(value) : value;
      }
    }
  }

  private array(type: string, at: number, packed: number): FbxValue {
    const count = this.view.getUint32(at, true);
    const encoding = this.view.getUint32(at + 4, true);
    const size = { f: 4, d: 8, i: 4, l: 8, b: 1, c: 1 }[type] as number;
    // The claim is judged before anything is allocated for it.
    if (encoding === 0 ? count * size > packed : encoding === 1 && count * size > packed * MOST_DEFLATE_RATIO) {
      this.fail('bad-length', `An array claims ${count} numbers, more than its ${packed} bytes can hold.`, at);
    }
    this.arrayBytes += count * size;
    if (this.arrayBytes > FBX_LIMITS.arrayBytes)
      this.fail('too-large', `Its arrays unpack to more than ${FBX_LIMITS.arrayBytes / 1024 / 1024} MB.`, at);
    // Unpacked, copied, and handed to the document.
    spendBytes(count * size * 2, `${this.file}, byte ${at}`);
    let content: Uint8Array = this.bytes.subarray(at + 12, at + 12 + packed);
    if (encoding === 1) {
      try {
        content = inflateSync(content, { maxOutputLength: Math.max(1, count * size) });
      } catch (error) {
        this.fail('bad-compression', `A packed array cannot be unpacked: ${(error as Error).message}.`, at);
      }
    } else if (encoding !== 0) this.fail('bad-value', `An array with the unknown encoding ${encoding}.`, at);
    if (content.length < count * size)
      this.fail('bad-length', `An array of ${count} numbers has ${content.length} bytes.`, at);
    // A copy of its own: what inflate returns may lie in a shared pool, at any offset.
    const aligned = Uint8Array.from(content.subarray(0, count * size)).buffer;
    switch (type) {
      case 'f':
        return new Float32Array(aligned);
      case 'd':
        return new Float64Array(aligned);
      case 'i':
        return new Int32Array(aligned);
      case 'l':
        return Float64Array.from(new BigInt64Array(aligned), Number);
      default:
        return Int32Array.from(new Uint8Array(aligned));
    }
  }
}
