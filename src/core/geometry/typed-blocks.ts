import { YarvoError } from '../errors/yarvo-error';

const TYPES = {
  f32: Float32Array,
  u16: Uint16Array,
  u32: Uint32Array,
} as const;
type TypeName = keyof typeof TYPES;
type NumberBlock = Float32Array | Uint16Array | Uint32Array;

/** Where an array stands in a block: type, first byte after the head, how many values. */
interface ArrayPlace {
  readonly type: TypeName;
  readonly at: number;
  readonly length: number;
}

const MAGIC = 0x31425659; // "YVB1", little-endian
const HEAD_BYTES = 8;
const ALIGNMENT = 8;
const padded = (bytes: number): number => Math.ceil(bytes / ALIGNMENT) * ALIGNMENT;

const typeOf = (array: NumberBlock): TypeName =>
  array instanceof Float32Array ? 'f32' : array instanceof Uint16Array ? 'u16' : 'u32';

/**
 * A value of plain data and typed arrays as one binary block: magic number and length of the JSON (two 32-bit numbers,
 * little-endian), the JSON with each array in place of `{ $array: n }`, then the arrays, each at a multiple of 8 bytes.
 * Documented in docs/formats.md.
 */
export function encodeBlock(value: unknown): Uint8Array {
  const arrays: NumberBlock[] = [];
  const places: ArrayPlace[] = [];
  // A mesh that stands in two places shares its arrays.
  const known = new Map<NumberBlock, number>();
  let bytes = 0;
  const body = JSON.stringify(value, (_, part: unknown) => {
    if (!(part instanceof Float32Array || part instanceof Uint16Array || part instanceof Uint32Array)) return part;
    const shared = known.get(part);
    if (shared !== undefined) return { $array: shared };
    places.push({ type: typeOf(part), at: bytes, length: part.length });
    bytes += padded(part.byteLength);
    known.set(part, arrays.length);
    return { $array: arrays.push(part) - 1 };
  });
  const json = new TextEncoder().encode(JSON.stringify({ places, body: JSON.parse(body) as unknown }));
  const start = padded(HEAD_BYTES + json.length);
  const out = new Uint8Array(start + bytes);
  const head = new DataView(out.buffer);
  head.setUint32(0, MAGIC, true);
  head.setUint32(4, json.length, true);
  out.set(json, HEAD_BYTES);
  arrays.forEach((array, index) => {
    out.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), start + places[index].at);
  });
  return out;
}

/** The value of a block; its arrays are views of the given bytes. @throws {YarvoError} `damaged-block` */
export function decodeBlock(bytes: Uint8Array): unknown {
  const damaged = (what: string) =>
    new YarvoError({
      code: 'damaged-block',
      message: `The block ${what}.`,
      place: 'block',
      remedy: 'Read the character again.',
    });
  // Arrays are laid over the bytes, so these must stand at a multiple of 8.
  const own = bytes.byteOffset % ALIGNMENT === 0 ? bytes : Uint8Array.from(bytes);
  if (own.length < HEAD_BYTES) throw damaged('is shorter than its head');
  const head = new DataView(own.buffer, own.byteOffset);
  if (head.getUint32(0, true) !== MAGIC) throw damaged('does not start as one');
  const jsonBytes = head.getUint32(4, true);
  if (HEAD_BYTES + jsonBytes > own.length) throw damaged('is cut short');
  const { places, body } = JSON.parse(new TextDecoder().decode(own.subarray(HEAD_BYTES, HEAD_BYTES + jsonBytes))) as {
    places: readonly ArrayPlace[];
    body: unknown;
  };
  const start = padded(HEAD_BYTES + jsonBytes);
  const arrays = places.map(({ type, at, length }) => {
    const Type = TYPES[type];
    if (start + at + length * Type.BYTES_PER_ELEMENT > own.length) throw damaged('is cut short');
    return new Type(own.buffer as ArrayBuffer, own.byteOffset + start + at, length);
  });
  return withArrays(body, arrays);
}

function withArrays(part: unknown, arrays: readonly NumberBlock[]): unknown {
  if (Array.isArray(part)) return part.map((item) => withArrays(item, arrays));
  if (typeof part !== 'object' || part === null) return part;
  if ('$array' in part) return arrays[part.$array as number];
  return Object.fromEntries(Object.entries(part).map(([key, value]) => [key, withArrays(value, arrays)]));
}
