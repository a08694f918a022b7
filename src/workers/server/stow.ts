import { createHash } from 'node:crypto';
import { mkdir, open, writeFile } from 'node:fs/promises';
import path from 'node:path';

/**
 * Large arrays of a message go by file: over a channel between processes they would be copied several times on the
 * thread that sends and on the one that receives, which for 256 MB keeps a server from answering for a second.
 */
const LARGE_BYTES = 256 * 1024;
/** Read and hashed at a time, with others served in between. */
const PIECE_BYTES = 1024 * 1024;

const KINDS = { Uint8Array, Int8Array, Uint16Array, Int16Array, Uint32Array, Int32Array, Float32Array, Float64Array };
type Kind = keyof typeof KINDS;
type AnyArray = InstanceType<(typeof KINDS)[Kind]>;

/** Where an array belongs in a message, and the file that it lies in meanwhile. */
export interface Stowed {
  /** Keys from the message's top. */
  readonly at: readonly (string | number)[];
  readonly file: string;
  readonly kind: Kind;
}

export interface StowedMessage {
  readonly value: unknown;
  readonly stowed: readonly Stowed[];
}

/**
 * A message without its large arrays, which are written into `folder`; the folder is made where it is needed. The message
 * itself is not changed. Where they belong is said beside the message, so nothing in a message can name a file.
 */
export async function stow(message: unknown, folder: string): Promise<StowedMessage> {
  const stowed: Stowed[] = [];
  const files = new Map<AnyArray, string>();
  const strip = (value: unknown, at: readonly (string | number)[]): unknown => {
    if (value === null || typeof value !== 'object') return value;
    const kind = kindOf(value);
    if (kind) {
      const array = value as AnyArray;
      if (array.byteLength < LARGE_BYTES) return value;
      const file = files.get(array) ?? path.join(folder, String(files.size));
      files.set(array, file);
      stowed.push({ at, file, kind });
      return null;
    }
    if (Array.isArray(value)) return mapped(value, at);
    if (Object.getPrototypeOf(value) !== Object.prototype) return value;
    let copy: Record<string, unknown> | null = null;
    for (const [key, held] of Object.entries(value)) {
      const stripped = strip(held, [...at, key]);
      if (stripped === held) continue;
      copy ??= { ...value };
      copy[key] = stripped;
    }
    return copy ?? value;
  };
  const mapped = (list: readonly unknown[], at: readonly (string | number)[]): readonly unknown[] => {
    // Lists of numbers are many and hold nothing to strip.
    if (typeof list[0] === 'number') return list;
    const copy = list.map((held, index) => strip(held, [...at, index]));
    return copy.some((held, index) => held !== list[index]) ? copy : list;
  };
  const value = strip(message, []);
  if (files.size > 0) await mkdir(folder, { recursive: true, mode: 0o700 });
  for (const [{ buffer, byteOffset, byteLength }, file] of files)
    await writeFile(file, new Uint8Array(buffer, byteOffset, byteLength), { mode: 0o600 });
  return { value, stowed };
}

const kindOf = (value: object): Kind | null => {
  if (!ArrayBuffer.isView(value) || value instanceof DataView) return null;
  // A Buffer is one of bytes.
  if (value instanceof Uint8Array) return 'Uint8Array';
  const { name } = value.constructor;
  return name in KINDS ? (name as Kind) : null;
};

/**
 * The message as it was before its arrays were stowed. Each array lies at the start of a buffer of its own.
 * @param onBytes told of each array of bytes with its SHA-256, hexadecimal.
 */
export async function unstow(
  { value, stowed }: StowedMessage,
  onBytes?: (bytes: Uint8Array, hash: string) => void,
): Promise<unknown> {
  const arrays = new Map<string, AnyArray>();
  let whole = value;
  for (const { at, file, kind } of stowed) {
    const array = arrays.get(file) ?? (await read(file, kind, onBytes));
    arrays.set(file, array);
    if (at.length === 0) whole = array;
    else put(whole as Record<string | number, unknown>, at, array);
  }
  return whole;
}

function put(top: Record<string | number, unknown>, at: readonly (string | number)[], array: AnyArray): void {
  let holder = top;
  for (const key of at.slice(0, -1)) holder = holder[key] as Record<string | number, unknown>;
  holder[at[at.length - 1]] = array;
}

async function read(file: string, kind: Kind, onBytes?: (bytes: Uint8Array, hash: string) => void): Promise<AnyArray> {
  const handle = await open(file, 'r');
  try {
    const { size } = await handle.stat();
    const bytes = new Uint8Array(size);
    const hash = onBytes && kind === 'Uint8Array' ? createHash('sha256') : null;
    for (let at = 0; at < size;) {
      const { bytesRead } = await handle.read(bytes, at, Math.min(PIECE_BYTES, size - at), at);
      if (bytesRead === 0) throw new Error(`${file} is cut short`);
      hash?.update(bytes.subarray(at, at + bytesRead));
      at += bytesRead;
    }
    if (hash) onBytes?.(bytes, hash.digest('hex'));
    return kind === 'Uint8Array' ? bytes : new KINDS[kind](bytes.buffer);
  } finally {
    await handle.close();
  }
}
